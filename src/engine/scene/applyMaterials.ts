/** Applies material assignments to a compiled scene: meshes and trees stay, materials and visibility change. */
import { resolveMaterials, type CompiledAssignments, findMaterial } from '../../core/materials/assignments.js';
import type { CompiledScene } from './compile.js';

type AssignablePart = Pick<CompiledScene['parts'][number], 'path' | 'renderVisible' | 'isContext' | 'primitives'>;

/** Of a compiled scene, or of a model. Throws where a material that is asked for is known nowhere. */
export function applyMaterials<Dressable extends Pick<CompiledScene, 'materials'> & { parts: AssignablePart[] }>(
  scene: Dressable,
  assignments: CompiledAssignments,
): Dressable {
  const resolved = resolveMaterials(
    scene.parts.map((p) => ({
      path: p.path,
      renderVisible: p.renderVisible,
      isContext: p.isContext,
      materials: p.primitives.map((q) => scene.materials[q.material]!.name),
    })),
    assignments,
  );
  const materials = [...scene.materials];
  const numbers = new Map<string, number>();
  const numberOf = (name: string): number => {
    let number = numbers.get(name);
    if (number === undefined) {
      const material = findMaterial(name, assignments.materials, scene.materials);
      if (!material) throw new Error(`There is no material "${name}", neither in the set nor in the library nor in the model. Choose another.`);
      number = scene.materials.indexOf(material);
      if (number < 0) number = materials.push(material) - 1;
      numbers.set(name, number);
    }
    return number;
  };
  const parts = scene.parts.map((part, i) => ({
    ...part,
    renderVisible: resolved[i]!.renderVisible,
    isContext: resolved[i]!.isContext,
    primitives: part.primitives.map((p, k) => {
      const other = resolved[i]!.materials[k]!;
      return other === null ? p : { ...p, material: numberOf(other) };
    }),
  }));
  return { ...scene, materials, parts };
}
