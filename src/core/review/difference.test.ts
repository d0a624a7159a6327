import { describe, expect, it } from 'vitest';
import { judgeDifference } from './difference.js';

describe('what of a difference counts', () => {
  const [width, height] = [20, 10];
  const values = new Float32Array(width * height);
  for (let y = 0; y < 4; y++) for (let x = 0; x < 5; x++) values[y * width + x] = 2 + x;
  for (let y = 6; y < 10; y++) for (let x = 14; x < 20; x++) values[y * width + x] = 1.5;
  const measured = { width, height, values, ssim: 0.9 };

  it('is above the threshold, in areas by size', () => {
    const d = judgeDifference(measured, 1);
    expect(d.areas).toEqual([
      { x: 14, y: 6, width: 6, height: 4, pixels: 24, largest: 1.5 },
      { x: 0, y: 0, width: 5, height: 4, pixels: 20, largest: 6 },
    ]);
    expect(d).toMatchObject({ changed: 44 / 200, largest: 6, ssim: 0.9, threshold: 1 });
    expect(judgeDifference(measured, 1.5).areas).toHaveLength(1);
  });

  it('leaves out areas of a few pixels, also from the mask', () => {
    // Two columns of four are left.
    const d = judgeDifference(measured, 4);
    expect(d).toMatchObject({ changed: 0, largest: 0, areas: [] });
    expect(d.mask.every((v) => v === 0)).toBe(true);
  });

  it('is all of a picture that changed all over', () => {
    const d = judgeDifference({ ...measured, values: new Float32Array(200).fill(3) }, 1);
    expect(d.areas).toEqual([{ x: 0, y: 0, width, height, pixels: 200, largest: 3 }]);
    expect(d.changed).toBe(1);
  });
});
