/** Batches: frozen frame plans, their rows, and what the contract tells of them. */
import { mkdir } from 'node:fs/promises';
import { Op, type Transaction } from 'sequelize';
import { type BatchReply, type ClipReply, type FrameReply } from '../../contract/contract.js';
import { remainingSeconds } from '../../core/forecast/remaining.js';
import { type Frame } from '../../core/plan/frame.js';
import { unknownFinish } from '../../core/dress/dressing.js';
import { picturesOf } from '../../core/dress/ownFinish.js';
import { framesOf, type PlanContext, setFolder } from '../../core/plan/framesOf.js';
import { chosenFrames } from '../../core/plan/selection.js';
import { backdropFiles, parseSet, runName, type SetFile, surroundFiles } from '../../core/plan/set.js';
import { samplingOf } from '../../core/plan/sheet.js';
import { type ServerContext } from '../context.js';
import { Batch, BatchFrame, Clip, type PlanSet, type Project, Revision } from '../db/models.js';
import { notFound, ServerError } from '../errors.js';
import { planContext, setFileOf, summaryOf } from '../projects.js';

/** What is frozen when a batch starts; framesOf makes the same frames of it at any time. */
interface FrozenPlan {
  set: SetFile;
  context: PlanContext;
  /** Frames that were chosen, in each run's own numbers; all where absent. */
  select?: string;
}

const ROWS_AT_ONCE = 400;

export async function findBatch(id: number): Promise<Batch> {
  const batch = await Batch.findByPk(id);
  if (!batch) throw notFound(`Batch ${id}`);
  return batch;
}

export function frozenPlan(batch: Batch): FrozenPlan {
  const plan = JSON.parse(batch.plan) as FrozenPlan;
  return { ...plan, set: parseSet(plan.set) };
}

const plans = new Map<number, Frame[]>();

/** The frames of a batch by position; kept for the batches asked for last. */
export function batchFrames(batch: Batch): Frame[] {
  let frames = plans.get(batch.id);
  if (!frames) {
    const { set, context, select } = frozenPlan(batch);
    frames = chosenFrames(framesOf(set, context), select ?? '');
    if (plans.size >= 4) plans.delete(plans.keys().next().value!);
    plans.set(batch.id, frames);
  }
  return frames;
}

/** Freezes the set's plan on a revision. Throws 422 where it cannot be rendered. */
export async function createBatch(
  context: ServerContext,
  project: Project,
  row: PlanSet,
  revision: Revision,
  { shots, select }: { shots?: string[]; select?: string } = {},
): Promise<Batch> {
  const full = setFileOf(row);
  // A reel whose shots are not all there is none.
  const set = shots
    ? {
        ...full,
        shots: full.shots.filter((s) => shots.includes(s.id)),
        reels: full.reels?.filter((r) => r.parts.every((p) => shots.includes(p.shot))),
      }
    : full;
  if (set.shots.length === 0) throw new ServerError('unusable', 'There is nothing to render: the set has no shots. Add a still or a turntable.');
  const number = ((await Batch.max<number, Batch>('number')) ?? 0) + 1;
  const plan: FrozenPlan = { set, context: planContext(project, revision, String(number)), ...(select && { select }) };
  let frames: Frame[];
  try {
    frames = chosenFrames(framesOf(set, plan.context), select ?? '');
  } catch (e) {
    throw new ServerError('unusable', (e as Error).message);
  }
  const lost = frames[0]?.dressing && unknownFinish(frames[0].dressing, summaryOf(revision).finishes);
  if (lost)
    throw new ServerError(
      'unusable',
      `There is no finish "${lost}", neither in the set nor in the library nor in revision ${revision.letter}. Choose another on the Model step.`,
    );
  for (const file of picturesOf(frames[0]?.dressing?.finishes ?? []))
    if (!(await context.store.hasTexture(file)))
      throw new ServerError('unusable', `The picture "${file}" of a finish is not here. Bring it in on the Model step, or take it off the finish.`);
  for (const surround of surroundFiles(set))
    if (!(await context.store.hasSurround(surround)))
      throw new ServerError('unusable', `The surround "${surround}" is not here. Bring its file in on the Stage step, or take it out.`);
  for (const picture of backdropFiles(set))
    if (!(await context.store.hasTexture(picture)))
      throw new ServerError('unusable', `The backdrop "${picture}" is not here. Bring its file in on the Stage step, or take it out.`);
  // Each batch has a folder of its own, so that no batch can write over another's files.
  const folder = `pictures/${String(number).padStart(4, '0')}-${setFolder(set)}`;
  if (await context.store.exists(context.store.picture('.', folder)))
    throw new ServerError('conflict', `The folder "${folder}" is there already, left by something else. Move it away and start again.`);
  await mkdir(context.store.picture('.', folder), { recursive: true });
  return context.database.write(async (transaction: Transaction) => {
    const batch = await Batch.create(
      {
        projectId: project.id,
        setId: row.id,
        revisionId: revision.id,
        number,
        state: 'queued',
        folder,
        plan: JSON.stringify(plan),
        total: frames.length,
        created: new Date().toISOString(),
      },
      { transaction },
    );
    for (let i = 0; i < frames.length; i += ROWS_AT_ONCE) {
      await BatchFrame.bulkCreate(
        frames.slice(i, i + ROWS_AT_ONCE).map((f, k) => ({
          batchId: batch.id,
          position: i + k,
          shot: f.shot,
          number: f.number,
          name: f.name,
          identity: f.identity,
          state: 'waiting',
        })),
        { transaction },
      );
    }
    return batch;
  });
}

/** Progress that only the runner knows; empty for a batch that does not run. */
export interface LiveProgress {
  elapsed: number;
  current: BatchReply['current'];
  busy: number;
  wall: number;
  workers: number;
}

export async function describeBatch({ pool, store }: ServerContext, batch: Batch, live: LiveProgress | null): Promise<BatchReply> {
  const { set } = frozenPlan(batch);
  const [rows, revision, clips] = await Promise.all([
    BatchFrame.findAll({ where: { batchId: batch.id }, attributes: ['shot', 'state', 'seconds'], order: ['position'], raw: true }),
    Revision.findByPk(batch.revisionId, { attributes: ['letter'] }),
    Clip.findAll({ where: { batchId: batch.id }, order: ['id'] }),
  ]);
  const waiting = (state: string): boolean => state === 'waiting' || state === 'rendering';
  const latest = await BatchFrame.findOne({ where: { batchId: batch.id, state: 'done' }, order: [['position', 'DESC']], attributes: ['seconds'] });
  const over = batch.state === 'stopped';
  const wall = (batch.wall ?? 0) + (live?.wall ?? 0);
  const busy = (batch.busy ?? 0) + (live?.busy ?? 0);
  const workers = live?.workers ?? pool.workers;
  const { quality } = set.sheet;
  return {
    id: batch.id,
    projectId: batch.projectId,
    setId: batch.setId,
    number: batch.number,
    name: set.name,
    revision: revision?.letter ?? '?',
    quality: typeof quality === 'string' ? quality : 'own',
    samples: samplingOf(quality).samples,
    rate: set.sheet.rate,
    size: set.sheet.size,
    state: batch.state as BatchReply['state'],
    reason: batch.reason,
    folder: store.picture('.', batch.folder),
    total: batch.total,
    done: rows.filter((r) => r.state === 'done').length,
    failed: rows.filter((r) => r.state === 'failed').length,
    elapsed: (batch.elapsed ?? 0) + (live?.elapsed ?? 0),
    remaining: over ? 0 : remainingSeconds(rows.map((r) => ({ shot: r.shot, seconds: r.seconds, waiting: waiting(r.state) }))),
    lastFrameSeconds: latest?.seconds ?? null,
    current: live?.current ?? null,
    idle: wall > 0.5 ? Math.max(0, 1 - busy / (wall * workers)) : null,
    workers,
    created: batch.created,
    ended: batch.ended ?? null,
    clips: clips.map(describeClip),
  };
}

export function describeClip({ id, shot, state, fileName, message, bytes }: Clip): ClipReply {
  return { id, shot, state: state as ClipReply['state'], fileName, message, bytes };
}

export function describeFrame(row: BatchFrame, frame: Frame, names: Map<string, string>): FrameReply {
  const { id, position, shot, number, name, state, seconds, samples, message, ended } = row;
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
    shotName: names.get(shot) ?? shot,
    kind: frame.kind,
    view: frame.view,
    time: frame.time,
    ...(frame.sun?.date && { date: frame.sun.date }),
    files: JSON.parse(row.files) as string[],
  };
}

export function shotNames(batch: Batch): Map<string, string> {
  const { set } = frozenPlan(batch);
  const runs = set.shots.flatMap((s) => [s.id, ...(set.sheet.sizes ?? []).map((size) => `${s.id}@${size.id}`)]);
  return new Map(runs.map((run) => [run, runName(set, run)]));
}

export async function listFrames(batch: Batch): Promise<FrameReply[]> {
  const frames = batchFrames(batch);
  const names = shotNames(batch);
  const rows = await BatchFrame.findAll({ where: { batchId: batch.id }, order: ['position'] });
  return rows.map((row) => describeFrame(row, frames[row.position]!, names));
}

/**
 * Sets rows right after a crash: what was being rendered waits again, and what counts as done but
 * has lost a file does too.
 */
export async function reconcile({ database, store, log }: ServerContext): Promise<void> {
  await database.write((transaction) => BatchFrame.update({ state: 'waiting' }, { where: { state: 'rendering' }, transaction }));
  await database.write((transaction) =>
    Clip.update(
      { state: 'failed', message: 'Cold Easel was ended while this was being made. Make it again.' },
      { where: { state: 'making' }, transaction },
    ),
  );
  const open = await Batch.findAll({ where: { state: { [Op.in]: ['queued', 'running', 'paused', 'held'] } } });
  for (const batch of open) {
    const done = await BatchFrame.findAll({ where: { batchId: batch.id, state: 'done' } });
    for (const row of done) {
      const files = JSON.parse(row.files) as string[];
      const there = await Promise.all(files.map((f) => store.exists(store.picture(batch.folder, f))));
      if (there.every(Boolean)) continue;
      log.warn({ batch: batch.number, frame: row.name }, 'a finished frame has lost its file; it is rendered again');
      row.set({ state: 'waiting', seconds: null, samples: null, ended: null, files: '[]' });
      await database.write((transaction) => row.save({ transaction }));
    }
  }
}
