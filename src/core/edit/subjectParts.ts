/** Which parts of a model are the subject of a set, and which its context. */
import { assignParts } from '../materials/editAssignments.js';
import { resolveMaterials } from '../materials/assignments.js';
import { type Bounds, emptyBounds, isEmpty, joinBounds, transformBounds } from '../math/bounds.js';
import { transformMatrix } from '../model/modelTransform.js';
import type { SetFile } from '../plan/set.js';

/** A part as the model's file has it. */
export interface SubjectPart {
  path: string;
  /** Of the part alone, in metres; absent of one without faces. */
  bounds?: Bounds | undefined;
  triangles: number;
  renderVisible: boolean;
  isContext: boolean;
}

/** Box of the rendered subject in a set, where the set puts the model; null where nothing is subject. `model`: bounds as imported. */
export function boundsOfSubject(
  { materials, transform }: Pick<SetFile, 'materials' | 'transform'>,
  parts: readonly SubjectPart[],
  model: Bounds,
): Bounds | null {
  const resolved = resolveMaterials(
    parts.map((p) => ({ ...p, materials: [] })),
    { parts: materials?.parts ?? [], rules: [], swaps: [] },
  );
  const box = parts.reduce(
    (all, { bounds, triangles }, i) =>
      bounds && triangles > 0 && resolved[i]!.renderVisible && !resolved[i]!.isContext ? joinBounds(all, bounds) : all,
    emptyBounds(),
  );
  if (isEmpty(box)) return null;
  return transform ? transformBounds(box, transformMatrix(transform, model)) : box;
}

/**
 * The set with parts as context (true), as subject (false) or as the file has them (undefined); what the set refers to (pivots,
 * fits, lights) is the box of the subject that is left. Throws an Error where none would be left.
 */
export function withContext(
  set: SetFile,
  paths: Iterable<string>,
  isContext: boolean | undefined,
  parts: readonly SubjectPart[],
  model: Bounds,
): SetFile {
  const next = { ...set, materials: assignParts(set.materials, paths, { isContext }) };
  const reference = boundsOfSubject(next, parts, model);
  if (!reference) throw new Error('Nothing would be left as the subject. Keep at least one rendered part out of the context.');
  return { ...next, reference };
}
