/** Sound of movies: fitted, encoded as the container has it, and read back. */
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import { PITCH, tone } from '../../../tests/support/tone.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply, ClipReply } from '../../contract/batches.js';
import type { SoundReply } from '../../contract/contract.js';
import { judgeFile } from '../../core/handover/audit.js';
import { readFacts } from '../../engine/node/auditPackage.js';
import { findFfmpeg, probeMovie } from '../../engine/node/ffmpeg.js';

const server = new ServerHere();
const call = () => server.call();
let batch: BatchReply;

const batchNow = async (): Promise<BatchReply> => (await call().get(`/api/batches/${batch.id}`)).body as BatchReply;

beforeAll(async () => {
  await server.start();
  const project = await server.blockProject('Sound', '?unit=mm&up=z');
  const plain = spin(4);
  const set = await server.addSet(project, { ...plain, sheet: { ...plain.sheet, size: { width: 64, height: 36 }, rate: '4' } });
  batch = (await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id, firstFrames: 0 })).body as BatchReply;
  await until(batchNow, (b) => b.state === 'done');
});
afterAll(() => server.end());

const sent = (name: string, bytes: Buffer) => call().post('/api/sounds').attach('files', bytes, name);

async function made(options: object): Promise<string> {
  const reply = await call().post(`/api/batches/${batch.id}/clips`).send({ shot: 'spin', options });
  expect([reply.status, reply.body]).toEqual([201, expect.anything()]);
  const of = (b: BatchReply) => b.clips.find((c) => c.id === (reply.body as ClipReply).id)!;
  const clip = of(await until(batchNow, (b) => of(b).state !== 'making'));
  expect([clip.state, clip.message]).toEqual(['ready', null]);
  return path.join(batch.folder, clip.fileName);
}

/** Loudness (root of the mean square, 1 is full) and pitch of a piece of a movie's sound. */
function heard(file: string, from: number, to: number): { loud: number; pitch: number } {
  const { stdout } = spawnSync(findFfmpeg(), ['-loglevel', 'error', '-i', file, '-map', '0:a:0', '-ac', '1', '-ar', '8000', '-f', 'f32le', '-']);
  const all = new Float32Array(stdout.buffer.slice(stdout.byteOffset, stdout.byteOffset + (stdout.length & ~3)));
  const piece = all.subarray(from * 8000, to * 8000);
  let [square, crossings] = [0, 0];
  piece.forEach((v, i) => {
    square += v * v;
    if (i > 0 && v >= 0 && piece[i - 1]! < 0) crossings++;
  });
  return { loud: Math.sqrt(square / piece.length), pitch: crossings / (to - from) };
}

describe('a movie with sound', () => {
  // A sine of 12 000 of 32 768: its root of the mean square.
  const LOUD = 12_000 / 32_768 / Math.SQRT2;

  it.each([
    ['h264', 'aac'],
    ['prores422', 'pcm_s16le'],
    ['vp9', 'opus'],
  ])('of %s has it as %s, silent where the file ends before the movie does', async (codec, sound) => {
    const { file, seconds } = (await sent('tone.wav', tone(0.5)).expect(201)).body as SoundReply;
    expect(seconds).toBeCloseTo(0.5, 2);
    const movie = await made({ codec, sound: { file, name: 'tone.wav' } });
    const facts = await probeMovie(movie);
    expect([facts.frames, facts.rate, facts.sound!.codec]).toEqual([4, '4', sound]);
    expect(Math.abs(facts.sound!.seconds - 1)).toBeLessThan(0.06);
    const [during, after] = [heard(movie, 0.1, 0.4), heard(movie, 0.6, 0.95)];
    expect(Math.abs(during.loud / LOUD - 1)).toBeLessThan(0.05);
    expect(Math.abs(during.pitch - PITCH)).toBeLessThan(15);
    expect(after.loud).toBeLessThan(0.01);
    // The audit hears it, and hears where another was promised or none.
    const real = (await readFacts(movie, 'movie'))!;
    const entry = {
      kind: 'movie' as const,
      path: path.basename(movie),
      bytes: real.bytes,
      sha256: real.sha256,
      width: 64,
      height: 36,
      type: real.type!,
      run: 'spin',
      rate: '4',
      frames: 4,
    };
    expect(judgeFile({ ...entry, sound }, real)).toEqual([]);
    expect(judgeFile(entry, real).map((f) => [f.rule, f.expected, f.found])).toEqual([['sound', 'no sound', sound]]);
    expect(judgeFile({ ...entry, sound: 'mp3' }, real).map((f) => f.rule)).toEqual(['sound']);
    const short = { ...real, movie: { ...real.movie!, sound: { codec: sound, seconds: 0.5 } } };
    expect(judgeFile({ ...entry, sound }, short).map((f) => [f.rule, f.found])).toEqual([['sound', '0.50 s']]);
  });

  it('begins it again where it is to, fades it, and changes its gain', async () => {
    const { file } = (await sent('tone.wav', tone(0.25)).expect(201)).body as SoundReply;
    const movie = await made({ codec: 'prores422', sound: { file, name: 'tone.wav', fit: 'loop', fadeOut: 0.4, gain: -6 } });
    // -6 dB is a factor of 10^(-6/20).
    expect(heard(movie, 0.3, 0.55).loud / LOUD).toBeCloseTo(10 ** (-6 / 20), 1);
    expect(heard(movie, 0.3, 0.55).loud).toBeGreaterThan(0.1);
    expect(heard(movie, 0.95, 1).loud).toBeLessThan(0.02);
  });

  it('cuts what is longer than the movie', async () => {
    const { file } = (await sent('long.wav', tone(3)).expect(201)).body as SoundReply;
    const facts = await probeMovie(await made({ sound: { file, name: 'long.wav' } }));
    expect(Math.abs(facts.sound!.seconds - 1)).toBeLessThan(0.06);
    expect(Math.abs(facts.seconds - 1)).toBeLessThan(0.002);
  });

  it('is refused where the codec has none, where the file is none, and where it is not here', async () => {
    const { file } = (await sent('tone.wav', tone(0.25)).expect(201)).body as SoundReply;
    const ask = (options: object) => call().post(`/api/batches/${batch.id}/clips`).send({ shot: 'spin', options });
    const said = async (reply: ReturnType<typeof ask>): Promise<[number, string]> => [
      (await reply).status,
      ((await reply).body as { detail: string }).detail,
    ];
    expect(await said(ask({ codec: 'gif', sound: { file, name: 'tone.wav' } }))).toEqual([400, expect.stringContaining('no sound')]);
    expect(await said(ask({ sound: { file: `${'0'.repeat(64)}.wav`, name: 'lost.wav' } }))).toEqual([
      422,
      expect.stringContaining('"lost.wav" is not here'),
    ]);
    expect(await said(sent('torn.wav', Buffer.from('RIFF, but no more')))).toEqual([
      422,
      expect.stringContaining('torn.wav cannot be read as sound'),
    ]);
    expect((await sent('list.mp3', Buffer.from('#EXTM3U\nfile:///etc/passwd\n'))).status).toBe(422);
    expect((await sent('words.txt', Buffer.from('words'))).status).toBe(415);
  });
});
