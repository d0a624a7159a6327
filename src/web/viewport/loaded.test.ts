import type { Mesh } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { MeshMaker, modelOf } from '../../core/model/meshMaker.js';
import { writeGlb } from '../../formats/glb/write.js';
import { applyMaterials, pathOf } from './applyMaterials.js';
import { prepareModel } from './loaded.js';

const box = (): ReturnType<MeshMaker['mesh']> => new MeshMaker().box([0, 0, 0], [1, 1, 1]).mesh();

describe('a model as the viewport holds it', () => {
  it('keeps context apart from the subject, and helpers out of what renders', async () => {
    const model = modelOf('m', [
      { mesh: box(), material: { name: 'a' } },
      { mesh: box(), material: { name: 'b' } },
      { mesh: box(), material: { name: 'c' } },
    ]);
    model.parts[1]!.isContext = true;
    model.parts[2]!.renderVisible = false;
    const bytes = await writeGlb(model);
    const gltf = await new GLTFLoader().parseAsync(Uint8Array.from(bytes).buffer, '');
    const loaded = prepareModel(gltf.scene);
    const shown = (working: boolean): Record<string, [string, boolean]> => {
      applyMaterials(loaded, undefined, working, undefined, () => undefined);
      const found: Record<string, [string, boolean]> = {};
      for (const group of ['subject', 'isContext'] as const)
        loaded[group].traverse((o) => {
          if ((o as Mesh).isMesh) found[pathOf(o)!] = [group, o.visible];
        });
      return found;
    };
    const [a, b, c] = model.parts.map((p) => p.path) as [string, string, string];
    expect(shown(false)).toEqual({ [a]: ['subject', true], [b]: ['isContext', true], [c]: ['subject', false] });
    // While one works, helpers stay away too until they are asked for.
    expect(shown(true)[c]).toEqual(['subject', false]);
  });
});
