/** Movies with a slate, at a bit rate, and with another revision beside: what they are, how large they were foreseen, and when they are behind. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { longTest } from '../../../tests/support/long.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply, ClipReply, MovieForecastReply } from '../../contract/batches.js';
import type { PackageReply } from '../../contract/packages.js';
import type { SetFile } from '../../core/plan/set.js';
import { readFacts } from '../../engine/node/auditPackage.js';
import { probeMovie } from '../../engine/node/ffmpeg.js';
import { BatchFrame } from '../db/models.js';
import { joinedSize, sideBySide } from './movieFrames.js';

const here = new BatchesHere();
const call = () => here.server.call();

async function made(batch: BatchReply, options: object): Promise<{ clip: ClipReply; file: string }> {
  const reply = await call().post(`/api/batches/${batch.id}/clips`).send({ shot: 'spin', options });
  expect([reply.status, reply.body]).toEqual([201, expect.anything()]);
  const clip = await until(
    async () => (await here.batch(batch.id)).clips.find((c) => c.id === (reply.body as ClipReply).id)!,
    ({ state }) => state !== 'making',
  );
  expect([clip.state, clip.message]).toEqual(['ready', null]);
  return { clip, file: path.join(batch.folder, clip.fileName) };
}
const foreseen = async (batch: BatchReply, options: object): Promise<MovieForecastReply> =>
  (await call().post(`/api/batches/${batch.id}/clips/forecast`).send({ shot: 'spin', options }).expect(200)).body as MovieForecastReply;
/** Frames of a movie as RGB. */
const pixels = (file: string, width: number, height: number): Buffer[] => {
  const all = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'], { maxBuffer: 2 ** 28 });
  return Array.from({ length: all.length / (width * height * 3) }, (_, i) => all.subarray(i * width * height * 3, (i + 1) * width * height * 3));
};
const meanOf = (bytes: Uint8Array): number => bytes.reduce((sum, v) => sum + v, 0) / bytes.length;

describe('a slate', () => {
  it('is a dark page with words before the first frame, and counts in length and audit', async () => {
    const plain = here.file(6, 1);
    const set = await here.addSet({ ...plain, sheet: { ...plain.sheet, size: { width: 256, height: 144 } } });
    const batch = await here.rendered(set);
    const { file } = await made(batch, { rate: '24', slate: { text: '{project}\n{shot}, {size}', seconds: 0.5 }, quality: 100 });
    const { frames, seconds } = await probeMovie(file);
    expect([frames, seconds]).toEqual([12 + 6, 18 / 24]);
    const shown = pixels(file, 256, 144);
    expect(meanOf(shown[0]!)).toBeLessThan(60);
    // Words are light on it.
    expect(shown[0]!.filter((v) => v > 170).length).toBeGreaterThan(20);
    expect(meanOf(shown[12]!)).toBeGreaterThan(meanOf(shown[0]!) + 20);
    const pack = await call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'Slate', renders: [{ batch: batch.id, run: 'spin' }], movies: true });
    let now = pack.body as PackageReply;
    while (now.state === 'making') now = (await call().get(`/api/packages/${now.id}`)).body as PackageReply;
    expect([now.state, now.faults]).toEqual(['ready', []]);
  });
});

describe('an image sequence', () => {
  it('is a ZIP of the frames as they are, in the order of the movie, and is audited', async () => {
    const plain = here.file(4, 1);
    const set = await here.addSet({ ...plain, sheet: { ...plain.sheet, size: { width: 32, height: 18 }, files: [{ type: 'png', bits: 16 }] } });
    const batch = await here.rendered(set);
    const { file, clip } = await made(batch, { codec: 'sequence', play: 'thereAndBack' });
    expect(path.extname(clip.fileName)).toBe('.zip');
    const files = unzipSync(readFileSync(file));
    const stem = path.basename(clip.fileName, '.zip');
    expect(Object.keys(files)).toEqual([1, 2, 3, 4, 5, 6].map((n) => `${stem}_000${n}.png`));
    const rows = await BatchFrame.findAll({ where: { batchId: batch.id, shot: 'spin' }, order: ['position'] });
    const sources = rows.map((r) => readFileSync(path.join(batch.folder, (JSON.parse(r.files) as string[])[0]!)));
    expect(Object.values(files).map((bytes) => sources.findIndex((s) => s.equals(bytes)))).toEqual([0, 1, 2, 3, 2, 1]);
    const facts = await readFacts(file, 'movie');
    expect(facts).toMatchObject({ type: 'sequence', width: 32, height: 18, movie: { frames: 6 } });
    // What lies over frames is in them, and clear ones stay clear.
    const lined = await made(batch, { codec: 'sequence', line: { text: '{frame}' } });
    const [first] = Object.values(unzipSync(readFileSync(lined.file)));
    expect(Buffer.from(first!).equals(sources[0]!)).toBe(false);
    expect(await sharp(first).metadata()).toMatchObject({ format: 'png', width: 32, height: 18 });
  });

  it('that is cut short, or has a frame that is no image, is found', async () => {
    const png = await sharp({ create: { width: 4, height: 4, channels: 3, background: '#fff' } })
      .png()
      .toBuffer();
    const file = path.join(mkdtempSync(path.join(tmpdir(), 'easel-sequence-')), 'a.zip');
    const problem = async (bytes: Uint8Array): Promise<string | undefined> => {
      writeFileSync(file, bytes);
      return (await readFacts(file, 'movie'))!.problem;
    };
    const pack = (frames: Record<string, Uint8Array>): Uint8Array => zipSync(frames, { level: 0 });
    expect(await problem(pack({ 'a_0001.png': png, 'a_0002.png': png }))).toBeUndefined();
    expect(await problem(pack({ 'a_0001.png': png, 'a_0003.png': png }))).toBe('Frame 2 is missing.');
    expect(await problem(pack({ 'a_0001.png': png, 'a_0002.png': png.subarray(0, 60) }))).toMatch(/^a_0002.png: /);
    expect(await problem(pack({ 'a_0001.png': png, 'notes.txt': png }))).toBe('notes.txt is no frame of a sequence.');
    expect(await problem(Buffer.from('no archive'))).toBe('It holds no frame.');
    const cut = pack({ 'a_0001.png': png, 'a_0002.png': png });
    expect(await problem(cut.subarray(0, cut.length / 2))).toBe('The ZIP is cut short or damaged.');
    rmSync(path.dirname(file), { recursive: true });
  });
});

describe('the size of a movie', () => {
  // Long enough for an encoder to keep to a rate, and noisy enough to need it.
  const long = (): SetFile => {
    const plain = here.file(25, 1);
    return { ...plain, sheet: { ...plain.sheet, size: { width: 160, height: 90 }, rate: '24' } };
  };

  longTest('is foreseen by its bit rate, or by trials, and comes out about so', async () => {
    const batch = await here.rendered(await here.addSet(long()));
    const byRate = { bitRate: 300, loops: 8 };
    const rated = await foreseen(batch, byRate);
    expect(rated).toEqual({ bytes: (300 * 125 * 200) / 24, frames: 200 });
    const { file } = await made(batch, byRate);
    const { size } = statSync(file);
    // One pass of the encoder comes to its rate within a fifth over eight seconds (common practice, no source).
    expect(Math.abs(size / rated.bytes - 1)).toBeLessThan(0.2);
    for (const codec of ['h264', 'prores422'] as const) {
      const tried = await foreseen(batch, { codec });
      const { size: came } = statSync((await made(batch, { codec })).file);
      expect([codec, tried.frames]).toEqual([codec, 25]);
      expect(Math.abs(tried.bytes / came - 1)).toBeLessThan(0.35);
    }
  });

  it('is refused where a codec has no bit rate', async () => {
    const batch = await here.rendered(await here.addSet(here.file(3)));
    const reply = await call()
      .post(`/api/batches/${batch.id}/clips`)
      .send({ shot: 'spin', options: { codec: 'gif', bitRate: 500 } });
    expect([reply.status, (reply.body as { detail: string }).detail]).toEqual([400, expect.stringContaining('have no bit rate')]);
  });
});

describe('two batches side by side', () => {
  it('are one movie of both, as wide as both, and behind when either changes', async () => {
    const plain = here.file(4);
    const set = await here.addSet(plain);
    const first = await here.rendered(set);
    // The other is darker by four stops, and of another size.
    const other = await here.addSet({
      ...plain,
      grade: { ...plain.grade, exposure: -4 },
      sheet: { ...plain.sheet, size: { width: 128, height: 72 } },
    });
    const second = await here.rendered(other);
    const { clip, file } = await made(first, { beside: { batch: second.id }, quality: 100 });
    expect(clip.fileName).toContain('-beside');
    const { width, height, frames } = await probeMovie(file);
    expect([width, height, frames]).toEqual([128, 36, 4]);
    const [shown] = pixels(file, 128, 36);
    // Above the words at the lower left of each side.
    const half = (x0: number): number => {
      const values: number[] = [];
      for (let y = 0; y < 24; y++) for (let x = x0; x < x0 + 64; x++) values.push(shown![(y * 128 + x) * 3 + 1]!);
      return meanOf(Uint8Array.from(values));
    };
    expect(half(0)).toBeGreaterThan(half(64) * 1.5);
    const stale = async (): Promise<number[]> => (await call().get(`/api/batches/${first.id}/clips/stale`)).body as number[];
    expect(await stale()).toEqual([]);
    const pack = await call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'Beside', renders: [{ batch: first.id, run: 'spin' }], movies: true });
    let now = pack.body as PackageReply;
    while (now.state === 'making') now = (await call().get(`/api/packages/${now.id}`)).body as PackageReply;
    // The audit holds it to its own size.
    expect([now.state, now.faults]).toEqual(['ready', []]);
    // The other side is rendered anew, with other files.
    await BatchFrame.update({ checksums: '[]' }, { where: { batchId: second.id, number: 2 } });
    expect(await stale()).toEqual([clip.id]);
  });

  it('come to the height of the first, and to even numbers across', async () => {
    // 91 × 50 is 65.52 × 36: rounded to 66, beside 65 it is 131, and a column more.
    const first = { width: 65, height: 36 };
    const second = { width: 91, height: 50 };
    expect(joinedSize(first, second)).toEqual({ width: 132, height: 36 });
    const grey = ({ width, height }: typeof first) =>
      sharp({ create: { width, height, channels: 3, background: '#808080' } })
        .png()
        .toBuffer();
    const joined = await sideBySide([() => grey(first), () => grey(second)], [first, second], ['revision A', 'revision B'])();
    const { width, height } = await sharp(joined).metadata();
    expect({ width, height }).toEqual(joinedSize(first, second));
  });

  it('are refused where the other lacks a frame', async () => {
    const set = await here.addSet(here.file(5));
    const batch = await here.rendered(set);
    const fewer = await here.rendered(await here.addSet({ ...here.file(5), name: 'Fewer' }), { select: '1-3', anew: true });
    const reply = await call()
      .post(`/api/batches/${batch.id}/clips`)
      .send({ shot: 'spin', options: { beside: { batch: fewer.id } } });
    expect([reply.status, (reply.body as { detail: string }).detail]).toEqual([
      422,
      expect.stringContaining(`Batch ${fewer.number} has no finished frame 4, 5 of this shot.`),
    ]);
  });
});
