/** Carries a plan over to the next revision: what names parts by path follows them where they went. */
import { type PartMatch } from '../model/match.js';
import { type SetFile } from './set.js';

/** The set with the paths of renamed parts renamed, or the same set where none of them is named. */
export function carryOver(set: SetFile, matches: readonly PartMatch[]): SetFile {
  const moved = new Map(matches.filter((m) => m.fate === 'renamed').map((m) => [m.from!, m.to!]));
  const follow = (path: string): string => moved.get(path) ?? path;
  const { dressing, section } = set;
  const touches =
    (dressing?.parts ?? []).some((p) => moved.has(p.path)) || (section?.planes ?? []).some((p) => p.part !== undefined && moved.has(p.part));
  if (!touches) return set;
  return {
    ...set,
    ...(dressing && { dressing: { ...dressing, parts: dressing.parts.map((p) => ({ ...p, path: follow(p.path) })) } }),
    ...(section && { section: { ...section, planes: section.planes.map((p) => (p.part === undefined ? p : { ...p, part: follow(p.part) })) } }),
  };
}

/** Paths that the set names and the revision has not: what does not carry over. */
export function lostPaths(set: SetFile, paths: ReadonlySet<string>): string[] {
  const named = [...(set.dressing?.parts ?? []).map((p) => p.path), ...(set.section?.planes ?? []).flatMap((p) => p.part ?? [])];
  return [...new Set(named.filter((p) => !paths.has(p)))];
}
