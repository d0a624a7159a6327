/** What is said of a set of which no plan can be made. */
import { shotIdOfOutput } from '../frame/frame.js';
import { withTokens } from '../plan/fileNames.js';
import { formatSheetSchema } from '../plan/formatSheet.js';
import type { SetFile } from '../plan/set.js';
import { NameError } from '../planning/names.js';
import { type PlanContext, planFrames } from '../planning/planFrames.js';
import type { Fix } from './finding.js';
import { editFix } from './fixes.js';
import { type PreflightReport, type ReportedFinding, shortHash } from './preflight.js';

type Names = SetFile['sheet']['names'];

/** Patterns that the names are mended by, the smallest change first. */
function mendedNames({ still, moving }: Names): [label: string, names: Names][] {
  return [
    ['Add what tells frames apart', { still: withTokens(still, ['view', 'pass']), moving: withTokens(moving, ['pass']) }],
    ['Add the shot to names', { still: withTokens(still, ['shot', 'view', 'pass']), moving: withTokens(moving, ['shot', 'pass']) }],
    ['Use the standard names', formatSheetSchema.parse({}).names],
  ];
}

/** Puts a number behind the names of shots that are alike, so that each is another. */
function distinctShots(set: SetFile): SetFile {
  const seen = new Map<string, number>();
  return {
    ...set,
    shots: set.shots.map((s) => {
      const key = (s.name ?? s.id).toLowerCase();
      const n = (seen.get(key) ?? 0) + 1;
      seen.set(key, n);
      return n === 1 ? s : { ...s, name: `${s.name ?? s.id} ${n}` };
    }),
  };
}

function isPlannable(set: SetFile, context: PlanContext): boolean {
  try {
    planFrames(set, context);
    return true;
  } catch {
    return false;
  }
}

/** The first edit after which the set can be planned; undefined where none of them helps. */
function nameFix(set: SetFile, context: PlanContext): Fix | undefined {
  const candidates: [string, SetFile][] = [
    ['Number same-named shots', distinctShots(set)],
    ...mendedNames(set.sheet.names).map(([label, names]): [string, SetFile] => [label, { ...set, sheet: { ...set.sheet, names } }]),
  ];
  for (const [label, after] of candidates) {
    const fix = editFix(label, set, after);
    if (fix && isPlannable(after, context)) return fix;
  }
  return undefined;
}

/** Id and title by what is wrong. */
const KINDS = {
  unwritable: { check: 'name-unwritable', title: 'Name cannot be written' },
  doubled: { check: 'names-alike', title: 'Two files share a name' },
  other: { check: 'no-plan', title: 'Set cannot be planned' },
} as const;

/** The report of a set that cannot be planned. @param error what planFrames threw. */
export function unplannable(error: Error, set: SetFile, context: PlanContext): PreflightReport {
  const named = error instanceof NameError ? error : undefined;
  const about = shortHash(error.message);
  const fix = named && nameFix(set, context);
  const { check, title } = KINDS[named?.reason ?? 'other'];
  const shot = named && set.shots.find((s) => s.id === shotIdOfOutput(named.run));
  const finding: ReportedFinding = {
    check,
    key: check,
    title,
    area: 'format',
    severity: 'fault',
    message: error.message,
    blocks: true,
    ...(named && { run: named.run, frames: [named.frame], shotName: shot?.name ?? named.run }),
    ...(fix && { fix }),
    about: { shot: about, set: about },
  };
  return { findings: [finding], waivers: [] };
}
