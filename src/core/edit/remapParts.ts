/** Carries a plan over to the next revision: what names parts by path follows them where they went. */
import type { PartMatch } from '../model/match.js';
import type { SetFile } from '../plan/set.js';

interface PartFaceGroups {
  path: string;
  /** One a group of faces. */
  materials: readonly string[];
}

const groupsIn = (parts: readonly PartFaceGroups[]): Map<string, number> => new Map(parts.map((p) => [p.path, p.materials.length]));

/** The set with every path of a part that it names put through `follow`. */
function withPaths(set: SetFile, follow: (path: string) => string): SetFile {
  const { materials: assignments, section, sections } = set;
  const cut = <P extends { part?: string }>(planes: P[]): P[] => planes.map((p) => (p.part === undefined ? p : { ...p, part: follow(p.part) }));
  return {
    ...set,
    ...(assignments && { materials: { ...assignments, parts: assignments.parts.map((p) => ({ ...p, path: follow(p.path) })) } }),
    ...(section && { section: { ...section, planes: cut(section.planes) } }),
    ...(sections && { sections: sections.map((s) => ({ ...s, planes: cut(s.planes) })) }),
    views: set.views.map((v) =>
      v.overrides?.hiddenParts ? { ...v, overrides: { ...v.overrides, hiddenParts: v.overrides.hiddenParts.map(follow) } } : v,
    ),
    shots: set.shots.map((s) => ('part' in s && s.part !== undefined ? { ...s, part: follow(s.part) } : s)),
  };
}

/** Every path of a part that the set names. */
function namedPaths(set: SetFile): string[] {
  const paths: string[] = [];
  withPaths(set, (path) => {
    paths.push(path);
    return path;
  });
  return [...new Set(paths)];
}

/** The set with the paths of renamed parts renamed, or the same set where none of them is named. */
export function remapPartPaths(set: SetFile, matches: readonly PartMatch[]): SetFile {
  const moved = new Map(matches.filter((m) => m.change === 'renamed').map((m) => [m.from!, m.to!]));
  return namedPaths(set).some((p) => moved.has(p)) ? withPaths(set, (path) => moved.get(path) ?? path) : set;
}

/** Paths of parts of which the set dresses single groups of faces, and which are divided otherwise in the later revision. */
export function changedFaceGroups(
  { materials: assignments }: SetFile,
  before: readonly PartFaceGroups[],
  after: readonly PartFaceGroups[],
): string[] {
  const [then, now] = [groupsIn(before), groupsIn(after)];
  const chosen = (assignments?.parts ?? []).filter((p) => (p.faces?.length ?? 0) > 0).map((p) => p.path);
  return chosen.filter((p) => then.has(p) && now.has(p) && then.get(p) !== now.get(p));
}

/** Paths of parts that have fewer groups of faces than the set puts materials on. */
export function missingGroups({ materials: assignments }: SetFile, parts: readonly PartFaceGroups[]): string[] {
  const groups = groupsIn(parts);
  const wanted = (assignments?.parts ?? []).filter((p) => p.faces?.some((f) => f.group > (groups.get(p.path) ?? Infinity)));
  return wanted.map((p) => p.path);
}

/** Paths that the set names and the revision has not: what does not carry over. */
export function missingPartPaths(set: SetFile, paths: ReadonlySet<string>): string[] {
  return namedPaths(set).filter((p) => !paths.has(p));
}
