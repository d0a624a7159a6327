import { describe, expect, it } from 'vitest';
import { cropBetween, fitCrop, parseProportion } from './crop.js';

const picture = { width: 1920, height: 1080 };

describe('a crop', () => {
  it('reads proportions as people write them', () => {
    expect(['16:9', '4/5', ' 1.85 ', '2 x 1', '3×2'].map(parseProportion)).toEqual([16 / 9, 0.8, 1.85, 2, 1.5]);
    expect(['', 'wide', '0:1', '1:0', '16:9:1'].map(parseProportion)).toEqual([null, null, null, null, null]);
  });
  it('keeps proportions to the nearest pixel, by either side', () => {
    expect(fitCrop({ x: 10, y: 20, width: 1000, height: 1 }, picture, 16 / 9, false)).toEqual({ x: 10, y: 20, width: 1000, height: 563 });
    expect(fitCrop({ x: 10, y: 20, width: 1, height: 540 }, picture, 16 / 9, true)).toEqual({ x: 10, y: 20, width: 960, height: 540 });
  });
  it('lies within the picture, on whole pixels', () => {
    expect(fitCrop({ x: 1000, y: 0, width: 921, height: 10 }, picture, null, false)).toBeNull();
    expect(fitCrop({ x: -1, y: 0, width: 10, height: 10 }, picture, null, false)).toBeNull();
    expect(fitCrop({ x: 0.5, y: 0, width: 10, height: 10 }, picture, null, false)).toBeNull();
    expect(fitCrop({ x: 0, y: 0, ...picture }, picture, null, false)).toEqual({ x: 0, y: 0, ...picture });
  });
  it('is drawn in any direction, and stops at the edges', () => {
    expect(cropBetween([100.4, 200.6], [50, 100], picture, null)).toEqual({ x: 50, y: 100, width: 50, height: 101 });
    expect(cropBetween([100, 200], [5000, 5000], picture, null)).toEqual({ x: 100, y: 200, width: 1820, height: 880 });
    const square = cropBetween([1800, 1000], [1000, 900], picture, 1);
    expect(square).toEqual({ x: 1000, y: 200, width: 800, height: 800 });
    // Down from 1000 there is room for 80 pixels alone.
    expect(cropBetween([100, 1000], [900, 1070], picture, 1)).toEqual({ x: 100, y: 1000, width: 80, height: 80 });
    expect(cropBetween([1920, 1080], [1920, 1080], picture, null)).toEqual({ x: 1919, y: 1079, width: 1, height: 1 });
  });
});
