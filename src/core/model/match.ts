/** Parts of one revision found again in the next: by path, then by name, then by shape. */
import { type Bounds, isEmpty } from '../math/bounds.js';

/** What of a part tells it from others; measures are of the part alone, in the world, in metres. */
export interface PartShape {
  name: string;
  path: string;
  triangles: number;
  area: number;
  /** By signed tetrahedra: the true one of a closed body. */
  volume: number;
  bounds: Bounds;
}

/** Kept as it was, the same body elsewhere, another body, the same under another path, only in the later, only in the earlier. */
export const CHANGE_KINDS = ['kept', 'moved', 'changed', 'renamed', 'new', 'gone'] as const;
/** One of {@link CHANGE_KINDS}. */
export type ChangeKind = (typeof CHANGE_KINDS)[number];

/** What became of a part from one revision to the next. */
export interface PartMatch {
  change: ChangeKind;
  /** Paths in the earlier and in the later revision. */
  from: string | null;
  to: string | null;
}

/** Shares by which measures may differ and still be the same: files are written with few digits. */
const SAME_WITHIN = 1e-4;

function isNear(a: number, b: number, scale: number): boolean {
  return Math.abs(a - b) <= SAME_WITHIN * Math.max(scale, 1e-9);
}

const sizeOf = ({ bounds }: PartShape): number[] => (isEmpty(bounds) ? [0, 0, 0] : bounds.max.map((m, i) => m - bounds.min[i]!));
const extentOf = (p: PartShape): number => Math.max(...sizeOf(p));

/** The same body, wherever it stands: turned ones too, so boxes are not compared. */
export function sameGeometry(a: PartShape, b: PartShape): boolean {
  const extent = Math.max(extentOf(a), extentOf(b));
  return (
    a.triangles === b.triangles &&
    isNear(a.area, b.area, Math.max(a.area, b.area)) &&
    isNear(a.volume, b.volume, Math.max(Math.abs(a.volume), a.area * extent))
  );
}

function isSamePlacement(a: PartShape, b: PartShape): boolean {
  if (isEmpty(a.bounds) || isEmpty(b.bounds)) return isEmpty(a.bounds) === isEmpty(b.bounds);
  const extent = Math.max(extentOf(a), extentOf(b));
  return [0, 1, 2].every((i) => isNear(a.bounds.min[i]!, b.bounds.min[i]!, extent) && isNear(a.bounds.max[i]!, b.bounds.max[i]!, extent));
}

function distance(a: PartShape, b: PartShape): number {
  return Math.hypot(...[0, 1, 2].map((i) => a.bounds.min[i]! + a.bounds.max[i]! - b.bounds.min[i]! - b.bounds.max[i]!)) / 2;
}

/** The list of a key, empty where there was none. */
function groupByKey<K>(map: Map<K, PartShape[]>, key: K): PartShape[] {
  const list = map.get(key) ?? [];
  if (list.length === 0) map.set(key, list);
  return list;
}

/** Equal for bodies with the same box, to the tenth of a millimetre. */
function placementKey({ triangles, bounds }: PartShape): string {
  return [triangles, ...bounds.min, ...bounds.max].map((v) => Math.round(v * 1e4)).join(' ');
}

/** Those of a list whose key no other has. */
function uniqueByKey(parts: PartShape[], key: (p: PartShape) => string): Map<string, PartShape> {
  const found = new Map<string, PartShape | null>();
  for (const p of parts) found.set(key(p), found.has(key(p)) ? null : p);
  return new Map([...found].filter((entry): entry is [string, PartShape] => entry[1] !== null));
}

/** Every part of either revision, once; in the order of the later, then what is gone. */
export function matchParts(before: readonly PartShape[], after: readonly PartShape[]): PartMatch[] {
  const earlier = new Map(before.map((p) => [p.path, p]));
  const partner = new Map<PartShape, PartShape>();
  const taken = new Set<PartShape>();
  const pair = (to: PartShape, from: PartShape): void => {
    partner.set(to, from);
    taken.add(from);
  };
  for (const to of after) {
    const from = earlier.get(to.path);
    if (from) pair(to, from);
  }
  const rest = () => ({ from: before.filter((p) => !taken.has(p)), to: after.filter((p) => !partner.has(p)) });
  {
    const { from, to } = rest();
    const names = uniqueByKey(from, (p) => p.name);
    // Groups go with groups and bodies with bodies.
    for (const [name, p] of uniqueByKey(to, (q) => q.name)) {
      const other = names.get(name);
      if (other && other.triangles > 0 === p.triangles > 0) pair(p, other);
    }
  }
  {
    const { from, to } = rest();
    // Bodies of other counts of triangles are never the same: of a hundred thousand parts, few are compared with each.
    const byCount = new Map<number, PartShape[]>();
    const byPlace = new Map<string, PartShape[]>();
    for (const q of from) {
      groupByKey(byCount, q.triangles).push(q);
      groupByKey(byPlace, placementKey(q)).push(q);
    }
    // What stands where it stood is its own nearest, and mostly that is all of them.
    for (const p of to) {
      if (p.triangles === 0) continue;
      const same = byPlace.get(placementKey(p))?.find((q) => !taken.has(q) && sameGeometry(q, p));
      if (same) pair(p, same);
    }
    for (const p of to) {
      if (p.triangles === 0 || partner.has(p)) continue;
      const alike = (byCount.get(p.triangles) ?? []).filter((q) => !taken.has(q) && sameGeometry(q, p));
      const [nearest] = alike.sort((a, b) => distance(a, p) - distance(b, p));
      if (nearest) pair(p, nearest);
    }
  }
  const found = after.map((to): PartMatch => {
    const from = partner.get(to);
    if (!from) return { change: 'new', from: null, to: to.path };
    const fate: ChangeKind = from.path !== to.path ? 'renamed' : !sameGeometry(from, to) ? 'changed' : isSamePlacement(from, to) ? 'kept' : 'moved';
    return { change: fate, from: from.path, to: to.path };
  });
  return [...found, ...before.filter((p) => !taken.has(p)).map((p): PartMatch => ({ change: 'gone', from: p.path, to: null }))];
}
