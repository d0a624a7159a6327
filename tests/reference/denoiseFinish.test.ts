/** What the denoiser's end makes of noise that its levels leave, beside the filter's closed form in double precision. */
import { describe, expect, it } from 'vitest';
import * as L from '../../kernel/layout.js';
import { instantiate } from '../../src/engine/kernel.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { allocateDenoisePlanes, denoiseLayout } from '../../src/engine/upload/denoiseBuffers.js';

/** Not a multiple of four wide, so that the last of a row are fewer. */
const [WIDTH, HEIGHT] = [14, 9];
const PIXELS = WIDTH * HEIGHT;
/** Light as the levels leave it: three channels a pixel, and the variance of its luminance. */
interface Light {
  colour: number[][];
  variance: number[];
}

/** The finished pixels of light on a white matt surface one metre away (an albedo of 0.98 and its floor of 0.02). */
function finish({ colour, variance }: Light): Float32Array {
  const room = denoiseLayout(WIDTH, HEIGHT, 3, 1);
  const memory = allocateDenoisePlanes(room, WIDTH, HEIGHT);
  const floats = new Float32Array(memory.buffer);
  const kernel = instantiate(loadKernelModule(), memory);
  const put = (set: number, plane: number, value: (i: number) => number): void => {
    for (let i = 0; i < PIXELS; i++) floats[(set + plane * room.plane + Math.floor(i / WIDTH) * room.pitch) / 4 + (i % WIDTH)] = value(i);
  };
  for (const c of [0, 1, 2]) {
    put(room.sets[0]!, L.DENOISE_R + c, (i) => colour[i]![c]!);
    // As denoisePrepare scales it: the root of an eighth over 0.03.
    put(room.guides, L.DENOISE_ALBEDO + c, () => 0.98 * Math.sqrt(0.125 / 0.03));
  }
  put(room.sets[0]!, L.DENOISE_VARIANCE, (i) => variance[i]!);
  put(room.guides, L.DENOISE_DEPTH, () => 1);
  kernel.denoiseFinish(room.sets[0]!, room.guides, WIDTH, HEIGHT, room.pitch, room.plane, room.tiles[0]!);
  return new Float32Array(memory.buffer, room.tiles[0], PIXELS * 3).slice();
}

/** Numbers between 0 and 1 without a pattern (Park and Miller 1988, from memory). */
function numbers(seed: number): () => number {
  let x = seed;
  return () => (x = (x * 48271) % 2147483647) / 2147483647;
}

const luminance = ([r, g, b]: number[]): number => 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
const isBorder = (i: number): boolean => i < WIDTH || i >= PIXELS - WIDTH || i % WIDTH === 0 || i % WIDTH === WIDTH - 1;
const nine = (i: number): number[] => [-1, 0, 1].flatMap((j) => [-1, 0, 1].map((k) => i + j * WIDTH + k));

describe('noise that the levels leave', () => {
  // Lee, "Digital image enhancement and noise filtering by use of local statistics", IEEE PAMI 2(2), 1980:
  // mean + (difference from it) × (1 - noise / spread), where the spread is that of nine pixels, and no less than the mean.
  it('is taken off the difference from the mean of nine, as the closed form says', () => {
    const random = numbers(7);
    const light: Light = {
      colour: Array.from({ length: PIXELS }, () => [0.5 + random(), 0.5 + random(), 0.5 + random()]),
      // From far under the spread, which is about 0.05, to twice as much.
      variance: Array.from({ length: PIXELS }, () => 0.1 * random() ** 3),
    };
    const out = finish(light);
    let whole = 0;
    for (let i = 0; i < PIXELS; i++) {
      const own = light.colour[i]!;
      if (isBorder(i)) {
        for (const c of [0, 1, 2]) expect(out[3 * i + c]).toBeCloseTo(own[c]!, 5);
        continue;
      }
      const mean = [0, 1, 2].map((c) => nine(i).reduce((s, k) => s + light.colour[k]![c]! / 9, 0));
      const spread = nine(i).reduce((s, k) => s + (luminance(light.colour[k]!) - luminance(mean)) ** 2 / 9, 0);
      const share = Math.min(1, light.variance[i]! / spread);
      whole += Number(share === 1);
      for (const c of [0, 1, 2]) expect(out[3 * i + c]).toBeCloseTo(own[c]! + share * (mean[c]! - own[c]!), 4);
    }
    // Both branches were met.
    expect(whole).toBeGreaterThan(3);
    expect(whole).toBeLessThan(PIXELS / 2);
  });

  it('leaves pixels without noise as they are, to the bit', () => {
    const random = numbers(11);
    const colour = Array.from({ length: PIXELS }, () => [random(), random(), random()].map((v) => Math.fround(0.5 + v)));
    const plain = finish({ colour, variance: Array.from({ length: PIXELS }, () => 0) });
    const noisy = finish({ colour, variance: Array.from({ length: PIXELS }, (_, i) => (i % WIDTH === 5 ? 1 : 0)) });
    for (let i = 0; i < PIXELS; i++) {
      if (i % WIDTH !== 5) for (const c of [0, 1, 2]) expect(noisy[3 * i + c]).toBe(plain[3 * i + c]);
      else if (!isBorder(i)) expect(noisy[3 * i]).not.toBe(plain[3 * i]);
    }
  });

  it('brings noisy pixels of an even surface nearer to its light', () => {
    const random = numbers(3);
    const sigma = 0.1;
    const colour = Array.from({ length: PIXELS }, () => {
      // Twelve numbers make one that is nearly normal.
      const v = 1 + sigma * (Array.from({ length: 12 }, random).reduce((a, b) => a + b, 0) - 6);
      return [v, v, v];
    });
    const out = finish({ colour, variance: Array.from({ length: PIXELS }, () => sigma ** 2) });
    const inner = colour.map((_, i) => i).filter((i) => !isBorder(i));
    const error = (value: (i: number) => number): number => Math.sqrt(inner.reduce((s, i) => s + (value(i) - 1) ** 2, 0) / inner.length);
    // The mean of nine has a third of the error of one.
    expect(error((i) => out[3 * i]!)).toBeLessThan(0.65 * error((i) => colour[i]![0]!));
  });
});
