/** Writes down what is foreseen of a batch, so that its remaining time begins with that and learns from what is measured. */
import { Op } from 'sequelize';
import type { ServerContext } from '../context.js';
import { Batch, Revision } from '../db/models.js';
import { planSnapshot } from '../batches/snapshot.js';
import { CheckStopped } from '../planning/preflight.js';
import type { Foreseen } from './forecastCache.js';
import { foresee } from './foresee.js';
import type { StoredForecast } from './pastBatches.js';

/** A batch that is over by then needs no forecast. */
const WAIT_MS = 2000;
const ROWS_PER_QUERY = 5000;

async function write({ database, counts, forecasts }: ServerContext, batch: Batch, foreseen: Foreseen): Promise<void> {
  const { forecast, seconds, bytes, plan, learnt } = foreseen;
  const stored: StoredForecast = {
    seconds: forecast.seconds,
    bytes: forecast.bytes,
    machine: forecasts.machine,
    learnt: { seconds: learnt.seconds, bytes: learnt.bytes },
  };
  for (let from = 0; from < seconds.length; from += ROWS_PER_QUERY) {
    const rows = plan.frames
      .slice(from, from + ROWS_PER_QUERY)
      .map((f, i) => [seconds[from + i]!, bytes[from + i]!, f.seen ? JSON.stringify(f.seen) : null]);
    await database.write((transaction) =>
      database.sequelize.query(
        `UPDATE frames SET foreseen = row.foreseen, foreseenBytes = row.bytes, traits = row.traits
         FROM (SELECT $1 + key AS position, json_extract(value, '$[0]') AS foreseen, json_extract(value, '$[1]') AS bytes,
           json_extract(value, '$[2]') AS traits FROM json_each($2)) AS row
         WHERE frames.batchId = $3 AND frames.position = row.position`,
        { bind: [from, JSON.stringify(rows), batch.id], transaction },
      ),
    );
  }
  await database.write((transaction) => Batch.update({ forecast: JSON.stringify(stored) }, { where: { id: batch.id }, transaction }));
  counts.forget(batch.id);
}

/** Until then a run is told by its own frames alone. */
const rest = (signal: AbortSignal): Promise<void> =>
  new Promise((resolve) => {
    const timer = setTimeout(resolve, WAIT_MS);
    timer.unref();
    signal.addEventListener('abort', () => resolve(), { once: true });
  });

/**
 * Foresees a batch that was just made: at once where its plan was foreseen before, else while it runs. It never rejects:
 * without a forecast the remaining time goes by the frames that are done.
 */
export async function foreseeBatch(context: ServerContext, batch: Batch, tell: () => Promise<void>): Promise<void> {
  const signal = context.closing;
  try {
    const { set, context: planContext, select } = planSnapshot(batch);
    const plan = { set, context: planContext, ...(select !== undefined && { select }) };
    let foreseen = context.forecasts.known(plan);
    if (!foreseen) {
      await rest(signal);
      const open = await Batch.findOne({ where: { id: batch.id, state: { [Op.in]: ['queued', 'running', 'paused', 'held'] } }, attributes: ['id'] });
      const revision = open && !signal.aborted ? await Revision.findByPk(batch.revisionId) : null;
      if (!revision) return;
      foreseen = await foresee(context, revision, plan, signal);
    }
    if (foreseen.seconds.length !== batch.total || signal.aborted) return;
    await write(context, batch, foreseen);
    await tell();
  } catch (e) {
    if (!(e instanceof CheckStopped) && !signal.aborted) context.log.warn({ err: e, batch: batch.number }, 'a batch could not be foreseen');
  }
}
