/** What this machine's earlier batches came to, beside what was foreseen of them. */
import { cpus } from 'node:os';
import { QueryTypes, type Sequelize } from 'sequelize';
import type { PastBatch } from '../../core/forecast/learnt.js';
import type { Range } from '../../core/forecast/range.js';

/** What is kept of a batch's forecast. */
export interface StoredForecast {
  seconds: Range;
  bytes: number;
  /** As machineOf has it, and by what was learnt until then. */
  machine: string;
  learnt: { seconds: number; bytes: number };
}

/** What tells this machine from others, as to how fast it is. */
export const machineOf = (workers: number): string => `${cpus()[0]?.model ?? 'unknown'} × ${workers}`;

/** Batches that are looked at. */
const MAX_PAST = 20;

interface Row {
  forecast: string;
  seconds: number;
  foreseen: number;
  bytes: number;
  foreseenBytes: number;
}

/** The latest first, of those that a machine rendered; of frames alone that took all their samples. */
export async function pastBatches(sequelize: Sequelize, machine: string): Promise<PastBatch[]> {
  const rows = await sequelize.query<Row>(
    `SELECT b.forecast, total(f.seconds) AS seconds, total(f.foreseen) AS foreseen, total(f.foreseenBytes) AS foreseenBytes,
       total((SELECT sum(json_extract(value, '$.bytes')) FROM json_each(f.checksums))) AS bytes
     FROM (SELECT id, forecast FROM batches WHERE forecast IS NOT NULL AND json_extract(forecast, '$.machine') = $1 ORDER BY id DESC LIMIT ${MAX_PAST}) AS b
     JOIN frames f ON f.batchId = b.id
     WHERE f.state = 'done' AND f.ended = 'samples' AND f.seconds IS NOT NULL AND f.foreseen IS NOT NULL
     GROUP BY b.id ORDER BY b.id DESC`,
    { bind: [machine], type: QueryTypes.SELECT },
  );
  return rows.map(({ forecast, seconds, foreseen, bytes, foreseenBytes }) => {
    const { learnt } = JSON.parse(forecast) as StoredForecast;
    return { measured: { seconds, bytes }, foreseen: { seconds: foreseen / learnt.seconds, bytes: foreseenBytes / learnt.bytes } };
  });
}
