import { describe, expect, it } from 'vitest';
import { fitScale, placePicture, zoomAbout } from './useZoom.js';

const picture = { width: 1920, height: 1080 };
const room = { width: 1000, height: 600 };

describe('a picture on its mount', () => {
  it('is fitted in the middle with an edge, and never enlarged for it', () => {
    expect(fitScale(picture, room)).toBeCloseTo(968 / 1920, 9);
    const fitted = placePicture(picture, room, null);
    expect([fitted.left, fitted.left + fitted.width]).toEqual([16, expect.closeTo(984, 6)]);
    expect(fitScale({ width: 64, height: 36 }, room)).toBe(1);
  });

  it('keeps the pixel under the pointer where it is', () => {
    const at = { x: 300, y: 220 };
    let zoom = zoomAbout(picture, room, null, 1.7, at);
    const before = placePicture(picture, room, null);
    for (let i = 0; i < 3; i++) zoom = zoomAbout(picture, room, zoom, 1.3, at);
    const after = placePicture(picture, room, zoom);
    expect(after.scale).toBeCloseTo(before.scale * 1.7 * 1.3 ** 3, 6);
    // Pictures stand on whole pixels of the screen: half of one is off before, of two pixels of the picture, and less after.
    expect(Math.abs((at.x - after.left) / after.scale - (at.x - before.left) / before.scale)).toBeLessThan(1.2);
    expect(Math.abs((at.y - after.top) / after.scale - (at.y - before.top) / before.scale)).toBeLessThan(1.2);
  });

  it('is fitted again where it gets smaller than that, and has a largest scale', () => {
    const at = { x: 500, y: 300 };
    expect(zoomAbout(picture, room, { scale: 0.6, x: 0.2, y: 0.2 }, 0.5, at)).toBeNull();
    expect(zoomAbout(picture, room, null, 1e6, at)!.scale).toBe(32);
  });

  it('never leaves the mount', () => {
    const zoom = zoomAbout(picture, room, { scale: 2, x: 0.99, y: 0.99 }, 1.5, { x: 990, y: 590 })!;
    expect(zoom.x).toBeLessThanOrEqual(1);
    expect(zoom.y).toBeLessThanOrEqual(1);
  });
});
