/** The selected parts, and their materials under the set's assignments. */
import { useMemo, useState } from 'react';
import type { PartReply } from '../../../contract/contract.js';
import { resolveMaterials, type ResolvedPart, type MaterialAssignments, compileAssignments } from '../../../core/materials/assignments.js';
import { NO_ASSIGNMENTS, assignFaceGroup, renameMaterial, assignParts, addSwap } from '../../../core/materials/editAssignments.js';
import type { CustomMaterial } from '../../../core/materials/customMaterial.js';
import type { Bounds } from '../../../core/math/bounds.js';
import { withContext } from '../../../core/edit/subjectParts.js';
import type { PartRole } from './MaterialPanel.js';
import type { PlanStore } from '../../state/planSession.js';
import { toast } from '../../state/toast.js';
import type { Hit, PartClick } from '../../viewport/picking.js';
import { withinAll } from '../../../core/model/paths.js';

/** The set's swaps with those of the active variant. */
function swapsOf(assignments: MaterialAssignments | undefined): MaterialAssignments['swaps'] {
  try {
    return compileAssignments(assignments)?.swaps ?? [];
  } catch {
    return assignments?.swaps ?? [];
  }
}

/** Materials that the selected parts, with all below them, have now. */
function partsUsing(parts: PartReply[], resolved: ResolvedPart[], selected: ReadonlySet<string>): string[] {
  const names = new Set<string>();
  if (selected.size === 0) return [];
  const within = withinAll(parts, selected);
  parts.forEach((part, i) => {
    if (within[i]) part.materials.forEach((own, k) => names.add(resolved[i]!.materials[k] ?? own));
  });
  return [...names];
}

/** The selected parts, and what can be done with their materials. */
export interface MaterialEditor {
  selected: ReadonlySet<string>;
  select: (paths: ReadonlySet<string>) => void;
  /** The part that is selected, where it is one. */
  lone: PartReply | null;
  /** The group of faces that materials go on, counted from 1, of the one part that is selected; null for whole parts. */
  face: number | null;
  setFace: (group: number | null) => void;
  /** The material of each group of the one selected part's faces, and its square metres where they are known; none where it is not divided. */
  faces: { material: string; area: number | undefined }[];
  /** What each part comes to; null while the parts are not there. */
  resolved: ResolvedPart[] | null;
  inUse: string[];
  pick: (pick: PartClick) => void;
  /** Puts a material on what is selected; `undefined` takes it off. */
  assign: (material: string | undefined) => void;
  /** A material was dropped on a part, which may be one of several that are selected; on one group of its faces if asked. */
  drop: (material: string, hit: PartClick | Hit, faces: boolean) => void;
  swap: (from: string, to: string) => void;
  /** Makes a custom material, or replaces the named one by a changed one. */
  own: (material: CustomMaterial, instead?: string) => string | null;
  turn: (path: string, which: 'viewportVisible' | 'renderVisible', on: boolean) => void;
  pickWearing: (material: string) => void;
  /** Whether what is selected is subject or context in the set. */
  role: PartRole | 'mixed';
  /** `model`: bounds of the model as imported. */
  setRole: (role: PartRole, model: Bounds) => void;
  change: (next: (assignments: MaterialAssignments) => MaterialAssignments) => string | null;
}

/** The editor of the materials of a set. */
export function useMaterials(plan: PlanStore, parts: PartReply[] | undefined): MaterialEditor {
  const { materials: assignments } = plan.file;
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [chosen, setChosen] = useState<{ path: string; group: number } | null>(null);
  const resolved = useMemo(() => {
    if (!parts) return null;
    // A variant that is not there changes nothing here; where pictures are planned it is said.
    return resolveMaterials(parts, { ...(assignments ?? NO_ASSIGNMENTS), swaps: swapsOf(assignments) });
  }, [parts, assignments]);
  // From what is there by then: two edits may follow at once.
  const change = (next: (assignments: MaterialAssignments) => MaterialAssignments): string | null => {
    const problem = plan.edit((f) => ({ ...f, materials: next(f.materials ?? NO_ASSIGNMENTS) }));
    if (problem) toast.error(problem);
    return problem;
  };
  const at = selected.size === 1 && parts ? parts.findIndex((p) => selected.has(p.path)) : -1;
  const lone = at >= 0 ? parts![at]! : null;
  const faces =
    lone && resolved && lone.materials.length > 1
      ? lone.materials.map((own, k) => ({ material: resolved[at]!.materials[k] ?? own, area: lone.areas?.[k] }))
      : [];
  const roles = new Set<PartRole>();
  if (parts && resolved && selected.size > 0) {
    const within = withinAll(parts, selected);
    resolved.forEach((d, i) => within[i] && roles.add(d.isContext ? 'context' : 'subject'));
  }
  const face = chosen && chosen.path === lone?.path && chosen.group <= faces.length ? chosen.group : null;
  return {
    selected,
    select: setSelected,
    lone,
    face,
    setFace: (group) => setChosen(lone && group !== null ? { path: lone.path, group } : null),
    faces,
    resolved,
    inUse: parts && resolved ? (face === null ? partsUsing(parts, resolved, selected) : [faces[face - 1]!.material]) : [],
    pick: ({ path, group, more, faces: one }) => {
      if (path === null) return;
      setChosen(one ? { path, group } : null);
      if (one) {
        setSelected(new Set([path]));
        return;
      }
      const next = new Set(more ? selected : []);
      if (!next.delete(path)) next.add(path);
      setSelected(next);
    },
    assign: (material) => {
      change((d) =>
        face !== null
          ? assignFaceGroup(d, lone!.path, face, material)
          : assignParts(d, selected, { material, ...(material === undefined && { faces: undefined }) }),
      );
    },
    drop: (material, { path, group }, one) => {
      if (path === null) return;
      change((d) => (one ? assignFaceGroup(d, path, group, material) : assignParts(d, selected.has(path) ? selected : [path], { material })));
    },
    swap: (from, to) => {
      change((d) => addSwap(d, from, to));
    },
    own: (material, instead) =>
      change((d) => {
        if (instead === undefined) return { ...d, materials: [...d.materials, material] };
        return renameMaterial({ ...d, materials: d.materials.map((f) => (f.name === instead ? material : f)) }, instead, material.name);
      }),
    turn: (path, which, on) => {
      // A switch of one of several selected parts is of them all.
      change((d) => assignParts(d, selected.has(path) ? selected : [path], { [which]: on }));
    },
    pickWearing: (material) => {
      if (parts && resolved)
        setSelected(
          new Set(parts.filter((p, i) => p.materials.some((own, k) => (resolved[i]!.materials[k] ?? own) === material)).map((p) => p.path)),
        );
    },
    role: roles.size === 1 ? [...roles][0]! : 'mixed',
    setRole: (role, model) => {
      if (!parts) return;
      try {
        const problem = plan.edit((f) => withContext(f, selected, role === 'context', parts, model));
        if (problem) toast.error(problem);
      } catch (e) {
        toast.error((e as Error).message);
      }
    },
    change,
  };
}
