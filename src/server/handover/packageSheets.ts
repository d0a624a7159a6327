/** Sheets of a package: what is on them comes from its renders, of views from the plan of its first batch. */
import { mkdtemp, readdir, rename, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { NewSheets, SheetKind } from '../../contract/packages.js';
import { type CaptionWords, contactSheet, fillCaption } from '../../core/handover/sheets/contact.js';
import type { Sheet } from '../../core/handover/sheets/page.js';
import type { SheetOptions } from '../../core/handover/sheets/paper.js';
import { stripSheet } from '../../core/handover/sheets/strips.js';
import { sunStudySheet } from '../../core/handover/sheets/sunStudy.js';
import { variantBoard } from '../../core/handover/sheets/variantBoard.js';
import { viewListSheet } from '../../core/handover/sheets/viewList.js';
import { withPlinth } from '../../core/model/modelTransform.js';
import type { SetFile } from '../../core/plan/set.js';
import { subjectBounds } from '../../core/planning/planFrames.js';
import { parseRate, rateValue } from '../../core/units/rate.js';
import { timecode } from '../../core/units/timecode.js';
import type { ShownFile } from '../../engine/node/reviewTask.js';
import { planSnapshot } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { type Batch, PlanSet, type Project } from '../db/models.js';
import { renderThumbnail } from '../previews/thumbnails.js';
import { digestOfRevision, findRevision } from '../revisions.js';
import type { SheetCandidate } from './packageFiles.js';

/** Renders on a sheet at most. */
const MAX_ON_SHEET = 1000;
/** Pixels across of the plan on a list, and of its views. */
const PLAN_WIDTH = 640;
const VIEW_WIDTH = 320;

/** Names of the files, without ending. */
const FILE_NAMES: Readonly<Record<SheetKind, string>> = {
  contact: 'contact-sheet',
  sun: 'sun-study',
  strips: 'moving-shots',
  views: 'view-list',
  variants: 'variant-board',
};

/** What a person opens of the sheets that were asked for: the PDF of each, else the HTML, else the first page. */
export function sheetFiles(asked: NewSheets | undefined): string[] {
  const whole = (['pdf', 'html'] as const).find((type) => asked?.types.includes(type));
  return (asked?.kinds ?? []).map((kind) => `${FILE_NAMES[kind]}${whole ? `.${whole}` : '-1.png'}`);
}

const numbered = (n: number): string => String(n).padStart(4, '0');

/** Captions where none are asked for: of a frame that moves its number, of a still its view and variant. */
const CAPTIONS = { moving: '{shot} · {frame} · rev {revision}', still: '{shot} · {view} · {variant} · rev {revision}' } as const;

/** The timecode of a frame of a shot of that rate. */
function timecodeOf({ time, rate }: Pick<SheetCandidate, 'time' | 'rate'>): string {
  const parsed = parseRate(rate);
  return timecode(Math.round(time * rateValue(parsed)), parsed);
}

const captionWords = (r: SheetCandidate): CaptionWords => ({
  shot: r.run,
  view: r.view,
  variant: r.variant ?? '',
  revision: r.letter,
  frame: r.moving ? numbered(r.number) : '',
  timecode: r.moving ? timecodeOf(r) : '',
  size: `${r.size.width} × ${r.size.height}`,
  date: r.sun?.date ?? '',
  time: r.sun?.time ?? '',
});

function contact(renders: readonly SheetCandidate[], options: SheetOptions, caption: string | undefined): Sheet<ShownFile> | null {
  const some = renders.filter((r) => r.isSample).slice(0, MAX_ON_SHEET);
  if (some.length === 0) return null;
  const captioned = some.map((r) => ({
    picture: r.picture,
    caption: fillCaption(caption ?? (r.moving ? CAPTIONS.moving : CAPTIONS.still), captionWords(r)),
  }));
  return contactSheet(captioned, options, some[0]!.aspect);
}

function sunStudy(renders: readonly SheetCandidate[], options: SheetOptions): Sheet<ShownFile> | null {
  const some = renders.filter((r) => r.sun?.date).slice(0, MAX_ON_SHEET);
  if (some.length === 0) return null;
  return sunStudySheet(
    some.map(({ picture, run, view, letter, sun, aspect }) => ({
      picture,
      of: [run, view, `rev ${letter}`].join(' · '),
      date: sun!.date!,
      time: sun!.time!,
      altitude: sun!.altitude,
      azimuth: sun!.azimuth,
      aspect,
    })),
    options,
  );
}

function strips(renders: readonly SheetCandidate[], options: SheetOptions): Sheet<ShownFile> | null {
  const moving = renders.filter((r) => r.moving && r.isSample);
  const names = [...new Set(moving.map((r) => `${r.run} · rev ${r.letter}`))];
  if (names.length === 0) return null;
  const shots = names.map((name) => {
    const own = moving.filter((r) => `${r.run} · rev ${r.letter}` === name);
    const { size, rate, aspect } = own[0]!;
    return {
      name,
      facts: `${size.width} × ${size.height} · ${rate} fps`,
      aspect,
      frames: own.map((r) => ({ picture: r.picture, number: numbered(r.number), time: timecodeOf(r) })),
    };
  });
  return stripSheet(shots, options);
}

function variants(renders: readonly SheetCandidate[], options: SheetOptions): Sheet<ShownFile> | null {
  // The first render of a view stands for it in each variant: of a moving shot its first frame.
  const seen = new Set<string>();
  const some = renders.filter(({ variant, view, letter }) => {
    const key = JSON.stringify([view, letter, variant]);
    return variant !== undefined && !seen.has(key) && seen.add(key);
  });
  if (new Set(some.map((r) => r.variant)).size < 2) return null;
  return variantBoard(
    some.map(({ view, letter, variant, picture, aspect }) => ({ of: `${view} · rev ${letter}`, variant: variant!, picture, aspect })),
    options,
  );
}

/** The views of a batch's plan, drawn small into a folder. */
async function views(
  context: ServerContext,
  project: Project,
  batch: Batch,
  folder: string,
  options: SheetOptions,
  signal: AbortSignal,
): Promise<Sheet<ShownFile> | null> {
  const { set } = planSnapshot(batch);
  if (set.views.length === 0) return null;
  const revision = await findRevision(batch.revisionId);
  const row = PlanSet.build({ projectId: project.id, file: JSON.stringify(set) });
  const draw = async (what: Parameters<typeof renderThumbnail>[4], width: number, name: string): Promise<ShownFile> => {
    signal.throwIfAborted();
    const file = path.join(folder, name);
    await writeFile(file, await renderThumbnail(context, project, row, revision, what, width, signal));
    return { path: file };
  };
  const plan = await draw({ drawing: 'plan' }, PLAN_WIDTH, 'plan.webp');
  const drawn: { view: SetFile['views'][number]; picture: ShownFile }[] = [];
  for (const [i, view] of set.views.entries()) drawn.push({ view, picture: await draw({ view: view.id }, VIEW_WIDTH, `view-${i}.webp`) });
  const bounds = withPlinth(set.transform, subjectBounds(set, digestOfRevision(revision).bounds));
  const { size, pixelAspect } = set.sheet;
  return viewListSheet({ plan, bounds, size, pixelAspect, views: drawn }, options);
}

/** What sheets are made of. */
export interface SheetsOfPackage {
  project: Project;
  /** The batch whose views are listed. */
  batch: Batch;
  renders: readonly SheetCandidate[];
}

/** Writes the sheets into a folder and returns their names; kinds of which the renders have nothing are left out. */
export async function writeSheets(
  context: ServerContext,
  { project, batch, renders }: SheetsOfPackage,
  asked: NewSheets,
  words: Pick<SheetOptions, 'title' | 'facts'>,
  folder: string,
  signal: AbortSignal,
): Promise<string[]> {
  const names: string[] = [];
  const drawn = await mkdtemp(path.join(folder, '.drawn-'));
  const options: SheetOptions = { ...asked, ...words };
  try {
    for (const kind of asked.kinds) {
      const sheet =
        kind === 'views'
          ? await views(context, project, batch, drawn, options, signal)
          : kind === 'contact'
            ? contact(renders, options, asked.caption)
            : { sun: sunStudy, strips, variants }[kind](renders, options);
      if (!sheet) continue;
      for (const type of ['pdf', 'html'] as const) {
        if (!asked.types.includes(type)) continue;
        await context.comparer.sheet(sheet, type, path.join(folder, `${FILE_NAMES[kind]}.${type}`), signal);
        names.push(`${FILE_NAMES[kind]}.${type}`);
      }
      if (!asked.types.includes('png')) continue;
      const pages = await mkdtemp(path.join(drawn, 'pages-'));
      await context.comparer.sheet(sheet, 'png', pages, signal);
      for (const page of await readdir(pages)) {
        names.push(`${FILE_NAMES[kind]}-${page}`);
        await rename(path.join(pages, page), path.join(folder, `${FILE_NAMES[kind]}-${page}`));
      }
    }
  } finally {
    await rm(drawn, { recursive: true, force: true });
  }
  return names;
}
