/** Movies are made one after another, stopped, made again, by the next start too, and told apart from what their frames are now. */
import { existsSync, readdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { ClipReply } from '../../contract/batches.js';
import { probeMovie } from '../../engine/node/ffmpeg.js';
import { BatchFrame, Clip } from '../db/models.js';
import { MovieQueue } from './movieQueue.js';
import { recoverMovies } from './movies.js';

describe('the queue', () => {
  /** A queue whose movies end when they are told to. */
  function queueOf(closing = new AbortController().signal) {
    const queue = new MovieQueue(closing);
    const log: string[] = [];
    const ends = new Map<number, () => void>();
    const add = (id: number): void =>
      queue.add({
        id,
        tell: (share) => log.push(`${id} told ${share}`),
        run: (signal, onShare) =>
          new Promise((resolve) => {
            if (signal.aborted) {
              log.push(`${id} ${String(signal.reason)} before it began`);
              return resolve();
            }
            log.push(`${id} begins`);
            onShare(0.5);
            const end = (what: string) => (): void => {
              log.push(`${id} ${what}`);
              resolve();
            };
            ends.set(id, end('done'));
            signal.addEventListener('abort', () => end(String(signal.reason === 'stopped' ? 'stopped' : 'left'))());
          }),
      });
    return { queue, log, add, end: (id: number) => ends.get(id)!() };
  }
  const turn = (): Promise<void> => new Promise((r) => setTimeout(r, 0));

  it('makes one at a time, in order, and tells how far it is', async () => {
    const { queue, log, add, end } = queueOf();
    [1, 2].forEach(add);
    expect([queue.shareOf(1), queue.shareOf(2)]).toEqual([0.5, null]);
    end(1);
    await turn();
    end(2);
    await turn();
    expect(log).toEqual(['1 begins', '1 told 0.5', '1 done', '2 begins', '2 told 0.5', '2 done']);
  });

  it('stops the one in work and goes on with the next; one that waits never begins', async () => {
    const { queue, log, add } = queueOf();
    [1, 2, 3].forEach(add);
    expect([await queue.stop(2), await queue.stop(1), await queue.stop(9)]).toEqual([true, true, false]);
    await turn();
    expect(log.filter((l) => !l.includes('told'))).toEqual(['1 begins', '2 stopped before it began', '1 stopped', '3 begins']);
  });

  it('begins nothing once the server ends', async () => {
    const closing = new AbortController();
    const { log, add } = queueOf(closing.signal);
    [1, 2].forEach(add);
    closing.abort();
    await turn();
    expect(log.filter((l) => !l.includes('told'))).toEqual(['1 begins', '1 left']);
  });
});

const here = new BatchesHere();
const call = () => here.server.call();
const clipOf = async (batch: number, id: number): Promise<ClipReply> => (await here.batch(batch)).clips.find((c) => c.id === id)!;
async function asked(batch: number, options: object = {}): Promise<ClipReply> {
  const reply = await call().post(`/api/batches/${batch}/clips`).send({ shot: 'spin', options });
  expect([reply.status, reply.body]).toEqual([201, expect.anything()]);
  return reply.body as ClipReply;
}
async function ended(batch: number, id: number): Promise<ClipReply> {
  await here.until(batch, (b) => b.clips.find((c) => c.id === id)!.state !== 'making');
  return clipOf(batch, id);
}
const stale = async (batch: number): Promise<number[]> => (await call().get(`/api/batches/${batch}/clips/stale`).expect(200)).body as number[];

describe('movies of a batch', () => {
  it('of three codecs at once are made one after another', async () => {
    const batch = await here.rendered(await here.addSet(here.file(4)));
    const all = [await asked(batch.id), await asked(batch.id, { codec: 'vp9' }), await asked(batch.id, { codec: 'prores422' })];
    for (const { id } of all) expect(await ended(batch.id, id)).toMatchObject({ state: 'ready', message: null });
    expect(await stale(batch.id)).toEqual([]);
  });

  it('are stopped with nothing left behind, and made again under their names', async () => {
    const batch = await here.rendered(await here.addSet(here.file(4)));
    // Long enough to be stopped: each frame is shown many times, with words over it.
    const options = { loops: 20, speed: 0.1, line: { text: '{frame}' } };
    const clip = await asked(batch.id, options);
    const second = await asked(batch.id);
    await call().post(`/api/clips/${clip.id}/again`).expect(409);
    await call().post(`/api/clips/${clip.id}/stop`).expect(204);
    expect(await ended(batch.id, clip.id)).toMatchObject({ state: 'failed', message: 'Stopped. Make it again.' });
    expect((await ended(batch.id, second.id)).state).toBe('ready');
    const folder = path.dirname(path.join(batch.folder, clip.fileName));
    expect(readdirSync(folder).filter((f) => f.includes('.part') || f === path.basename(clip.fileName))).toEqual([]);
    await call().post(`/api/clips/${clip.id}/stop`).expect(409);
    // The same row, made as it was asked for.
    const row = (await Clip.findByPk(clip.id))!;
    await row.set({ asked: JSON.stringify({ shot: 'spin', options: { loops: 2 } }) }).save();
    const again = (await call().post(`/api/clips/${clip.id}/again`).expect(200)).body as ClipReply;
    expect(again).toMatchObject({ id: clip.id, fileName: clip.fileName });
    expect((await ended(batch.id, clip.id)).state).toBe('ready');
    expect((await probeMovie(path.join(batch.folder, clip.fileName))).frames).toBe(8);
  });

  it('are made by the next start where a server ended meanwhile, whole and under the same name', async () => {
    const batch = await here.rendered(await here.addSet(here.file(4)));
    const clip = await asked(batch.id, { rate: '12' });
    await ended(batch.id, clip.id);
    // As a server that was killed leaves it: its row says that it is being made.
    const { context } = here.server.running;
    await (await Clip.findByPk(clip.id))!.set({ state: 'making' }).save();
    const lost = await Clip.create({
      batchId: batch.id,
      shot: 'spin',
      state: 'making',
      fileName: 'gone.mp4',
      asked: JSON.stringify({ shot: 'no such shot' }),
    });
    await recoverMovies(context, () => Promise.resolve());
    expect(await ended(batch.id, clip.id)).toMatchObject({ state: 'ready', fileName: clip.fileName });
    expect((await probeMovie(path.join(batch.folder, clip.fileName))).rate).toBe('12');
    expect(await clipOf(batch.id, lost.id)).toMatchObject({ state: 'failed', message: expect.stringContaining('no such shot') as string });
  });

  it('say that their frames changed, until they are made again', async () => {
    const batch = await here.rendered(await here.addSet(here.file(3)));
    const clip = await asked(batch.id);
    await ended(batch.id, clip.id);
    expect(await stale(batch.id)).toEqual([]);
    const row = (await BatchFrame.findOne({ where: { batchId: batch.id } }))!;
    const sums = JSON.parse(row.checksums!) as { sha256: string }[];
    await row.set({ checksums: JSON.stringify([{ ...sums[0], sha256: '0'.repeat(64) }]) }).save();
    expect(await stale(batch.id)).toEqual([clip.id]);
    await call().post(`/api/clips/${clip.id}/again`).expect(200);
    expect((await ended(batch.id, clip.id)).state).toBe('ready');
    expect(await stale(batch.id)).toEqual([]);
  });

  it('are made of what is there while the rest renders, and are behind it then', async () => {
    const set = await here.addSet(here.file(5));
    let go = (): void => undefined;
    const rest = new Promise<void>((resolve) => (go = resolve));
    let begun = 0;
    here.before(async () => {
      if (++begun > 3) await rest;
    });
    const batch = await here.start(set);
    await here.until(batch.id, (b) => b.done === 3);
    // Whole movies are refused until then.
    expect((await call().post(`/api/batches/${batch.id}/clips`).send({ shot: 'spin' })).status).toBe(422);
    const clip = await asked(batch.id, { partial: true });
    expect((await ended(batch.id, clip.id)).state).toBe('ready');
    const file = path.join(batch.folder, clip.fileName);
    expect((await probeMovie(file)).frames).toBe(3);
    expect(await stale(batch.id)).toEqual([]);
    go();
    await here.whole(batch.id);
    expect(await stale(batch.id)).toEqual([clip.id]);
    await call().post(`/api/clips/${clip.id}/again`).expect(200);
    await ended(batch.id, clip.id);
    expect([(await probeMovie(file)).frames, await stale(batch.id), existsSync(file)]).toEqual([5, [], true]);
  });

  it('end where a frame’s file is gone, and the next one is made', async () => {
    const batch = await here.rendered(await here.addSet(here.file(12)));
    const [, , third] = await here.frames(batch.id);
    rmSync(path.join(batch.folder, third!.files[0]!));
    const [clip, other] = [await asked(batch.id), await asked(batch.id, { from: 5 })];
    expect(await ended(batch.id, clip.id)).toMatchObject({ state: 'failed' });
    expect((await ended(batch.id, other.id)).state).toBe('ready');
    expect((await probeMovie(path.join(batch.folder, other.fileName))).frames).toBe(8);
  });

  it('of earlier versions cannot be made again, and say so', async () => {
    const batch = await here.rendered(await here.addSet(here.file(2)));
    const old = await Clip.create({ batchId: batch.id, shot: 'spin', state: 'ready', fileName: 'old.mp4' });
    const reply = await call().post(`/api/clips/${old.id}/again`).expect(409);
    expect((reply.body as { detail: string }).detail).toContain('earlier version');
    expect(await stale(batch.id)).toEqual([]);
  });
});
