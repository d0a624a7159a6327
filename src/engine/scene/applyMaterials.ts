/** Lays a dressing over a compiled scene: meshes and trees stay, finishes and what is in the picture change. */
import { resolveMaterials, type CompiledAssignments, findMaterial } from '../../core/materials/assignments.js';
import { type CompiledScene } from './compile.js';

type AssignablePart = Pick<CompiledScene['parts'][number], 'path' | 'inPicture' | 'primitives'>;

/** Of a compiled scene, or of a model. Throws where a finish that is asked for is known nowhere. */
export function applyMaterials<Dressable extends Pick<CompiledScene, 'finishes'> & { parts: AssignablePart[] }>(
  scene: Dressable,
  dressing: CompiledAssignments,
): Dressable {
  const dressed = resolveMaterials(
    scene.parts.map((p) => ({ path: p.path, inPicture: p.inPicture, finishes: p.primitives.map((q) => scene.finishes[q.finish]!.name) })),
    dressing,
  );
  const finishes = [...scene.finishes];
  const numbers = new Map<string, number>();
  const numberOf = (name: string): number => {
    let number = numbers.get(name);
    if (number === undefined) {
      const finish = findMaterial(name, dressing.finishes, scene.finishes);
      if (!finish) throw new Error(`There is no finish "${name}", neither in the set nor in the library nor in the model. Choose another.`);
      number = scene.finishes.indexOf(finish);
      if (number < 0) number = finishes.push(finish) - 1;
      numbers.set(name, number);
    }
    return number;
  };
  const parts = scene.parts.map((part, i) => ({
    ...part,
    inPicture: dressed[i]!.inPicture,
    primitives: part.primitives.map((p, k) => {
      const other = dressed[i]!.finishes[k]!;
      return other === null ? p : { ...p, finish: numberOf(other) };
    }),
  }));
  return { ...scene, finishes, parts };
}
