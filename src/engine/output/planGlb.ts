/** The plan as a GLB: the canonical model with the assigned materials, cameras and motions. */
import { textureMatrix, textureFilesOf, type TexturedMaterial } from '../../core/materials/customMaterial.js';
import { boxMapped, sizeOfMatrix } from '../../core/model/boxMapping.js';
import type { Model } from '../../core/model/model.js';
import { type Frame, shotIdOfOutput } from '../../core/frame/frame.js';
import { outputName, type SetFile } from '../../core/plan/set.js';
import { readModel } from '../../formats/formats.js';
import { applyMaterials } from '../scene/applyMaterials.js';
import type { TextureImage } from '../scene/attachTextures.js';

/** Images of custom materials that some part has, as textures; where they are mapped by a box, the meshes get such coordinates. */
async function withMaterialTextures(model: Model, load: (file: string) => Promise<TextureImage>): Promise<Model> {
  const inUse = new Set(model.parts.flatMap((p) => p.primitives.map((q) => q.material)));
  const own = model.materials.map((f, i): TexturedMaterial | null => (inUse.has(i) && (f as TexturedMaterial).textureFiles?.length ? f : null));
  const files = textureFilesOf(own.filter((f) => f !== null));
  if (files.length === 0) return model;
  const loaded = await Promise.all(files.map(load));
  const first = model.textures.length;
  const textures = [...model.textures, ...loaded.map((t, i) => ({ ...t, name: files[i]!, wrapU: 'repeat' as const, wrapV: 'repeat' as const }))];
  const byBox = new Set<number>();
  const materials = model.materials.map((material, i) => {
    const pictures = own[i]?.textureFiles;
    if (!pictures) return material;
    if (pictures.some((p) => p.mapping === 'box')) byBox.add(i);
    const uses = pictures.map((p) => {
      const k = files.indexOf(p.file);
      // glTF has no box: the mesh's first coordinates are made by one.
      return [p.slot, { texture: first + k, matrix: textureMatrix(p, loaded[k]!), mapping: p.mapping === 'box' ? ('first' as const) : p.mapping }];
    });
    return { ...material, textures: { ...material.textures, ...Object.fromEntries(uses) } };
  });
  const meshes = [...model.meshes];
  const made = new Map<string, number>();
  const parts = model.parts.map((part) => ({
    ...part,
    primitives: part.primitives.map((p) => {
      if (!byBox.has(p.material)) return p;
      const size = sizeOfMatrix(part.world);
      const key = `${p.mesh}/${size}`;
      let mesh = made.get(key);
      if (mesh === undefined) made.set(key, (mesh = meshes.push(boxMapped(meshes[p.mesh]!, size)) - 1));
      return { ...p, mesh };
    }),
  }));
  return { ...model, textures, materials, meshes, parts };
}

/**
 * `glb` is the canonical model, `frames` the set's whole plan on it, `load` gives pictures on materials. Throws
 * where a material is known nowhere or a picture is not there.
 */
export async function exportPlanGlb(
  set: SetFile,
  glb: Uint8Array,
  frames: readonly Frame[],
  load: (file: string) => Promise<TextureImage>,
): Promise<Uint8Array> {
  const model = await readModel([{ name: `${set.name}.glb`, bytes: glb }], { unit: 'm', up: 'y' });
  const assignments = frames[0]?.materials;
  const resolved = assignments ? applyMaterials(model, assignments) : model;
  // What does not come out in pictures is not handed on.
  const shown = {
    ...resolved,
    parts: resolved.parts.map((p) => (p.renderVisible ? p : { ...p, primitives: [] })),
    curves: resolved.curves.filter((c) => resolved.parts[c.part]!.renderVisible),
  };
  // A camera has no pixels: further sizes of a shot would only double it.
  const main = frames.filter((f) => f.shot === shotIdOfOutput(f.shot));
  const { writePlanGlb } = await import('../../formats/glb/plan.js');
  return writePlanGlb(await withMaterialTextures(shown, load), main, {
    view: (id) => set.views.find((v) => v.id === id)?.name ?? id,
    shot: (id) => outputName(set, id),
  });
}
