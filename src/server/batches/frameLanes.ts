/** The frames of one run: some in work at a time, each from waiting to done, and what a failed one means. */
import { AbortedError } from '../../engine/scheduler/job.js';
import type { ServerContext } from '../context.js';
import type { BatchFrame } from '../db/models.js';
import { storageFault } from '../errors.js';
import { toFrameReply } from './repository.js';
import { passGate, setGate } from './gate.js';
import { bytesOfFrame } from '../../engine/node/memoryGate.js';
import { renderRow, saveRow } from './renderRow.js';
import { type FrameInWork, type Run, type RunHost, supportsEarlyStop } from './run.js';
import { developAll, developRow } from './developRow.js';
import { takeOver, takeOverAll } from './takeOver.js';
import { WaitingRows } from './waitingRows.js';

/** Frames in work at a time, where there is memory for them: while some are traced, others are being written. */
const MAX_FRAMES_IN_FLIGHT = 6;

/**
 * Renders the waiting frames of a run: the first ones, which are judged, and then the rest. Rejects where the disk or the
 * database is at fault; then no frame is in work any more.
 */
export async function renderWaitingFrames(context: ServerContext, run: Run, host: RunHost): Promise<void> {
  await takeOverAll(context, run, host);
  await developAll(context, run, host);
  // Whoever lets a batch that was held there run again has seen its first frames.
  if (run.batch.gate === 'waiting') await setGate(context, run.batch, null);
  if (run.batch.gate !== null) {
    await renderLanes(context, run, host, { first: 1 });
    if (!run.ending && host.wanted()) await passGate(context, run, host);
  }
  if (!run.ending) await renderLanes(context, run, host, {});
}

async function renderLanes(context: ServerContext, run: Run, host: RunHost, which: { first?: 1 }): Promise<void> {
  const rows = new WaitingRows({ ...which, batchId: run.batch.id });
  const lanes = await Promise.allSettled(Array.from({ length: MAX_FRAMES_IN_FLIGHT }, () => renderLane(context, run, host, rows)));
  const broken = lanes.find((l) => l.status === 'rejected');
  if (broken) throw broken.reason;
}

/** Renders one waiting frame after another. Rejects where the disk or the database is at fault. */
async function renderLane(context: ServerContext, run: Run, host: RunHost, rows: WaitingRows): Promise<void> {
  try {
    while (host.wanted() && !run.ending) {
      const row = await rows.next();
      if (!row) return;
      if (run.ending) return;
      await renderNext(context, run, host, row);
      rows.giveBack(row);
    }
  } catch (e) {
    // The others would meet the same. Whatever could not be written of the row is set right before the next run.
    host.interrupted(storageFault(e, true));
    run.halt(false);
    throw e;
  }
}

/** Renders once there is memory for the frame; one that was stopped meanwhile is not begun. */
async function inRoom(run: Run, { frame, stop }: FrameInWork, render: () => Promise<void>): Promise<void> {
  const bytes = bytesOfFrame(frame);
  await run.memory.enter(bytes);
  try {
    if (stop.signal.aborted) throw new AbortedError();
    await render();
  } finally {
    run.memory.leave(bytes);
  }
}

async function renderNext(context: ServerContext, run: Run, host: RunHost, row: BatchFrame): Promise<void> {
  const frame = await run.frameAt(row.position);
  const { attempts } = row;
  const work: FrameInWork = { row, frame, share: 0, enough: new AbortController(), stop: new AbortController() };
  run.current.set(row.position, work);
  // Halted while the frame was fetched: nobody else ends this one.
  if (run.halted) work.stop.abort();
  else if (run.yielding && supportsEarlyStop(frame)) work.enough.abort();
  const tellFrame = (): void =>
    context.events.send(run.batch.projectId, { type: 'frame', batchId: run.batch.id, frame: toFrameReply(row, run.digest) });
  try {
    await run.checkRoom(context);
    // An earlier frame of this batch may have made the same picture, or have the same light.
    const taken = run.hasTwins(row) && (await takeOver(context, run, row, frame));
    if (!taken && !(run.sharesMaster(row) && (await developRow(context, run, row, frame, work.stop.signal))))
      await inRoom(run, work, () =>
        renderRow(context, run, work, (share) => {
          // The first share says that it is being rendered.
          if (work.share === 0) tellFrame();
          work.share = share;
          run.scheduleProgress();
        }),
      );
    run.policy.succeeded();
    host.rendered();
  } catch (e) {
    if (e instanceof AbortedError) await saveRow(context, row, { state: 'waiting', attempts });
    else await handleFailure(context, run, host, row, e as Error);
  } finally {
    delete work.film;
    run.current.delete(row.position);
  }
  tellFrame();
  run.scheduleProgress();
}

/** Does what a failed frame means. Rejects with the fault where the batch must wait for the disk or the database. */
async function handleFailure(context: ServerContext, run: Run, host: RunHost, row: BatchFrame, error: Error): Promise<void> {
  const verdict = run.policy.judge(error, row.attempts);
  context.log.warn({ batch: run.batch.number, frame: row.name, err: error, verdict: verdict.kind }, 'a frame failed');
  // The row is set right before the next run: writing it now would only make every lane wait for the same lock in turn.
  if (verdict.kind === 'wait') throw verdict.fault;
  const failed = verdict.kind === 'failed' || (verdict.kind === 'hold' && verdict.failed);
  await saveRow(context, row, { state: failed ? 'failed' : 'waiting', message: verdict.message });
  if (verdict.kind === 'hold' && run.batch.state === 'running') {
    await host.hold(verdict.reason);
    run.halt(false);
  }
}
