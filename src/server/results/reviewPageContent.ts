/** What a review page shows: renders, and the notes on them. */
import type { PageFrame, PageShot, ReviewPageContent, ShownRender } from '../../contract/reviewPages.js';
import { isMoving } from '../../core/shots/kinds.js';
import { parseRate, rateValue } from '../../core/units/rate.js';
import { digestOfBatch, nameOfRun } from '../batches/snapshot.js';
import { Batch, BatchFrame, type PlanSet } from '../db/models.js';
import { ServerError } from '../errors.js';
import { findProject } from '../projects.js';
import { setFileOf } from '../sets.js';
import { notesOfFrames } from './notes.js';

/** Frames that one page shows at most. */
const MAX_FRAMES = 5000;

/** A render of a page, with what its frames are read from. */
export interface ShownRows {
  shown: ShownRender;
  batch: Batch;
  rows: BatchFrame[];
}

/** Finished frames of what is shown, of this set alone. What was deleted since is left out. */
export async function shownRows(setId: number, shown: readonly ShownRender[]): Promise<ShownRows[]> {
  const ids = [...new Set(shown.map((s) => s.batch))];
  const batches = new Map((await Batch.findAll({ where: { id: ids, setId, deleted: null } })).map((b) => [b.id, b]));
  const found: ShownRows[] = [];
  for (const s of shown) {
    const batch = batches.get(s.batch);
    if (!batch) continue;
    const one = s.frame === undefined ? {} : { id: s.frame };
    const rows = await BatchFrame.findAll({ where: { batchId: batch.id, shot: s.run, state: 'done', ...one }, order: ['position'] });
    if (rows.length > 0) found.push({ shown: s, batch, rows });
  }
  const frames = found.reduce((sum, { rows }) => sum + rows.length, 0);
  if (frames > MAX_FRAMES)
    throw new ServerError('unusable', `These are ${frames} frames; a review page shows at most ${MAX_FRAMES}. Choose fewer renders.`);
  return found;
}

/** A frame of the set that the page shows; null where it shows none of that id. */
export async function shownFrame(setId: number, shown: readonly ShownRender[], id: number): Promise<{ batch: Batch; row: BatchFrame } | null> {
  const row = await BatchFrame.findOne({ where: { id, state: 'done' } });
  if (!row || !shown.some((s) => s.batch === row.batchId && s.run === row.shot && (s.frame === undefined || s.frame === id))) return null;
  const batch = await Batch.findOne({ where: { id: row.batchId, setId, deleted: null } });
  return batch && { batch, row };
}

interface PageFacts {
  name: string;
  ends: string | null;
  /** Addresses of a frame's picture and of its small one. */
  addressOf: (batch: Batch, row: BatchFrame) => Pick<PageFrame, 'picture' | 'small'>;
}

function shotOf({ shown, batch, rows }: ShownRows, nameOfView: (id: string) => string, addressOf: PageFacts['addressOf']): PageShot {
  const digest = digestOfBatch(batch);
  const { view, kind } = rows[0]!;
  const moving = isMoving(kind ?? '');
  return {
    key: `${batch.id}~${shown.run}${shown.frame === undefined ? '' : `~${shown.frame}`}`,
    batch: batch.id,
    run: shown.run,
    name: [nameOfRun(digest, shown.run), ...(moving || !view ? [] : [nameOfView(view)])].join(', '),
    label: shown.label,
    moving,
    rate: rateValue(parseRate(digest.rate)),
    frames: rows.map((row) => ({ id: row.id, number: row.number, identity: row.identity, ...addressOf(batch, row) })),
  };
}

/** Names of the views of a batch's plan, by their ids. */
function viewNames(batch: Batch): (id: string) => string {
  try {
    const { set } = JSON.parse(batch.plan) as { set: { views?: { id: string; name: string }[] } };
    const names = new Map((set.views ?? []).map((v) => [v.id, v.name]));
    return (id) => names.get(id) ?? id;
  } catch {
    return (id) => id;
  }
}

/** What there is to see of these renders. Throws ServerError where nothing is. */
export async function pageContent(set: PlanSet, renders: readonly ShownRows[], { name, ends, addressOf }: PageFacts): Promise<ReviewPageContent> {
  if (renders.length === 0) throw new ServerError('not-found', 'None of these renders is there any more.');
  const project = await findProject(set.projectId);
  // A plan is long: it is read once, however many of its renders are shown.
  const names = new Map<number, (id: string) => string>();
  for (const { batch } of renders) if (!names.has(batch.id)) names.set(batch.id, viewNames(batch));
  return {
    name,
    project: project.name,
    set: setFileOf(set).name,
    ends,
    made: new Date().toISOString(),
    shots: renders.map((r) => shotOf(r, names.get(r.batch.id)!, addressOf)),
    notes: await notesOfFrames(renders.flatMap(({ rows }) => rows.map((row) => row.id))),
  };
}
