import { describe, expect, it } from 'vitest';
import { NAMED_SIZES, nameOfSize, PAPERS, printSize, scaledSize } from './sizes.js';
import { formatSheetSchema } from './formatSheet.js';

describe('sizes by name', () => {
  it('have the aspects of their trade: 1.7778, 720 × 486 at 0.9, 4096 × 2160', () => {
    const by = (name: string) => NAMED_SIZES.find((s) => s.name === name)!;
    for (const name of ['HD 1080', 'HD 720', 'quarter HD', 'UHD', 'small 640']) expect(by(name).width / by(name).height).toBeCloseTo(1.7778, 4);
    expect(by('D1 NTSC')).toMatchObject({ width: 720, height: 486, pixelAspect: 0.9 });
    // A picture of 4:3 on either, within the percent that the rasters leave over.
    for (const name of ['D1 NTSC', 'D1 PAL']) expect((by(name).width * by(name).pixelAspect) / by(name).height / (4 / 3)).toBeCloseTo(1, 1);
    expect(by('DCI 4K')).toMatchObject({ width: 4096, height: 2160 });
  });

  it('are all taken by the sheet, and known again', () => {
    for (const { name, width, height, pixelAspect } of NAMED_SIZES) {
      expect(formatSheetSchema.parse({ size: { width, height }, pixelAspect }).size).toEqual({ width, height });
      expect(nameOfSize({ width, height }, pixelAspect)).toBe(name);
    }
    expect(nameOfSize({ width: 1920, height: 1081 }, 1)).toBeNull();
    expect(nameOfSize({ width: 720, height: 486 }, 1)).toBeNull();
  });
});

describe('sizes on paper', () => {
  it('are millimetres at dots an inch', () => {
    // 297 mm are 11.693 inches.
    expect(printSize(297, 210)).toEqual({ width: 3508, height: 2480 });
    expect(printSize(100, 50, 254)).toEqual({ width: 1000, height: 500 });
    for (const p of PAPERS) expect(p.width / p.height).toBeCloseTo(Math.SQRT2, 2);
  });

  it('are halved and doubled to whole pixels', () => {
    expect(scaledSize({ width: 1920, height: 1080 }, 0.5)).toEqual({ width: 960, height: 540 });
    expect(scaledSize({ width: 961, height: 541 }, 0.5)).toEqual({ width: 481, height: 271 });
    expect(scaledSize({ width: 1920, height: 1080 }, 2)).toEqual({ width: 3840, height: 2160 });
  });
});
