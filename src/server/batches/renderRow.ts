/** Renders the frame of one row: from waiting to done, with its files whole on the disk before the row says so. */
import { readFile, rm } from 'node:fs/promises';
import type { Frame } from '../../core/frame/frame.js';
import { filmLayout } from '../../engine/upload/filmLayout.js';
import type { Checkpoint } from '../../engine/sampling/checkpoint.js';
import { framesBudget } from '../../engine/node/memoryBudget.js';
import { filmBytes, needsStrips } from '../../engine/sampling/strips.js';
import { sha256Of } from '../../engine/node/hashedFiles.js';
import type { ServerContext } from '../context.js';
import type { Batch, BatchFrame } from '../db/models.js';
import { ServerError } from '../errors.js';
import { checkRoom } from './diskRoom.js';
import { hasMaster } from './masters.js';
import { type FrameInWork, type Run, supportsEarlyStop } from './run.js';

type RowValues = Partial<
  Pick<
    BatchFrame,
    'state' | 'attempts' | 'seconds' | 'samples' | 'message' | 'ended' | 'files' | 'checksums' | 'damage' | 'noise' | 'takenFrom' | 'developed'
  >
>;

/** Writes what a frame has become, and counts it. */
export async function saveRow({ rows, counts }: ServerContext, row: BatchFrame, values: RowValues): Promise<void> {
  const { batchId, position, state, seconds, damage, takenFrom, developed } = row;
  row.set(values);
  await counts.saving(batchId, async () => {
    await rows.save(row, [...(Object.keys(values) as (keyof RowValues)[]), 'attempts']);
    return { before: { batchId, position, state, seconds, damage, takenFrom, developed }, after: row };
  });
}

/** What is kept of the frame's sampling, or null. */
async function checkpointOf({ store, executor }: ServerContext, batch: Batch, row: BatchFrame, frame: Frame): Promise<Checkpoint | null> {
  const bytes = await readFile(store.checkpoint(batch.id, row.position)).catch(() => null);
  const film = bytes && (await executor.decodeCheckpoint(bytes));
  // Pixels of an earlier version may have held less.
  const fits = film && film.identity === frame.identity && film.stride === filmLayout(frame).stride;
  return fits && film.samples < frame.sampling.samples ? film : null;
}

/** What a file is known by later: how long it is, and its SHA-256. */
export interface Checksum {
  bytes: number;
  sha256: string;
}

/** Milliseconds after which a row says that its frame is being rendered: most tiny frames are done by then. */
const NOTE_AFTER_MS = 400;

/** Rejects where the frame cannot be rendered or written; the row then says what it said while it was being rendered. */
export async function renderRow(context: ServerContext, run: Run, work: FrameInWork, onShare: (share: number) => void): Promise<void> {
  const { row, frame } = work;
  if (row.identity !== frame.identity) throw new ServerError('conflict', 'The engine has changed since this batch was planned; start a new batch.');
  row.set({ state: 'rendering', attempts: row.attempts + 1 });
  // Where that cannot be written, what comes of the frame cannot either, and that is told.
  const note = setTimeout(() => void context.rows.save(row, ['state', 'attempts']).catch(() => undefined), NOTE_AFTER_MS);
  try {
    await renderNoted(context, run, work, onShare);
  } finally {
    clearTimeout(note);
  }
}

/** Keeps a master, if that can be done: the frame itself is safe by now. */
async function keepMaster({ masters, log }: ServerContext, key: string, frame: Frame, samples: number, bytes: Uint8Array): Promise<void> {
  await masters
    .keep(key, frame, samples, bytes, sha256Of(bytes))
    .catch((e: unknown) => log.warn({ err: e, frame: frame.name }, 'a master could not be kept'));
}

/** Throws ServerError 'disk-full' where the film of a frame in strips has no room beside the reserve. */
async function checkFilmRoom({ store, config }: ServerContext, frame: Frame): Promise<void> {
  if (needsStrips(frame, framesBudget())) await checkRoom(store.root, config.reserveBytes + filmBytes(frame));
}

async function renderNoted(context: ServerContext, run: Run, work: FrameInWork, onShare: (share: number) => void): Promise<void> {
  const { executor, store } = context;
  const { batch } = run;
  const { row, frame, enough, stop } = work;
  // Frames of a movie are sampled in one go: there is nothing to go on from.
  const still = supportsEarlyStop(frame);
  const film = still ? await checkpointOf(context, batch, row, frame) : null;
  await checkFilmRoom(context, frame);
  const done = await executor.render(frame, store.source(run.digest.scene), {
    signal: stop.signal,
    ...(still && { enough: enough.signal }),
    ...(film && { resume: film }),
    stripFolder: store.strips(batch.id, row.position),
    keepMaster: context.masters.enabled && hasMaster(frame),
    onProgress: onShare,
    onStart: (film) => (work.film ??= film),
  });
  const kept = store.checkpoint(batch.id, row.position);
  if (done.film) await store.write(kept, done.film);
  if (run.pausing && done.ended === 'hand') {
    await saveRow(context, row, { state: 'waiting', attempts: row.attempts - 1 });
    return;
  }
  const checksums = done.files.map(({ bytes, sha256 }): Checksum => ({ bytes: bytes.length, sha256 }));
  for (const file of done.files) await store.write(store.picture(batch.folder, file.name), file.bytes);
  if (!done.film && still) await rm(kept, { force: true });
  await saveRow(context, row, {
    state: 'done',
    seconds: done.seconds + (film ? (row.seconds ?? 0) : 0),
    samples: done.samples,
    ended: done.ended,
    message: null,
    files: JSON.stringify(done.files.map((f) => f.name)),
    checksums: JSON.stringify(checksums),
    damage: null,
    noise: done.noise ?? null,
    takenFrom: null,
    developed: null,
  });
  if (done.master && row.masterKey) await keepMaster(context, row.masterKey, frame, done.samples, done.master);
}
