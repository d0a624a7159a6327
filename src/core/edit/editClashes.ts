/** Values of a set that two edits, made side by side, changed otherwise: mergeEdits keeps ours, and a person is asked. */
import { type Fields, isFields, isListOfNamed, same } from './mergeEdits.js';

/** A key, or the item of that id in a list of named things. */
export type ClashStep = string | { id: string };

/** A value that both sides changed, each to something else. */
export interface EditClash {
  path: ClashStep[];
  /** The path as people read it: names where things have them. */
  place: string[];
  /** Undefined where a side removed it. */
  ours: unknown;
  theirs: unknown;
}

const find = (list: unknown, id: string): Fields | undefined => (isListOfNamed(list) ? list.find((item) => item.id === id) : undefined);

function collect(base: unknown, ours: unknown, theirs: unknown, path: ClashStep[], place: string[], out: EditClash[]): void {
  if (same(ours, theirs) || same(theirs, base) || same(ours, base)) return;
  if (isFields(ours) && isFields(theirs)) {
    const was = isFields(base) ? base : {};
    for (const key of new Set([...Object.keys(ours), ...Object.keys(theirs)]))
      collect(was[key], ours[key], theirs[key], [...path, key], [...place, key], out);
  } else if (isListOfNamed(ours) && isListOfNamed(theirs)) {
    // What one side deleted and the other changed stays, as it was changed.
    for (const item of ours) {
      const its = find(theirs, item.id);
      const name = typeof item.name === 'string' ? item.name : item.id;
      if (its) collect(find(base, item.id), item, its, [...path, { id: item.id }], [...place, name], out);
    }
  } else out.push({ path, place, ours, theirs });
}

/** @param base what both edits began with. */
export function editClashes<T>(base: T, ours: T, theirs: T): EditClash[] {
  const out: EditClash[] = [];
  collect(base, ours, theirs, [], [], out);
  return out;
}

function put(at: unknown, path: readonly ClashStep[], value: unknown): unknown {
  const [step, ...rest] = path;
  if (step === undefined) return value;
  if (typeof step !== 'string') return isListOfNamed(at) ? at.map((item) => (item.id === step.id ? put(item, rest, value) : item)) : at;
  const { [step]: inner, ...others } = isFields(at) ? at : {};
  const next = put(inner, rest, value);
  return next === undefined ? others : { ...others, [step]: next };
}

/** The set with their value at that place; what is gone by now stays gone. */
export const withTheirs = <T>(set: T, { path, theirs }: EditClash): T => put(set, path, theirs) as T;
