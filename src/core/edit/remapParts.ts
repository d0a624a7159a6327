/** Carries a plan over to the next revision: what names parts by path follows them where they went. */
import type { PartMatch } from '../model/match.js';
import type { SetFile } from '../plan/set.js';

interface PartFaceGroups {
  path: string;
  /** One a group of faces. */
  materials: readonly string[];
}

const groupsIn = (parts: readonly PartFaceGroups[]): Map<string, number> => new Map(parts.map((p) => [p.path, p.materials.length]));

type Follow = (path: string) => string | null;

/** Planes with their parts put through `follow`; one whose part is gone cuts nothing any more. */
const followPlanes = <P extends { part?: string }>(planes: P[], follow: Follow): P[] =>
  planes.flatMap((plane) => {
    if (plane.part === undefined) return [plane];
    const part = follow(plane.part);
    return part === null ? [] : [{ ...plane, part }];
  });

/** A shot of a part that is gone is switched off: over the whole subject it would be another shot. */
function followShot(given: SetFile['shots'][number], follow: Follow): SetFile['shots'][number] {
  const shot = Array.isArray(given.subject) ? { ...given, subject: followSubject(given.subject, follow) } : given;
  if (!('part' in shot) || shot.part === undefined) return shot;
  const part = follow(shot.part);
  return part === null ? { ...shot, part: undefined, off: true } : { ...shot, part };
}

/** Where none of the parts is left, the shot is about the subject of the set again. */
function followSubject(paths: string[], follow: Follow): string[] | undefined {
  const left = paths.flatMap((path) => follow(path) ?? []);
  return left.length > 0 ? left : undefined;
}

function followView(view: SetFile['views'][number], follow: Follow, sections: ReadonlySet<string>): SetFile['views'][number] {
  const { overrides } = view;
  if (!overrides?.hiddenParts && (typeof overrides?.section !== 'string' || sections.has(overrides.section))) return view;
  const hiddenParts = overrides.hiddenParts?.flatMap((path) => follow(path) ?? []);
  const { hiddenParts: _, section, ...others } = overrides;
  const next = {
    ...others,
    ...(section !== undefined && (section === false || sections.has(section)) && { section }),
    ...(hiddenParts && hiddenParts.length > 0 && { hiddenParts }),
  };
  return { ...view, overrides: Object.keys(next).length > 0 ? next : undefined };
}

/** Lights that are off stay off under their part's new path. */
function followStage(stage: SetFile['stage'], follow: Follow): SetFile['stage'] {
  if (!stage.modelLightsOff) return stage;
  const off = stage.modelLightsOff.flatMap((path) => follow(path) ?? []);
  return { ...stage, modelLightsOff: off.length > 0 ? off : undefined };
}

/** The set with every path of a part that it names put through `follow`; what named a part alone that has none any more goes with it. */
function withPaths(set: SetFile, follow: Follow): SetFile {
  const { materials: assignments, section, sections } = set;
  const planes = section && followPlanes(section.planes, follow);
  const further = sections?.map((s) => ({ ...s, planes: followPlanes(s.planes, follow) })).filter((s) => s.planes.length > 0);
  const kept = new Set(further?.map((s) => s.id));
  return {
    ...set,
    ...(assignments && {
      materials: {
        ...assignments,
        parts: assignments.parts.flatMap((p) => {
          const path = follow(p.path);
          return path === null ? [] : [{ ...p, path }];
        }),
      },
    }),
    ...(section && { section: planes!.length > 0 ? { ...section, planes: planes! } : undefined }),
    ...(sections && { sections: further!.length > 0 ? further : undefined }),
    stage: followStage(set.stage, follow),
    ...(set.stages && { stages: set.stages.map((s) => ({ ...s, stage: followStage(s.stage, follow) })) }),
    views: set.views.map((v) => followView(v, follow, kept)),
    shots: set.shots.map((s) => followShot(s, follow)),
  };
}

/**
 * The set with one part's place taken by another, wherever it is named; with null, by none: its material and its planes go,
 * and a shot of that part alone is switched off.
 */
export function movePartPath(set: SetFile, from: string, to: string | null): SetFile {
  const moved = withPaths(set, (path) => (path === from ? to : path));
  if (!moved.materials || to === null) return moved;
  // The part that is there may have had a material of its own: what was planned takes its place.
  const own = moved.materials.parts.findIndex((p, i) => p.path === to && set.materials!.parts[i]?.path === to);
  const taken = moved.materials.parts.some((p, i) => p.path === to && i !== own);
  return own >= 0 && taken ? { ...moved, materials: { ...moved.materials, parts: moved.materials.parts.filter((_, i) => i !== own) } } : moved;
}

/** Paths of the parts that are cut by themselves: without them a section or a reveal shows another thing than planned. */
export function cutPartPaths({ section, sections = [], shots }: SetFile): string[] {
  const planes = [...(section?.planes ?? []), ...sections.flatMap((s) => s.planes)];
  const revealed = shots.filter((s) => !s.off).map((s) => ('part' in s ? s.part : undefined));
  return [...new Set([...planes.map((p) => p.part), ...revealed])].filter((p) => p !== undefined);
}

/** Every path of a part that the set names. */
export function namedPaths(set: SetFile): string[] {
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
