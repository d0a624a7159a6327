/** An edit of a set as data: places and the values they have afterwards (in the sense of RFC 6902, with paths as lists). */
import { canonicalJson } from '../base/hash.js';
import type { SetFile } from '../plan/set.js';
import { setSchema } from '../plan/set.js';

/** One value that is put in or removed. */
export interface PatchStep {
  path: (string | number)[];
  /** Absent: the value is removed. */
  value?: unknown;
}
/** An edit of a set, step by step, that can be undone as one. */
export type Patch = PatchStep[];

const isObject = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

function collect(before: unknown, after: unknown, path: (string | number)[], out: Patch): void {
  if (before === after || (before !== undefined && after !== undefined && canonicalJson(before) === canonicalJson(after))) return;
  if (isObject(before) && isObject(after)) {
    for (const key of new Set([...Object.keys(before), ...Object.keys(after)])) collect(before[key], after[key], [...path, key], out);
  } else if (Array.isArray(before) && Array.isArray(after) && before.length === after.length) {
    before.forEach((b, i) => collect(b, after[i], [...path, i], out));
  } else out.push(after === undefined ? { path } : { path, value: after });
}

/** What makes the second set of the first one. */
export function patchOf(before: SetFile, after: SetFile): Patch {
  const out: Patch = [];
  collect(before, after, [], out);
  return out;
}

function put(at: unknown, path: (string | number)[], value: unknown): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return value;
  if (Array.isArray(at)) return at.map((v: unknown, i) => (i === key ? put(v, rest, value) : v));
  const { [key]: inner, ...others } = isObject(at) ? at : {};
  const next = put(inner, rest, value);
  return next === undefined ? others : { ...others, [key]: next };
}

/** The set with the patch applied. Throws where it does not fit the set any more. */
export function applyPatch(set: SetFile, patch: Patch): SetFile {
  const result = setSchema.safeParse(patch.reduce<unknown>((file, step) => put(file, step.path, step.value), set));
  if (!result.success) throw new Error('This fix no longer fits the set. Check again.');
  return result.data;
}
