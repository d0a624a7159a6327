/**
 * Two edits of one set, made side by side, become one: three-way merging by keys and, in lists of named things, by `id`.
 * Where both changed the same value, ours stands.
 */
import { canonicalJson } from '../base/hash.js';

/** An object of which only the keys matter here. */
export type Fields = Record<string, unknown>;

/** True for objects that are merged key by key; lists and plain values are not. */
export const isFields = (value: unknown): value is Fields => value !== null && typeof value === 'object' && !Array.isArray(value);

/** Lists whose items are told apart by an id. */
export const isListOfNamed = (value: unknown): value is (Fields & { id: string })[] =>
  Array.isArray(value) && value.length > 0 && value.every((item) => isFields(item) && typeof item.id === 'string');

/** Equal in all that is written to a file; undefined counts as null. */
export const same = (a: unknown, b: unknown): boolean => a === b || canonicalJson(a ?? null) === canonicalJson(b ?? null);

function mergeFields(base: Fields, ours: Fields, theirs: Fields): Fields {
  const merged: Fields = {};
  for (const key of new Set([...Object.keys(theirs), ...Object.keys(ours)])) {
    const value = mergeEdits(base[key], ours[key], theirs[key]);
    if (value !== undefined) merged[key] = value;
  }
  return merged;
}

function mergeLists(base: (Fields & { id: string })[], ours: (Fields & { id: string })[], theirs: (Fields & { id: string })[]): Fields[] {
  const find = (list: (Fields & { id: string })[], id: string): Fields | undefined => list.find((item) => item.id === id);
  /** What becomes of an item: undefined where one side deleted it, unless the other side changed it meanwhile. */
  const merged = (id: string): Fields | undefined => {
    const [was, mine, its] = [find(base, id), find(ours, id), find(theirs, id)];
    if (mine && its) return mergeEdits(was, mine, its);
    const left = mine ?? its;
    return was && same(left, was) ? undefined : left;
  };
  const ids = (list: { id: string }[]): string[] => list.map((item) => item.id).filter((id) => merged(id) !== undefined);
  const common = (list: { id: string }[]): string[] => ids(list).filter((id) => [base, ours, theirs].every((side) => find(side, id)));
  // Whoever put them in another order has it; what only the other one has comes before what it stood before there.
  const [first, second] = same(common(ours), common(base)) ? [theirs, ours] : [ours, theirs];
  const order = ids(first);
  const others = ids(second);
  for (const [i, id] of [...others.entries()].reverse()) {
    if (order.includes(id)) continue;
    const next = others[i + 1];
    order.splice(next === undefined ? order.length : order.indexOf(next), 0, id);
  }
  return order.map((id) => merged(id)!);
}

/**
 * @param base what both edits began with; undefined where it was not there.
 * @param ours the edit that stands where both changed the same value.
 * @param theirs the other edit.
 */
export function mergeEdits<T>(base: T, ours: T, theirs: T): T {
  if (same(ours, theirs) || same(theirs, base)) return ours;
  if (same(ours, base)) return theirs;
  if (isFields(ours) && isFields(theirs)) return mergeFields(isFields(base) ? base : {}, ours, theirs) as T;
  if (isListOfNamed(ours) && isListOfNamed(theirs)) return mergeLists(isListOfNamed(base) ? base : [], ours, theirs) as T;
  return ours;
}
