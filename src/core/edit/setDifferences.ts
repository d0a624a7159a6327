/** What differs between two sets, in sentences: a set as a batch froze it beside the set of today. */
import { canonicalJson } from '../base/hash.js';
import type { SetFile } from '../plan/set.js';

const differs = (a: unknown, b: unknown): boolean => a !== b && canonicalJson(a ?? null) !== canonicalJson(b ?? null);

/** Names of the keys that differ, as the set file writes them. */
function changedKeys(before: object, after: object): string[] {
  const [a, b] = [before as Record<string, unknown>, after as Record<string, unknown>];
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((key) => differs(a[key], b[key]));
}

interface Named {
  id: string;
  name?: string;
}

/** What came, went, moved or changed in a list of named things. */
function listDifferences(what: string, before: readonly Named[] = [], after: readonly Named[] = []): string[] {
  const label = ({ name, id }: Named): string => `${what} "${name ?? id}"`;
  const [then, now] = [new Map(before.map((x) => [x.id, x])), new Map(after.map((x) => [x.id, x]))];
  const changed = after.flatMap((x) => {
    const other = then.get(x.id);
    const keys = other ? changedKeys(other, x) : [];
    return keys.length > 0 ? [`${label(x)} changed: ${keys.join(', ')}.`] : [];
  });
  const kept = (list: readonly Named[], other: ReadonlyMap<string, Named>): string => list.flatMap((x) => (other.has(x.id) ? [x.id] : [])).join('\n');
  return [
    ...after.filter((x) => !then.has(x.id)).map((x) => `${label(x)} was added.`),
    ...before.filter((x) => !now.has(x.id)).map((x) => `${label(x)} was removed.`),
    ...changed,
    ...(kept(before, now) === kept(after, then) ? [] : [`The order of the ${what.toLowerCase()}s changed.`]),
  ];
}

/** Wholes of a set whose parts are named by their keys, and what they are called. */
const WHOLES = { sheet: 'Format sheet', stage: 'Stage', grade: 'Grade', transform: 'Placement of the model', materials: 'Materials' } as const;
/** Wholes that are told without their parts. */
const PLAIN = {
  section: 'Section',
  reference: 'Reference size',
  delivery: 'Delivery',
  reels: 'Reels',
  waivers: 'Waivers',
  author: 'Author',
} as const;

/** One sentence for each thing that differs; none where the sets are alike. */
export function setDifferences(before: SetFile, after: SetFile): string[] {
  const wholes = (Object.keys(WHOLES) as (keyof typeof WHOLES)[]).flatMap((key) => {
    const keys = changedKeys(before[key] ?? {}, after[key] ?? {});
    return keys.length > 0 ? [`${WHOLES[key]} changed: ${keys.join(', ')}.`] : [];
  });
  const plain = (Object.keys(PLAIN) as (keyof typeof PLAIN)[]).flatMap((key) => (differs(before[key], after[key]) ? [`${PLAIN[key]} changed.`] : []));
  return [
    ...(before.name === after.name ? [] : [`Renamed from "${before.name}" to "${after.name}".`]),
    ...wholes,
    ...listDifferences('Stage', before.stages, after.stages),
    ...listDifferences('Section', before.sections, after.sections),
    ...listDifferences('View', before.views, after.views),
    ...listDifferences('Shot', before.shots, after.shots),
    ...plain,
  ];
}
