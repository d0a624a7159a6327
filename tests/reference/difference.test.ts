/** The comparison of renders: SSIM beside ssim.js (after Wang et al. 2004), and real renders of both demo designs by two seeds. */
import { ssim } from 'ssim.js';
import { describe, expect, it } from 'vitest';
import { withFrame } from '../../src/core/frame/frame.js';
import type { Pixels } from '../../src/core/review/difference.js';
import { PictureComparer } from '../../src/engine/compare/pictureComparer.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { ssimOf } from '../support/plain/ssim.js';
import { shown, studio } from '../support/judge.js';
import { longTest } from '../support/long.js';
import { REFERENCES } from '../support/references.js';

const comparer = new PictureComparer(loadKernelModule());
const differenceOf = comparer.difference.bind(comparer);

describe('SSIM', () => {
  it.each([0, 3, 40])('is that of another implementation, %d steps apart', (apart) => {
    const [width, height] = [96, 64];
    const value = (i: number, k: number): number => Math.round(120 + 60 * Math.sin(i / 7) + ((i * 31 + k * 17 * i) % 11) * (apart / 11));
    const [a, b] = [0, 1].map((k) => Float32Array.from({ length: width * height }, (_, i) => value(i, k)));
    const grey = (v: Float32Array) => ({ width, height, data: new Uint8ClampedArray(Array.from(v).flatMap((x) => [x, x, x, 255])) });
    // Its windows are those within the picture, weighted as the publication has it.
    const theirs = ssim(grey(a!), grey(b!), { ssim: 'original', downsample: false }).mssim;
    expect(Math.abs(ssimOf({ width, height, values: a! }, { width, height, values: b! }, 255) - theirs)).toBeLessThan(0.002);
  });
});

describe('two renders of one plan', () => {
  const size = { width: 160, height: 90 };

  const TITLE = 'of $name by other seeds differ in under 0.1 %, and 4 × 4 changed pixels are found';
  const differ = async (reference: (typeof REFERENCES)[number]): Promise<void> => {
    const place = await studio(reference.model(), reference.set, size);
    const render = async (seed: number, samples: number, denoise: boolean): Promise<Pixels> => {
      const { colour } = await place.shoot(withFrame(place.frames[reference.frame]!, { seed }), { x: 0, y: 0, ...size }, samples, denoise);
      const bytes = shown(colour);
      const data = new Uint8ClampedArray(size.width * size.height * 4).fill(255);
      for (let i = 0; i < bytes.length; i++) data[Math.floor(i / 3) * 4 + (i % 3)] = Math.round(bytes[i]!);
      return { ...size, data };
    };
    const pair = async (samples: number, denoise: boolean) => [await render(11, samples, denoise), await render(77_777, samples, denoise)] as const;
    const [a, b] = await pair(16, true);
    for (const [one, other] of [await pair(4, false), await pair(16, false), [a, b]] as const) {
      const d = differenceOf(one, other);
      expect(d.changed).toBeLessThan(0.001);
      // The seeds are others: it is no difference of a picture with itself.
      expect(d.ssim).toBeLessThan(0.9999);
    }
    await place.close();
    for (let y = 68; y < 72; y++) for (let x = 100; x < 104; x++) b.data[(y * size.width + x) * 4] = (a.data[(y * size.width + x) * 4]! + 128) % 256;
    const { areas } = differenceOf(a, b);
    expect(areas.some((r) => Math.abs(r.x + r.width / 2 - 102) <= 2 && Math.abs(r.y + r.height / 2 - 70) <= 2)).toBe(true);
  };

  it.each(REFERENCES.slice(0, 1))(TITLE, differ);
  longTest.each(REFERENCES.slice(1))(TITLE, differ);
});
