/** Stands a compiled scene up as a set wants it: every part moved, and a plinth put under it. Meshes and trees stay. */
import { mat4 } from 'gl-matrix';
import { findMaterial } from '../../core/materials/assignments.js';
import { identity, matrixOf, numbersOf } from '../../core/math/matrix.js';
import { DEFAULT_MATERIAL, type Material, VISIBLE_TO_ALL } from '../../core/model/model.js';
import { type ResolvedTransform, plinthMesh } from '../../core/model/modelTransform.js';
import { compile, type CompiledScene, type MeshEntry } from './compile.js';

/** Trees are read 16 bytes at a time. */
const ALIGN = 64;

/** Path of the plinth among the parts. */
export const PLINTH = 'Plinth';

/** Joins what was compiled apart: the second's offsets are moved behind the first's image. */
function withMeshes(scene: CompiledScene, other: CompiledScene): CompiledScene {
  const start = Math.ceil(scene.image.length / ALIGN) * ALIGN;
  const image = new Uint8Array(start + other.image.length);
  image.set(scene.image);
  image.set(other.image, start);
  const moved = (offset: number): number => (offset >= 0 ? offset + start : offset);
  const meshes = other.meshes.map((m): MeshEntry => ({
    ...m,
    tree: moved(m.tree),
    index: moved(m.index),
    position: moved(m.position),
    normal: moved(m.normal),
    uv: moved(m.uv),
    secondUv: moved(m.secondUv),
    colour: moved(m.colour),
  }));
  return { ...scene, image, meshes: [...scene.meshes, ...meshes] };
}

/** `own` are the set's own materials, in which the plinth's is looked for first. Throws where it is known nowhere. */
export function transformScene(
  module: WebAssembly.Module,
  scene: CompiledScene,
  { matrix, plinth }: ResolvedTransform,
  own: readonly Material[] = [],
): CompiledScene {
  const place = matrixOf(matrix);
  const parts = scene.parts.map((part) => ({ ...part, world: numbersOf(mat4.multiply(identity(), place, matrixOf(part.world))) }));
  if (!plinth) return { ...scene, parts };
  const material = findMaterial(plinth.material, own, scene.materials);
  if (!material)
    throw new Error(
      `There is no material "${plinth.material}" for the plinth, neither in the set nor in the library nor in the model. Choose another.`,
    );
  const compiled = compile(module, {
    name: PLINTH,
    meshes: [plinthMesh(plinth)],
    materials: [DEFAULT_MATERIAL],
    textures: [],
    parts: [],
    lights: [],
    curves: [],
    cameras: [],
    warnings: [],
  });
  const joined = withMeshes(scene, compiled);
  const at = scene.materials.indexOf(material);
  return {
    ...joined,
    materials: at >= 0 ? scene.materials : [...scene.materials, material],
    parts: [
      ...parts,
      {
        path: PLINTH,
        world: numbersOf(identity()),
        primitives: [{ mesh: scene.meshes.length, material: at >= 0 ? at : scene.materials.length }],
        renderVisible: true,
        visible: VISIBLE_TO_ALL,
        // Turns, fits and pivots mean the subject on it.
        isContext: true,
      },
    ],
  };
}
