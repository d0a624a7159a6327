import type { Mesh } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { type MaterialAssignments, materialAssignmentsSchema } from '../../core/materials/assignments.js';
import { MeshMaker, modelOf } from '../../core/model/meshMaker.js';
import { writeGlb } from '../../formats/glb/write.js';
import { applyMaterials, pathOf } from './applyMaterials.js';
import { ghostMaterial, type Loaded, prepareModel } from './loaded.js';

const box = (): ReturnType<MeshMaker['mesh']> => new MeshMaker().box([0, 0, 0], [1, 1, 1]).mesh();

/** Where the mesh of a part stands. */
function matrixOf({ subject, isContext }: Loaded, path: string): number[] {
  let found: number[] = [];
  for (const group of [subject, isContext])
    group.traverse((o) => {
      if ((o as Mesh).isMesh && pathOf(o) === path) {
        o.updateWorldMatrix(true, false);
        found = o.matrixWorld.elements.map((v) => Number(v.toFixed(6)));
      }
    });
  return found;
}

describe('a model as the viewport holds it', () => {
  it('keeps context apart from the subject, and helpers out of what renders', async () => {
    const model = modelOf('m', [
      { mesh: box(), material: { name: 'a' } },
      { mesh: box(), material: { name: 'b' } },
      { mesh: box(), material: { name: 'c' } },
    ]);
    model.parts[0]!.place.translation = [3, 0, 1];
    model.parts[1]!.isContext = true;
    model.parts[2]!.renderVisible = false;
    const bytes = await writeGlb(model);
    const gltf = await new GLTFLoader().parseAsync(Uint8Array.from(bytes).buffer, '');
    const loaded = prepareModel(gltf.scene);
    const shown = (working: boolean, choice?: MaterialAssignments): Record<string, [string, boolean]> => {
      applyMaterials(loaded, choice, working, undefined, () => undefined);
      const found: Record<string, [string, boolean]> = {};
      for (const group of ['subject', 'isContext'] as const)
        loaded[group].traverse((o) => {
          if ((o as Mesh).isMesh) found[pathOf(o)!] = [group, o.visible];
        });
      return found;
    };
    const [a, b, c] = model.parts.map((p) => p.path) as [string, string, string];
    expect(shown(false)).toEqual({ [a]: ['subject', true], [b]: ['isContext', true], [c]: ['subject', false] });
    // A set may have it otherwise; a part keeps its place, and goes back to where it hung.
    const swap = materialAssignmentsSchema.parse({
      parts: [
        { path: a, isContext: true },
        { path: b, isContext: false },
      ],
    });
    const places = (): number[][] => [a, b].map((path) => matrixOf(loaded, path));
    const before = places();
    expect(shown(false, swap)).toMatchObject({ [a]: ['isContext', true], [b]: ['subject', true] });
    expect(places()).toEqual(before);
    expect(shown(false)).toMatchObject({ [a]: ['subject', true], [b]: ['isContext', true] });
    expect(places()).toEqual(before);
    // Another revision laid over it is a clone of what it holds.
    expect(ghostMaterial(loaded).children.length).toBe(loaded.subject.children.length);
    // While one works, helpers stay away too until they are asked for.
    expect(shown(true)[c]).toEqual(['subject', false]);
  });
});
