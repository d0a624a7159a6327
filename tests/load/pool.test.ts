import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PIXEL_COUNT } from '../../kernel/layout.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { closedHall } from '../../bench/scenes.js';
import { MeshMaker, modelOf } from '../../src/core/model/meshMaker.js';
import { compile, type CompiledScene, decodeScene, encodeScene } from '../../src/engine/scene/compile.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { startPool } from '../../src/engine/node/threads.js';
import type { TileInWork } from '../../src/engine/scheduler/messages.js';
import { baseSamples } from '../../src/engine/upload/filmLayout.js';
import { AbortedError } from '../../src/engine/scheduler/job.js';
import type { Pool } from '../../src/engine/scheduler/pool.js';
import type { LinearRender, LiveFilm } from '../../src/engine/scheduler/job.js';
import { frameFor } from '../support/trace.js';

const hall = closedHall(1);
const base = { eye: [-7, 1.7, -13.9] as [number, number, number], target: [0, 1.9, 4] as [number, number, number] };
const frame = (width: number, samples: number): Frame => frameFor(hall, { ...base, width, height: Math.round(width * 0.5625), samples });
let scene: CompiledScene;
let pool: Pool;

beforeAll(() => {
  scene = compile(loadKernelModule(), hall);
  pool = startPool(2);
});
afterAll(() => pool.close());

const render = (f: Frame, options = {}, hash = 'hall', s = scene): Promise<LinearRender> => pool.render(hash, () => s, f, options);

describe('the pool', () => {
  it('renders more frames at once than it has slots, each whole', async () => {
    const frames = Array.from({ length: 9 }, (_, i) => ({ ...frame(64, 2), seed: i }));
    const pictures = await Promise.all(frames.map((f) => render(f)));
    const again = await render({ ...frame(64, 2), seed: 4 });
    expect(pictures.every((p) => p.colour.every((v) => Number.isFinite(v)))).toBe(true);
    expect(Buffer.from(again.colour.slice().buffer).equals(Buffer.from(pictures[4]!.colour.slice().buffer))).toBe(true);
    expect(new Set(pictures.map((p) => p.colour.reduce((a, v) => a + v, 0))).size).toBe(9);
  });

  it('stops a frame when asked, and goes on with the next', async () => {
    const stop = new AbortController();
    const long = render(frame(640, 64), { signal: stop.signal });
    const refused = expect(long).rejects.toBeInstanceOf(AbortedError);
    setTimeout(() => stop.abort(), 30);
    await refused;
    expect((await render(frame(48, 1))).colour.some((v) => v > 0)).toBe(true);
    const late = new AbortController();
    late.abort();
    await expect(render(frame(48, 1), { signal: late.signal })).rejects.toBeInstanceOf(AbortedError);
  });

  it('tells where in a frame each worker is, and nothing once it is done', async () => {
    const wide = frame(96, 8);
    const { width, height } = wide.size;
    let film: LiveFilm | undefined;
    const seen: TileInWork[][] = [];
    await render(wide, { onStart: (f: LiveFilm) => (film = f), onProgress: () => seen.push(film!.tiles()) });
    expect(seen.some((tiles) => tiles.length === pool.workers)).toBe(true);
    for (const tiles of seen) {
      expect(new Set(tiles.map((t) => t.worker)).size).toBe(tiles.length);
      for (const t of tiles) {
        expect(t.worker >= 1 && t.worker <= pool.workers).toBe(true);
        expect(t.x >= 0 && t.y >= 0 && t.width > 0 && t.height > 0 && t.x + t.width <= width && t.y + t.height <= height).toBe(true);
      }
      // No two workers have the same tile of a round.
      expect(new Set(tiles.map((t) => `${t.x} ${t.y}`)).size).toBe(tiles.length);
    }
    expect(film!.tiles()).toEqual([]);
  });

  it('takes the urgent first', async () => {
    const order: string[] = [];
    const slow = Array.from({ length: 4 }, (_, i) => render(frame(128, 12)).then(() => order.push(`batch ${i}`)));
    const urgent = render(frame(48, 1), { priority: 10 }).then(() => order.push('urgent'));
    await Promise.all([...slow, urgent]);
    expect(order.indexOf('urgent')).toBeLessThanOrEqual(1);
  });

  it('lets what is below a hold wait, and what is above go on', async () => {
    const order: string[] = [];
    const release = pool.hold(6);
    const batch = render(frame(48, 1)).then(() => order.push('batch'));
    await render(frame(96, 4), { priority: 10 }).then(() => order.push('thumbnail'));
    await new Promise((r) => setTimeout(r, 100));
    order.push('released');
    release();
    await batch;
    expect(order).toEqual(['thumbnail', 'released', 'batch']);
  });

  it('tells progress that only grows, up to the whole', async () => {
    const shares: number[] = [];
    await render(frame(200, 2), { onProgress: (s: number) => shares.push(s) });
    expect(shares.every((s, i) => i === 0 || s >= shares[i - 1]!)).toBe(true);
    expect(shares.at(-1)).toBe(1);
  });

  it('keeps a few scenes at a time and loads one again that was pushed out', async () => {
    const one = (n: number): CompiledScene =>
      compile(
        loadKernelModule(),
        modelOf(`box ${n}`, [
          { mesh: new MeshMaker().box([-5, -5, -5], [5, 5, 5], n, true).mesh(), material: { emission: [n, n, n], base: [0, 0, 0], specular: 0 } },
        ]),
      );
    const means: number[] = [];
    for (const n of [1, 2, 3, 4, 5, 1]) {
      const picture = await render(frameFor(hall, { eye: [0, 0, 0], target: [0, 0, 1], width: 16, height: 16, samples: 1 }), {}, `box ${n}`, one(n));
      means.push(Math.round(picture.colour[0]! * 1000) / 1000);
    }
    expect(means).toEqual([1, 2, 3, 4, 5, 1]);
    expect([pool.holds('box 1'), pool.holds('box 2')]).toEqual([true, false]);
  });

  it('counts how long its workers had work', async () => {
    pool.resetStats();
    expect(pool.stats()).toMatchObject({ wall: 0, busy: 0 });
    await Promise.all([render(frame(160, 8)), render(frame(160, 8))]);
    const { wall, busy, traced, workers } = pool.stats();
    expect(workers).toBe(2);
    expect(busy).toBeLessThanOrEqual(wall * workers * 1.01);
    expect(traced).toBeLessThanOrEqual(busy);
    expect(busy).toBeGreaterThan(0);
  });

  it('rejects a frame that cannot be laid out, with the reason', async () => {
    const light = {
      kind: 'rectangle' as const,
      centre: [0, 1, 0] as [number, number, number],
      u: [1, 0, 0] as [number, number, number],
      v: [0, 0, 1] as [number, number, number],
      radiance: [1, 1, 1] as [number, number, number],
    };
    const crowded = { ...frame(48, 1), stage: { ...frame(48, 1).stage, lights: Array.from({ length: 257 }, () => light) } };
    await expect(render(crowded)).rejects.toThrow('at most 256 lights');
  });

  it('refuses tiles of a size that the kernel has no room for', () => {
    expect(() => startPool(1, 128)).toThrow('32 to 64 pixels');
  });
});

describe('a denoised picture, whose samples are shared out over the whole of it', () => {
  const shared = (): Frame => {
    const plain = frame(136, 24);
    return { ...plain, sampling: { ...plain.sampling, samples: 24, denoise: true } };
  };
  const bits = (a: Float32Array): string => createHash('sha256').update(a).digest('hex');
  let whole: { colour: string; sums: string; counts: number[] };

  beforeAll(async () => {
    const picture = await render(shared());
    const counts = Array.from({ length: picture.width * picture.height }, (_, i) => picture.sums[i * picture.stride + PIXEL_COUNT]!);
    whole = { colour: bits(picture.colour), sums: bits(picture.sums), counts };
    picture.release();
  });

  it('takes no more samples than asked, at least the even ones everywhere, and most where there is need', () => {
    const even = baseSamples(shared().sampling);
    expect(even).toBe(8);
    const mean = whole.counts.reduce((a, b) => a + b, 0) / whole.counts.length;
    expect(mean).toBeLessThanOrEqual(24);
    expect(mean).toBeGreaterThan(22);
    expect(Math.min(...whole.counts)).toBeGreaterThanOrEqual(even);
    expect(Math.max(...whole.counts)).toBeGreaterThan(2 * 24);
    expect(Math.max(...whole.counts)).toBeLessThanOrEqual(12 * 24);
  });

  it('has the same bits whatever the tiles', async () => {
    const other = startPool(1, 64);
    const picture = await other.render('hall', () => scene, shared());
    expect([bits(picture.sums), bits(picture.colour)]).toEqual([whole.sums, whole.colour]);
    await other.close();
  });

  it('has the same bits in rounds, and where it goes on from before or from beyond the sharing', async () => {
    const halted: { sums: Float32Array; samples: number }[] = [];
    const onRound = ({ sums, samples }: { sums: Float32Array; samples: number }): void => void halted.push({ sums: sums.slice(), samples });
    const rounds = await render(shared(), { onRound });
    expect(bits(rounds.sums)).toBe(whole.sums);
    expect(halted.map((h) => h.samples)).toEqual([1, 2, 4, 8, 16]);
    for (const resume of halted.slice(2)) {
      const picture = await render(shared(), { resume });
      expect([resume.samples, bits(picture.sums), bits(picture.colour)]).toEqual([resume.samples, whole.sums, whole.colour]);
      picture.release();
    }
  });
});

describe('a compiled scene', () => {
  it('comes back from bytes as it was, and is refused when cut or of another version', () => {
    const bytes = encodeScene(scene);
    const back = decodeScene(bytes)!;
    expect(Buffer.from(back.image).equals(Buffer.from(scene.image))).toBe(true);
    expect(back.parts).toEqual(JSON.parse(JSON.stringify(scene.parts)));
    expect(decodeScene(bytes.subarray(0, 20))).toBeNull();
    expect(decodeScene(new Uint8Array(3))).toBeNull();
    const other = bytes.slice();
    other[0] = 99;
    expect(decodeScene(other)).toBeNull();
  });

  it('is the same for the same model, to the byte', () => {
    expect(Buffer.from(encodeScene(compile(loadKernelModule(), closedHall(1)))).equals(Buffer.from(encodeScene(scene)))).toBe(true);
  });
});
