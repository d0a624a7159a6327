/** Goes at the start of a run through the waiting frames that need not be rendered. */
import { QueryTypes } from 'sequelize';
import type { Frame } from '../../core/frame/frame.js';
import type { ServerContext } from '../context.js';
import { BatchFrame } from '../db/models.js';
import { storageFault } from '../errors.js';
import { toFrameReply } from './repository.js';
import type { Run, RunHost } from './run.js';

/** Rows that are asked for at once. */
const ROWS_AT_ONCE = 200;

/**
 * Does something with each waiting row, some at a time, and tells of those of which it came to something. Rejects where the
 * disk or the database is at fault.
 * @param which a condition of SQL on the row `w`.
 */
export async function eachThere(
  context: ServerContext,
  run: Run,
  host: RunHost,
  { which, atOnce }: { which: string; atOnce: number },
  act: (row: BatchFrame, frame: Frame) => Promise<boolean>,
): Promise<void> {
  let after = -1;
  try {
    while (!run.ending && host.wanted()) {
      const found = await context.database.sequelize.query<{ id: number; position: number }>(
        `SELECT w.id, w.position FROM frames w WHERE w.batchId = $1 AND w.state = 'waiting' AND w.position > $2
           AND ${which} ORDER BY w.position LIMIT ${ROWS_AT_ONCE}`,
        { bind: [run.batch.id, after], type: QueryTypes.SELECT },
      );
      if (found.length === 0) return;
      after = found.at(-1)!.position;
      // All of them are over before a fault is told.
      const ends = await Promise.allSettled(
        Array.from({ length: atOnce }, async () => {
          for (let next = found.shift(); next && !run.ending && host.wanted(); next = found.shift()) {
            const row = await BatchFrame.findByPk(next.id);
            if (!row || !(await act(row, await run.frameAt(next.position)))) continue;
            context.events.send(run.batch.projectId, { type: 'frame', batchId: run.batch.id, frame: toFrameReply(row, run.digest) });
            run.scheduleProgress();
          }
        }),
      );
      const broken = ends.find((end) => end.status === 'rejected');
      if (broken) throw broken.reason;
    }
  } catch (e) {
    host.interrupted(storageFault(e, true));
    run.halt(false);
    throw e;
  }
}
