/** What goes into a package: files of renders and movies under their planned names, and what is written for it. */
import path from 'node:path';
import type { NewPackage } from '../../contract/packages.js';
import { everyNth } from '../../core/units/rate.js';
import type { PackageRun } from '../../core/handover/manifest.js';
import { type Frame, shotIdOfOutput } from '../../core/frame/frame.js';
import { evenly } from '../../core/handover/sheets/strips.js';
import type { FrameSun } from '../../core/stage/daylight.js';
import type { ShownFile } from '../../engine/node/reviewTask.js';
import { shownFile } from '../results/shownFile.js';
import { effectiveSettings } from '../../core/plan/formatSheet.js';
import type { SetFile } from '../../core/plan/set.js';
import { frameStride } from '../../core/plan/selection.js';
import { isMoving } from '../../core/shots/kinds.js';
import { describeFiles } from '../../engine/output/encodeFiles.js';
import { digestOfBatch, nameOfRun, planSnapshot } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame, Revision } from '../db/models.js';
import { ServerError } from '../errors.js';
import { type ShownRows, shownRows } from '../results/reviewPageContent.js';
import type { PlanSnapshot } from '../planning/tasks.js';
import { factsOfRun, packedPath } from './packedRender.js';
import { moviesOf, type PackedFile, reelsOf } from './packageMovies.js';

/** A render as sheets show it. */
export interface SheetCandidate {
  picture: ShownFile;
  run: string;
  moving: boolean;
  view: string;
  number: number;
  /** Seconds from the start of the shot. */
  time: number;
  rate: string;
  size: { width: number; height: number };
  /** Width to height. */
  aspect: number;
  /** Of the revision, with a word where it is a draft. */
  letter: string;
  variant?: string;
  sun?: FrameSun;
  /** Whether it is one of the few of a moving shot that stand for it. */
  isSample: boolean;
}

/** A run of frames with its files, ready to be packed. */
export interface PackedRun {
  run: PackageRun;
  files: PackedFile[];
  sheet: SheetCandidate[];
  batch: Batch;
  revision: { letter: string; model: string };
}

/** Frames of a moving shot that stand for it on sheets. */
const SHEET_FRAMES = 12;

/** The render as sheets show it; null where none would, or no file of it can be shown. */
function sheetCandidate(
  context: ServerContext,
  { batch }: ShownRows,
  row: BatchFrame,
  frame: Frame,
  { name, moving, letter, set, isSample }: { name: string; moving: boolean; letter: string; set: SetFile; isSample: boolean },
): SheetCandidate | null {
  if (!isSample && !frame.sun?.date) return null;
  let picture: ShownFile;
  try {
    picture = shownFile(context, batch, row, frame, 'beauty');
  } catch {
    return null;
  }
  const variant = frame.variant !== undefined && (set.materials?.variants.find((v) => v.id === frame.variant)?.name ?? frame.variant);
  return {
    picture,
    run: name,
    moving,
    view: set.views.find((v) => v.id === frame.view)?.name ?? frame.view,
    number: frame.number,
    time: frame.time,
    rate: set.sheet.rate,
    size: frame.size,
    aspect: (frame.size.width * frame.pixelAspect) / frame.size.height,
    letter,
    ...(variant && { variant }),
    ...(frame.sun && { sun: frame.sun }),
    isSample,
  };
}

/** @param plan as it was frozen. */
async function packRun(
  context: ServerContext,
  shown: ShownRows,
  { set, context: planned }: Pick<PlanSnapshot, 'set' | 'context'>,
  place: { letter: string; several: boolean },
  asked: NewPackage,
): Promise<PackedRun> {
  const { letter } = place;
  const folder = place.several && !asked.names?.includes('{revision}') ? `revision-${letter}` : '';
  const { batch } = shown;
  const { run } = shown.shown;
  const rows = asked.acceptedOnly ? shown.rows.filter((r) => r.decision === 'accepted') : shown.rows;
  const digest = digestOfBatch(batch);
  const plan = await context.planner.open(batch.plan);
  const [first, last] = [rows[0]!.position, rows.at(-1)!.position];
  const frames = new Map((await plan.frames(first, last + 1)).map((f, i) => [first + i, f]));
  const key = `${batch.id} ${run}`;
  const moving = isMoving(rows[0]!.kind ?? '');
  const name = nameOfRun(digest, run);
  const files: PackedFile[] = [];
  const sheet: SheetCandidate[] = [];
  // A draft is told from a final wherever it is seen.
  const named = digest.draft ? `${letter}, draft` : letter;
  let size = { width: 1, height: 1 };
  let rate = digest.rate;
  const told = factsOfRun(set, shown.shown.run, planned, { letter, model: digest.scene });
  const pathOf = packedPath(asked.names, folder, told, planned, set.author);
  const candidates = new Set((moving ? evenly(rows, SHEET_FRAMES) : rows).map((r) => r.id));
  for (const row of rows) {
    const frame = frames.get(row.position)!;
    const written = JSON.parse(row.files) as string[];
    const sums = JSON.parse(row.checksums ?? '[]') as { bytes: number; sha256: string }[];
    ({ size } = frame);
    for (const described of describeFiles(frame)) {
      const { name: file, type, pass, alpha } = described;
      if (asked.types && !asked.types.includes(type)) continue;
      const at = written.indexOf(file);
      const known = sums[at] ?? { bytes: 0, sha256: ''.padEnd(64, '0') };
      const entry = { kind: 'render' as const, ...frame.size, type, alpha, run: key, number: row.number, pass, identity: row.identity };
      files.push({
        from: context.store.picture(batch.folder, file),
        entry: { ...entry, path: pathOf(described, frame), ...known },
        ...(asked.tellHow && { facts: told(frame, pass, row) }),
      });
    }
    const candidate = sheetCandidate(context, shown, row, frame, { name, moving, letter: named, set, isSample: candidates.has(row.id) });
    if (candidate) sheet.push(candidate);
  }
  const shot = set.shots.find((s) => s.id === shotIdOfOutput(run));
  if (shot) rate = effectiveSettings(set.sheet, shot).rate;
  // Every n-th frame alone is shown at an n-th of the rate.
  if (moving) rate = everyNth(rate, frameStride(rows.map((r) => r.number)));
  // Movies lie beside the frames they were made of.
  const beside = asked.names && files[0] ? path.posix.dirname(files[0].entry.path) : folder;
  if (asked.movies && moving) files.push(...(await moviesOf(context, key, shown, run, beside, set)));
  const wanted =
    moving && !asked.acceptedOnly ? await BatchFrame.findAll({ where: { batchId: batch.id, shot: run }, attributes: ['number'], raw: true }) : rows;
  return {
    run: {
      key,
      name,
      revision: letter,
      batch: batch.number,
      moving,
      rate,
      width: size.width,
      height: size.height,
      numbers: wanted.map((r) => r.number),
    },
    files,
    sheet,
    batch,
    revision: { letter, model: digest.scene },
  };
}

/** Two stills of one run are one run with more numbers. */
function joinRuns(runs: readonly PackedRun[]): PackedRun[] {
  const joined = new Map<string, PackedRun>();
  for (const r of runs) {
    const known = joined.get(r.run.key);
    if (!known) joined.set(r.run.key, r);
    else {
      const numbers = [...new Set([...known.run.numbers, ...r.run.numbers])].sort((a, b) => a - b);
      joined.set(r.run.key, { ...known, run: { ...known.run, numbers }, files: [...known.files, ...r.files], sheet: [...known.sheet, ...r.sheet] });
    }
  }
  return [...joined.values()];
}

/** Adds the reels of each batch that show nothing but shots that are packed to the first of its runs. */
async function addReels(context: ServerContext, runs: readonly PackedRun[], shots: ReadonlySet<string>, several: boolean): Promise<void> {
  const first = new Map(runs.toReversed().map((r) => [r.batch.id, r]));
  for (const { batch, files, revision } of first.values())
    files.push(...(await reelsOf(context, batch, shots, several ? `revision-${revision.letter}` : '')));
}

/** Files and runs of what was asked. Throws ServerError 'unusable' where nothing is left, or two files would have one name. */
export async function packRenders(context: ServerContext, setId: number, asked: NewPackage): Promise<PackedRun[]> {
  const shown = await shownRows(
    setId,
    asked.renders.map((r) => ({ ...r, label: '' })),
  );
  const letters = new Map(
    (await Revision.findAll({ where: { id: [...new Set(shown.map((s) => s.batch.revisionId))] }, attributes: ['id', 'letter'] })).map((r) => [
      r.id,
      r.letter,
    ]),
  );
  const several = letters.size > 1;
  // A plan is long: it is read once, however many of its frames are packed.
  const plans = new Map<number, PlanSnapshot>();
  const runs: PackedRun[] = [];
  const shots = new Set<string>();
  for (const s of shown) {
    if (asked.acceptedOnly && !s.rows.some((r) => r.decision === 'accepted')) continue;
    const letter = letters.get(s.batch.revisionId) ?? '?';
    const plan = plans.get(s.batch.id) ?? planSnapshot(s.batch);
    plans.set(s.batch.id, plan);
    shots.add(shotIdOfOutput(s.shown.run));
    runs.push(await packRun(context, s, plan, { letter, several }, asked));
  }
  if (runs.length === 0)
    throw new ServerError(
      'unusable',
      asked.acceptedOnly
        ? 'None of these renders is accepted. Accept them in Review, or pack all finished ones.'
        : 'None of these renders is there any more.',
    );
  if (asked.movies) await addReels(context, runs, shots, several);
  const joined = joinRuns(runs);
  const names = new Map<string, PackedRun>();
  for (const run of joined)
    for (const { entry } of run.files) {
      const other = names.get(entry.path.toLowerCase());
      if (other)
        throw new ServerError(
          'unusable',
          asked.names === undefined
            ? `Two files would be called "${entry.path}": of batch ${other.run.batch} and of batch ${run.run.batch}. Choose one of the two renders.`
            : `Two files would be called "${entry.path}". Add to the names what tells them apart, such as {view}, {variant}, {size} or {batch}.`,
        );
      names.set(entry.path.toLowerCase(), run);
    }
  return joined;
}
