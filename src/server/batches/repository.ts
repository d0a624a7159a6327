/** What the contract tells of batches and their frames: by counts of the database, never by reading a whole plan. */
import type { MadeMovie } from './madeMovie.js';
import { Op } from 'sequelize';
import { type BatchForecast, type BatchReply, type ClipReply, type FrameReply, PRIORITIES } from '../../contract/batches.js';
import type { Range } from '../../core/forecast/range.js';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame, Clip, Revision } from '../db/models.js';
import { notFound, ServerError } from '../errors.js';
import { ROW_COLUMNS, ROWS_PER_QUERY } from '../planning/tasks.js';
import { lookOf } from './looks.js';
import { type BatchDigest, digestOfBatch, nameOfRun } from './snapshot.js';

/** Columns of a batch but its plan. */
export const BATCH_SUMMARY_COLUMNS = { exclude: ['plan'] };

/** The batch of that id. @throws 404 where there is none, or it was deleted. */
export async function findBatch(id: number): Promise<Batch> {
  const batch = await Batch.findByPk(id);
  if (!batch) throw notFound(`Batch ${id}`);
  if (batch.deleted !== null) throw new ServerError('not-found', `Batch ${batch.number} was deleted. Restore it in the history of the queue.`);
  return batch;
}

/** Progress that only the runner knows; empty for a batch that does not run. */
export interface LiveProgress {
  elapsed: number;
  current: BatchReply['current'];
  busy: number;
  wall: number;
  workers: number;
  /** Shares that are done of the frames in work, by position. */
  shares: ReadonlyMap<number, number>;
  /** Why the run waits and when it tries again, where the disk or the database is at fault. */
  waiting: string | null;
}

/** Most seconds that are taken to pass for one of all workers: what waits longer waits for something else. */
const MAX_PACE = 3;
const NO_SHARES: ReadonlyMap<number, number> = new Map();

/** Expected seconds to go with their range: none of a batch that is over; null before anything is known. */
function remainingOf({ counts }: ServerContext, batch: Batch, live: LiveProgress | null, idle: number | null): Promise<Range | null> {
  if (batch.state === 'stopped' || batch.state === 'done') return Promise.resolve({ low: 0, likely: 0, high: 0 });
  const pace = idle === null ? 1 : Math.min(MAX_PACE, 1 / Math.max(0.01, 1 - idle));
  return counts.timings.remaining(batch.id, { shares: live?.shares ?? NO_SHARES, pace });
}

function forecastOf(text: string): BatchForecast {
  const { seconds, bytes } = JSON.parse(text) as BatchForecast;
  return { seconds, bytes };
}

/** The batch as pages get it; `live` is what runs of it now. */
export async function toBatchReply(context: ServerContext, batch: Batch, live: LiveProgress | null): Promise<BatchReply> {
  const { executor, store } = context;
  const digest = digestOfBatch(batch);
  const [totals, revision, clips] = await Promise.all([
    context.counts.totals(batch.id),
    Revision.findByPk(batch.revisionId, { attributes: ['letter'] }),
    Clip.findAll({ where: { batchId: batch.id }, order: ['id'] }),
  ]);
  const wall = (batch.wall ?? 0) + (live?.wall ?? 0);
  const busy = (batch.busy ?? 0) + (live?.busy ?? 0);
  const workers = live?.workers ?? executor.workers;
  const idle = wall > 0.5 ? Math.max(0, 1 - busy / (wall * workers)) : null;
  const remaining = await remainingOf(context, batch, live, idle);
  const isOver = batch.state === 'stopped' || batch.state === 'done';
  const forecast = batch.forecast ?? (isOver ? null : await context.counts.timings.forecast(batch.id));
  const { name, quality, samples, rate, size, alpha = false, acceptedFaults, draft, problem } = digest;
  return {
    id: batch.id,
    projectId: batch.projectId,
    setId: batch.setId,
    number: batch.number,
    name,
    revision: revision?.letter ?? '?',
    quality,
    samples,
    rate,
    size,
    alpha,
    ...(acceptedFaults && { acceptedFaults }),
    ...(batch.state === 'held' && batch.gate === 'waiting' && { atGate: true }),
    state: (live?.waiting ? 'held' : batch.state) as BatchReply['state'],
    // A row that was just made has no value where nobody gave one.
    reason: live?.waiting ?? problem ?? batch.reason ?? null,
    // Where others can reach the server, paths of its machine are none of their business.
    folder: context.access.exposed ? batch.folder : store.picture('.', batch.folder),
    total: batch.total,
    done: totals.done,
    failed: totals.failed,
    takenOver: totals.takenOver,
    developed: totals.developed,
    priority: PRIORITIES[batch.priority] ?? 'inTurn',
    rank: batch.rank,
    startAt: batch.startAt ?? null,
    ...(draft && { draft }),
    damaged: totals.damaged,
    elapsed: (batch.elapsed ?? 0) + (live?.elapsed ?? 0),
    remaining: remaining && remaining.likely,
    ...(remaining && remaining.likely > 0 && { remainingRange: { low: remaining.low, high: remaining.high } }),
    ...(forecast && { forecast: forecastOf(forecast) }),
    lastFrameSeconds: totals.lastSeconds,
    current: live?.current ?? null,
    idle,
    workers,
    created: batch.created,
    ended: batch.ended ?? null,
    clips: clips.map((c) => toClipReply(c, context.movies.shareOf(c.id))),
  };
}

/** @param share how much of it is encoded; null while it waits. */
export function toClipReply({ id, shot, state, fileName, message, bytes, made }: Clip, share: number | null = null): ClipReply {
  const { codec, sound, fit = 'cut' }: Partial<MadeMovie> = made ? (JSON.parse(made) as MadeMovie) : {};
  return {
    id,
    shot,
    state: state as ClipReply['state'],
    fileName,
    message: message ?? null,
    bytes: bytes ?? 0,
    codec: codec ?? 'h264',
    ...(state === 'making' && share !== null && { share }),
    ...(sound !== undefined && { sound: { file: sound, fit } }),
  };
}

/** A frame of a batch as pages get it. */
export function toFrameReply(row: BatchFrame, digest: BatchDigest): FrameReply {
  const { id, position, shot, number, name, state, seconds, samples, message, ended, damage, takenFrom, developed, decision, decisionReason } = row;
  const look = lookOf(digest.looks, shot, row.view ?? '');
  return {
    id,
    position,
    shot,
    number,
    name,
    seconds,
    samples,
    message,
    state: state as FrameReply['state'],
    ended: (ended ?? null) as FrameReply['ended'],
    shotName: nameOfRun(digest, shot),
    kind: row.kind ?? 'still',
    view: row.view ?? '',
    time: row.time ?? 0,
    ...(row.date && { date: row.date }),
    ...(damage && { damage: damage as NonNullable<FrameReply['damage']> }),
    ...(takenFrom && { takenOver: true }),
    ...(look !== undefined && { look }),
    ...(developed && { developed: developed as NonNullable<FrameReply['developed']> }),
    ...(decision && { decision: decision as NonNullable<FrameReply['decision']> }),
    ...(decisionReason && { decisionReason }),
    files: JSON.parse(row.files) as string[],
  };
}

/** Gives rows of earlier versions what lists tell of the plan. */
async function fillRows({ database, planner }: ServerContext, batch: Batch): Promise<void> {
  const plan = await planner.open(batch.plan);
  for (let from = 0; from < plan.total; from += ROWS_PER_QUERY) {
    const text = await plan.rows(from, from + ROWS_PER_QUERY);
    await database.write((transaction) =>
      database.sequelize.query(
        `UPDATE frames SET kind = row.kind, view = row.view, time = row.time, date = row.date
         FROM (SELECT $1 + key AS position, ${ROW_COLUMNS.map((name, i) => `json_extract(value, '$[${i}]') AS ${name}`).join(', ')} FROM json_each($2)) AS row
         WHERE frames.batchId = $3 AND frames.position = row.position`,
        { bind: [from, text, batch.id], transaction },
      ),
    );
  }
}

/** Makes sure that a batch's rows say what lists tell; one whose plan cannot be read stays as it is. */
export async function readyRows(context: ServerContext, batch: Batch): Promise<void> {
  if ((await BatchFrame.count({ where: { batchId: batch.id, kind: null } })) === 0) return;
  await fillRows(context, batch).catch((e: unknown) =>
    context.log.warn({ batch: batch.number, err: e }, 'the rows of a batch could not be completed'),
  );
}

/** A page of a batch's frames, in its order; of one run alone where that is named. */
export async function listFrames(context: ServerContext, batch: Batch, from: number, limit: number, run?: string): Promise<FrameReply[]> {
  await readyRows(context, batch);
  const digest = digestOfBatch(batch);
  const rows = await BatchFrame.findAll({
    where: { batchId: batch.id, ...(run === undefined ? { position: { [Op.gte]: from, [Op.lt]: from + limit } } : { shot: run }) },
    ...(run !== undefined && { offset: from, limit }),
    order: ['position'],
    raw: true,
  });
  return rows.map((row) => toFrameReply(row, digest));
}
