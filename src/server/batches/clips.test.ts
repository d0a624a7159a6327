/** Movies of renders with a clear backdrop, read back by ffmpeg. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply, ClipReply } from '../../contract/batches.js';
import type { PackageReply } from '../../contract/packages.js';
import { findFfmpeg, probeMovie } from '../../engine/node/ffmpeg.js';

const server = new ServerHere();
beforeAll(() => server.start());
afterAll(() => server.end());

const call = () => server.call();

const batchOf = async (id: number): Promise<BatchReply> => (await call().get(`/api/batches/${id}`)).body as BatchReply;

/** First frame of a movie of the batch, as RGB. */
async function firstFrame(batch: BatchReply, background?: string): Promise<((x: number, y: number) => number[]) & { fileName: string }> {
  const { body } = await call()
    .post(`/api/batches/${batch.id}/clips`)
    .send({ shot: 'spin', ...(background && { background }) });
  const { clips } = await until(
    () => batchOf(batch.id),
    (b) => b.clips.some((c) => c.id === (body as ClipReply).id && c.state !== 'making'),
  );
  const clip = clips.find((c) => c.id === (body as ClipReply).id)!;
  expect([clip.state, clip.message]).toEqual(['ready', null]);
  const file = path.join(batch.folder, clip.fileName);
  const { stdout } = spawnSync(findFfmpeg(), ['-loglevel', 'error', '-i', file, '-frames:v', '1', '-f', 'image2pipe', '-c:v', 'png', '-']);
  const { data: rgb, info } = await sharp(stdout).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const at = (x: number, y: number): number[] => [...rgb.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3)];
  return Object.assign(at, { fileName: clip.fileName });
}

describe('a movie of renders with a clear backdrop', () => {
  it('shows the colour asked for behind them, neutral grey where none is, and no ragged edge', async () => {
    const project = await server.blockProject('Block', '?unit=mm&up=z');
    const plain = spin(2);
    const file = {
      ...plain,
      sheet: { ...plain.sheet, size: { width: 96, height: 54 }, alpha: true },
      stage: { ...plain.stage, ground: { kind: 'none' as const } },
    };
    const set = await server.addSet(project, file);
    const { body } = await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id });
    const batch = await until(
      () => batchOf((body as BatchReply).id),
      (b) => b.state === 'done',
    );
    expect([batch.failed, batch.alpha]).toEqual([0, true]);
    const [row] = (await call().get(`/api/batches/${batch.id}/frames?from=0&to=1`)).body as { files: string[] }[];
    const still = path.join(batch.folder, row!.files[0]!);
    const alpha = await sharp(still).extractChannel(3).raw().toBuffer();
    // There is something clear to be filled, and edges that are half clear.
    expect(alpha.filter((a) => a < 20).length).toBeGreaterThan(100);
    expect(alpha.filter((a) => a > 50 && a < 200).length).toBeGreaterThan(20);
    for (const background of [undefined, '#ffffff']) {
      const shown = await firstFrame(batch, background);
      const wanted = await sharp(still)
        .flatten({ background: background ?? '#7b7b7b' })
        .raw()
        .toBuffer();
      // Green, which is nearly what a movie keeps at every pixel: halved chroma changes it little.
      const off = Array.from(alpha, (_, i) => Math.abs(shown(i % 96, Math.floor(i / 96))[1]! - wanted[i * 3 + 1]!));
      expect(off.reduce((sum, v) => sum + v, 0) / off.length).toBeLessThan(2);
      expect(Math.max(...off)).toBeLessThan(25);
    }
  });
});

describe('a movie of a draft', () => {
  it('is marked in its name and in its upper left corner, and the movie of the final is not', async () => {
    const project = await server.blockProject('Draft', '?unit=mm&up=z');
    const plain = spin(2);
    const set = await server.addSet(project, { ...plain, sheet: { ...plain.sheet, size: { width: 192, height: 108 } } });
    const rendered = async (choice: object): Promise<BatchReply> => {
      const reply = await call()
        .post(`/api/sets/${set.id}/batches`)
        .send({ revision: project.revisions[0]!.id, ...choice });
      return until(
        () => batchOf((reply.body as BatchReply).id),
        (b) => b.state === 'done',
      );
    };
    const final = await firstFrame(await rendered({}));
    // Of half the samples alone: the same size, so that pixels can be compared.
    const draft = await firstFrame(await rendered({ draft: { size: 1, samples: 0.5 } }));
    expect([final.fileName, draft.fileName]).toEqual(['Spin/spin/spin_beauty.mp4', 'Spin/spin/spin_beauty-draft.mp4']);
    const away = (x0: number, y0: number): number => {
      let most = 0;
      for (let y = y0; y < y0 + 16; y++)
        for (let x = x0; x < x0 + 40; x++) most = Math.max(most, ...final(x, y).map((v, c) => Math.abs(v - draft(x, y)[c]!)));
      return most;
    };
    expect(away(2, 2)).toBeGreaterThan(80);
    expect(away(140, 2)).toBeLessThan(24);
    expect(away(2, 80)).toBeLessThan(24);
  });
});

describe('movies of every codec', () => {
  it('are what was asked: rate, length, words, fades and clearness, by the audit that reads them', async () => {
    const project = await server.blockProject('Codecs', '?unit=mm&up=z');
    const plain = spin(6);
    const sheet = { ...plain.sheet, size: { width: 96, height: 54 }, alpha: true, rate: '24000/1001' };
    const set = await server.addSet(project, { ...plain, sheet, stage: { ...plain.stage, ground: { kind: 'none' as const } } });
    const { body } = await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id, firstFrames: 0 });
    const { id } = await until(
      () => batchOf((body as BatchReply).id),
      (b) => b.state === 'done',
    );
    const made = async (options: object): Promise<ClipReply> => {
      const reply = await call().post(`/api/batches/${id}/clips`).send({ shot: 'spin', options });
      expect([reply.status, reply.body]).toEqual([201, expect.anything()]);
      const { clips } = await until(
        () => batchOf(id),
        (b) => b.clips.some((c) => c.id === (reply.body as ClipReply).id && c.state !== 'making'),
      );
      const clip = clips.find((c) => c.id === (reply.body as ClipReply).id)!;
      expect([clip.state, clip.message]).toEqual(['ready', null]);
      return clip;
    };
    const facts = async ({ fileName }: ClipReply) => probeMovie(path.join((await batchOf(id)).folder, fileName));
    const table = [
      ['h264', 'mp4', 'h264', 'yuv420p'],
      ['h264Mov', 'mov', 'h264', 'yuv420p'],
      ['h265', 'mp4', 'hevc', 'yuv420p'],
      ['prores422', 'mov', 'prores', 'yuv422p10le'],
      ['prores4444', 'mov', 'prores', 'yuva444p12le'],
      ['vp9', 'webm', 'vp9', 'yuv420p'],
      ['av1', 'webm', 'av1', 'yuv420p'],
    ] as const;
    for (const [codec, ending, probed, pixelFormat] of table) {
      const clip = await made({ codec });
      expect(clip.fileName.endsWith(`.${ending}`)).toBe(true);
      const found = await facts(clip);
      expect([codec, found.codec, found.pixelFormat, found.frames, found.matrix]).toEqual([codec, probed, pixelFormat, 6, 'bt709']);
      expect([codec, found.rate]).toEqual([codec, '24000/1001']);
      // The brand by which a file says that it is QuickTime (QuickTime File Format, file type compatibility).
      if (ending === 'mov') expect(readFileSync(path.join((await batchOf(id)).folder, clip.fileName)).toString('latin1', 4, 12)).toBe('ftypqt  ');
      // A thing of a container that counts thousandths.
      expect(Math.abs(found.seconds - (6 * 1001) / 24000)).toBeLessThan(0.002);
    }
    // Clear behind the block, where the codec can be; the decoder of VP9's alpha is asked for by name.
    for (const [codec, decoder] of [
      ['prores4444', []],
      ['vp9', ['-c:v', 'libvpx-vp9']],
    ] as const) {
      const { fileName } = await made({ codec });
      const file = path.join((await batchOf(id)).folder, fileName);
      const { stdout } = spawnSync(findFfmpeg(), [
        '-loglevel',
        'error',
        ...decoder,
        '-i',
        file,
        '-frames:v',
        '1',
        '-f',
        'rawvideo',
        '-pix_fmt',
        'rgba',
        '-',
      ]);
      const alphas = [...stdout].filter((_, k) => k % 4 === 3);
      expect([codec, Math.min(...alphas) < 5, Math.max(...alphas) > 250]).toEqual([codec, true, true]);
    }
    // There and back, slower, held at its end, at another rate: (6 + 4) / 0.5 + 5.
    const longer = await facts(await made({ play: 'thereAndBack', speed: 0.5, holdLast: 0.2, rate: '25' }));
    expect([longer.frames, longer.rate]).toEqual([25, '25']);
    // Out of white: the first frame is nothing but that, the last one is as it was rendered.
    const faded = await made({ fadeIn: 0.1, fadeColour: '#ffffff', line: { text: '{shot} {frame}', corner: 'bottom right' }, background: '#000000' });
    const frameAt = async (clip: ClipReply, n: number): Promise<Buffer> => {
      const file = path.join((await batchOf(id)).folder, clip.fileName);
      const { stdout } = spawnSync(findFfmpeg(), [
        '-loglevel',
        'error',
        '-i',
        file,
        '-vf',
        `select=eq(n\\,${n})`,
        '-frames:v',
        '1',
        '-f',
        'image2pipe',
        '-c:v',
        'png',
        '-',
      ]);
      return sharp(stdout).removeAlpha().raw().toBuffer();
    };
    const whole = await frameAt(faded, 0);
    const upper = (bytes: Buffer): Buffer => bytes.subarray(0, 96 * 3 * 20);
    expect(Math.min(...upper(whole))).toBeGreaterThan(250);
    expect(Math.max(...upper(await frameAt(faded, 5)).subarray(0, 96 * 3))).toBeLessThan(5);
    // The line is light letters with a dark edge at the lower right.
    const plainEnd = await frameAt(await made({ background: '#000000' }), 5);
    const lined = await frameAt(faded, 5);
    const lower = (bytes: Buffer): number[] => [...bytes.subarray(96 * 3 * 40)];
    expect(Math.max(...lower(lined).map((v, i) => Math.abs(v - lower(plainEnd)[i]!)))).toBeGreaterThan(150);
    // Animated WebP: thousandths of a second, clear where the render is, and its colours are those of the file.
    const animated = await made({ codec: 'webp', quality: 100 });
    const webp = await facts(animated);
    expect([webp.codec, webp.frames, webp.pixelFormat]).toEqual(['webp', 6, 'rgba']);
    expect(Math.abs(webp.seconds - (6 * 1001) / 24000)).toBeLessThan(0.005);
    const { folder } = await batchOf(id);
    const pixels = (file: string): Promise<Buffer> => sharp(path.join(folder, file), { page: 0 }).ensureAlpha().raw().toBuffer();
    const [row] = (await call().get(`/api/batches/${id}/frames?from=0&to=1`)).body as { files: string[] }[];
    const [played, still] = [await pixels(animated.fileName), await pixels(row!.files[0]!)];
    const solid = Array.from({ length: still.length / 4 }, (_, p) => p).filter((p) => still[p * 4 + 3] === 255);
    const off = solid.map((p) => Math.max(...[0, 1, 2].map((c) => Math.abs(played[p * 4 + c]! - still[p * 4 + c]!))));
    expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(6);
    expect(Math.max(...Array.from({ length: still.length / 4 }, (_, p) => Math.abs(played[p * 4 + 3]! - still[p * 4 + 3]!)))).toBeLessThanOrEqual(2);
    // A red square of 40 × 20 as logo: a quarter of the width, at the lower left, half clear.
    const red = await sharp({ create: { width: 40, height: 20, channels: 3, background: '#ff0000' } })
      .png()
      .toBuffer();
    const { file: logoFile } = (await call().post('/api/textures').attach('files', red, 'mark.png').expect(201)).body as { file: string };
    const logo = { file: logoFile, name: 'mark.png', corner: 'bottom left', width: 0.25, margin: 0.05 };
    const pixelOf = (bytes: Buffer, x: number, y: number): number[] => [...bytes.subarray((y * 96 + x) * 3, (y * 96 + x) * 3 + 3)];
    const black = { background: '#000000', quality: 100 };
    const marked = await frameAt(await made({ ...black, logo }), 3);
    // 5 % of 96 is 5: the logo lies at x 5 to 28, y 37 to 48 of 54.
    for (const [x, y] of [
      [8, 40],
      [25, 40],
      [8, 46],
      [25, 46],
    ] as const) {
      const [r, g, b] = pixelOf(marked, x, y);
      expect([r! > 235, g! < 25, b! < 25]).toEqual([true, true, true]);
    }
    const unmarked = await frameAt(await made(black), 3);
    for (const [x, y] of [
      [2, 42],
      [32, 42],
      [16, 33],
      [16, 52],
    ] as const)
      pixelOf(marked, x, y).forEach((v, c) => expect(Math.abs(v - pixelOf(unmarked, x, y)[c]!)).toBeLessThan(40));
    const faint = await frameAt(await made({ ...black, logo: { ...logo, opacity: 0.5 } }), 3);
    const under = pixelOf(unmarked, 8, 46)[0]!;
    expect(Math.abs(pixelOf(faint, 8, 46)[0]! - (255 + under) / 2)).toBeLessThan(12);
    const lost = await call()
      .post(`/api/batches/${id}/clips`)
      .send({ shot: 'spin', options: { logo: { ...logo, file: `${'0'.repeat(64)}.png` } } });
    expect([lost.status, (lost.body as { detail: string }).detail]).toEqual([422, expect.stringContaining('"mark.png" is not here')]);
    // A GIF plays by hundredths of a second.
    const gif = await facts(await made({ codec: 'gif' }));
    expect([gif.codec, gif.frames]).toEqual(['gif', 6]);
    const refused = await call()
      .post(`/api/batches/${id}/clips`)
      .send({ shot: 'spin', options: { line: { text: '{nothing}' } } });
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([422, expect.stringContaining('{nothing} is no token')]);
    // All of them go into a package, and its audit reads them.
    const pack = await call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'All', renders: [{ batch: id, run: 'spin' }] });
    const packed = await until(
      async () => (await call().get(`/api/packages/${(pack.body as PackageReply).id}`)).body as PackageReply,
      (p) => p.state !== 'making',
    );
    expect([packed.state, packed.faults]).toEqual(['ready', []]);
  });
});
