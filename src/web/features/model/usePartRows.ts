/** Which rows the part tree has: what is searched for, of one kind. */
import { useMemo } from 'react';
import type { PartReply } from '../../../contract/contract.js';
import type { ResolvedPart } from '../../../core/materials/assignments.js';
import { LABELS, MESSAGES } from './words.js';

/** Kinds of parts that the tree can be kept to. */
export const FILTERS = {
  all: LABELS.allParts,
  renders: MESSAGES.renderedButHiddenHere,
  shown: MESSAGES.shownHereNotRendered,
  lines: LABELS.lines,
} as const;
/** One of them. */
export type Filter = keyof typeof FILTERS;

/** How deep each stands in the tree; parents stand before their children. */
function depthsOf(parts: PartReply[]): number[] {
  const depths: number[] = [];
  for (const { parent } of parts) depths.push(parent >= 0 ? depths[parent]! + 1 : 0);
  return depths;
}

/** A part in the tree. */
export interface TreeRow {
  part: PartReply;
  /** Its place among all parts. */
  index: number;
  depth: number;
  /** What it comes to under the set's assignments. */
  effective: ResolvedPart;
}

/** @param resolved what each part comes to, in the same order. */
export function usePartRows(parts: PartReply[], resolved: ResolvedPart[], search: string, filter: Filter): TreeRow[] {
  const depths = useMemo(() => depthsOf(parts), [parts]);
  return useMemo(() => {
    const wanted = search.trim().toLowerCase();
    return parts
      .map((part, index) => ({ part, index, depth: depths[index]!, effective: resolved[index]! }))
      .filter(({ part, effective }) => {
        if (wanted && !part.path.toLowerCase().includes(wanted)) return false;
        // A solid's edges would double the tree; they are there when asked for.
        if (filter === 'lines') return part.lines !== undefined;
        if (part.lines !== undefined && !wanted) return false;
        if (filter === 'all' || part.triangles === 0) return filter === 'all';
        return filter === 'renders' ? effective.renderVisible && !effective.viewportVisible : effective.viewportVisible && !effective.renderVisible;
      });
  }, [parts, depths, resolved, search, filter]);
}
