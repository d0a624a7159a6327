/** The report of a batch: plan, settings, machine, what became of each frame, and the checksums of its files. */
import { cpus } from 'node:os';
import type { BatchReport } from '../../contract/queue.js';
import { ENGINE_VERSION } from '../../core/frame/frame.js';
import { APPLICATION } from '../../core/base/application.js';
import type { ServerContext } from '../context.js';
import { type Batch, BatchFrame, Clip, Revision } from '../db/models.js';
import { lookOf } from './looks.js';
import type { Checksum } from './renderRow.js';
import { digestOfBatch, planSnapshot } from './snapshot.js';

/** Application and version as files and reports name them. */

function planOf(batch: Batch): unknown {
  try {
    return planSnapshot(batch).set;
  } catch {
    return null;
  }
}

/** All that can be said of a batch, as its report is written. */
export async function batchReport({ executor }: ServerContext, batch: Batch): Promise<BatchReport> {
  const digest = digestOfBatch(batch);
  const [rows, movies, revision] = await Promise.all([
    BatchFrame.findAll({ where: { batchId: batch.id }, order: ['position'], raw: true }),
    Clip.findAll({ where: { batchId: batch.id, state: 'ready' }, order: ['id'], raw: true }),
    Revision.findByPk(batch.revisionId, { attributes: ['letter'] }),
  ]);
  const frames = rows.map((r): BatchReport['frames'][number] => {
    const checksums = JSON.parse(r.checksums ?? '[]') as Checksum[];
    const names = JSON.parse(r.files) as string[];
    const look = lookOf(digest.looks, r.shot, r.view ?? '');
    return {
      shot: r.shot,
      number: r.number,
      name: r.name,
      state: r.state,
      identity: r.identity,
      seconds: r.seconds,
      samples: r.samples,
      attempts: r.attempts,
      message: r.message,
      takenOver: r.takenFrom !== null,
      ...(r.developed && { developed: r.developed as 'exact' | 'refiltered' }),
      ...(look !== undefined && { look }),
      ...(r.masterKey && { master: r.masterKey }),
      decision: r.decision,
      files: names.map((name, i) => ({ name, bytes: checksums[i]?.bytes ?? 0, sha256: checksums[i]?.sha256 ?? '' })),
    };
  });
  const count = (is: (f: (typeof frames)[number]) => boolean): number => frames.filter(is).length;
  return {
    application: APPLICATION,
    engine: ENGINE_VERSION,
    machine: `${cpus()[0]?.model.trim() ?? 'unknown processor'}, ${executor.workers} workers`,
    batch: {
      number: batch.number,
      name: digest.name,
      state: batch.state,
      reason: batch.reason,
      created: batch.created,
      ended: batch.ended,
      elapsed: batch.elapsed,
      revision: revision?.letter ?? '?',
      model: digest.scene,
      ...(digest.draft && { draft: digest.draft }),
      ...(digest.acceptedFaults && { acceptedFaults: digest.acceptedFaults }),
    },
    counts: {
      total: frames.length,
      done: count((f) => f.state === 'done'),
      failed: count((f) => f.state === 'failed'),
      takenOver: count((f) => f.takenOver),
      developed: count((f) => f.developed !== undefined),
      accepted: count((f) => f.decision === 'accepted'),
      bytes: frames.reduce((n, f) => n + f.files.reduce((m, file) => m + file.bytes, 0), 0),
    },
    plan: planOf(batch),
    frames,
    movies: movies.map(({ shot, fileName, bytes }) => ({ shot, file: fileName, bytes })),
  };
}
