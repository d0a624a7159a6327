/** Edits of material assignments that the interface makes. */
import { type MaterialAssignments, materialAssignmentsSchema } from './assignments.js';

type PartSettings = Omit<MaterialAssignments['parts'][number], 'path'>;

/** Everything as the model has it. */
export const NO_ASSIGNMENTS: MaterialAssignments = materialAssignmentsSchema.parse({});

/** Sets values of parts by path; `undefined` takes one back. What says nothing any more is left out. */
export function assignParts(assignments: MaterialAssignments | undefined, paths: Iterable<string>, values: PartSettings): MaterialAssignments {
  const base = assignments ?? NO_ASSIGNMENTS;
  const byPath = new Map(base.parts.map((p) => [p.path, p]));
  for (const path of paths) {
    const next = { ...byPath.get(path), ...values, path };
    if (
      next.renderVisible === undefined &&
      next.viewportVisible === undefined &&
      next.isContext === undefined &&
      next.material === undefined &&
      !next.faces
    )
      byPath.delete(path);
    else byPath.set(path, next);
  }
  return { ...base, parts: [...byPath.values()] };
}

/** Puts a material on one group of a part's faces, counted from 1; `undefined` takes it back. */
export function assignFaceGroup(
  assignments: MaterialAssignments | undefined,
  path: string,
  group: number,
  material: string | undefined,
): MaterialAssignments {
  const now = (assignments ?? NO_ASSIGNMENTS).parts.find((p) => p.path === path)?.faces ?? [];
  const faces = [...now.filter((f) => f.group !== group), ...(material === undefined ? [] : [{ group, material }])].sort((a, b) => a.group - b.group);
  return assignParts(assignments, [path], { faces: faces.length > 0 ? faces : undefined });
}

/** Replaces `from` by `to` everywhere; in the active variant, where there is one. A swap back to `from` is removed. */
export function addSwap(assignments: MaterialAssignments | undefined, from: string, to: string): MaterialAssignments {
  const base = assignments ?? NO_ASSIGNMENTS;
  const put = (swaps: MaterialAssignments['swaps']): MaterialAssignments['swaps'] => [
    ...swaps.filter((s) => s.from !== from),
    ...(from === to ? [] : [{ from, to }]),
  ];
  if (base.variant === undefined) return { ...base, swaps: put(base.swaps) };
  return { ...base, variants: base.variants.map((v) => (v.id === base.variant ? { ...v, swaps: put(v.swaps) } : v)) };
}

/** Renames a material wherever it is assigned. */
export function renameMaterial(assignments: MaterialAssignments, from: string, to: string): MaterialAssignments {
  if (from === to) return assignments;
  const name = (n: string): string => (n === from ? to : n);
  const swaps = (list: MaterialAssignments['swaps']): MaterialAssignments['swaps'] => list.map((s) => ({ from: name(s.from), to: name(s.to) }));
  return {
    ...assignments,
    parts: assignments.parts.map((p) => ({
      ...p,
      ...(p.material !== undefined && { material: name(p.material) }),
      ...(p.faces && { faces: p.faces.map((f) => ({ ...f, material: name(f.material) })) }),
    })),
    rules: assignments.rules.map((r) => ({ ...r, material: name(r.material) })),
    swaps: swaps(assignments.swaps),
    variants: assignments.variants.map((v) => ({ ...v, swaps: swaps(v.swaps) })),
  };
}
