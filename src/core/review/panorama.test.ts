import { describe, expect, it } from 'vitest';
import { dragGaze, FIRST_GAZE, lookAround, placeOfDirection, type RgbaPicture } from './panorama.js';

/** Red tells the longitude, green the latitude. */
function sphere(width: number): RgbaPicture {
  const height = width / 2;
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) data.set([(255 * (x + 0.5)) / width, (255 * (y + 0.5)) / height, 0, 255], (y * width + x) * 4);
  return { width, height, data };
}
const view = (width: number, height: number): RgbaPicture => ({ width, height, data: new Uint8ClampedArray(width * height * 4) });

describe('a panorama', () => {
  it('has directions at their places', () => {
    expect(placeOfDirection(0, 0, 1)).toEqual([0.5, 0.5]);
    expect(placeOfDirection(1, 0, 0)[0]).toBeCloseTo(0.75, 12);
    expect(placeOfDirection(-1, 0, 0)[0]).toBeCloseTo(0.25, 12);
    expect(placeOfDirection(0, 1, 0)[1]).toBeCloseTo(0, 12);
    expect(placeOfDirection(0, 1, 1)[1]).toBeCloseTo(0.25, 12);
  });

  it('shows in the middle what the gaze is turned to, and at its edges half of the field beside it', () => {
    const out = view(201, 101);
    const red = (x: number, y = 50): number => out.data[(y * 201 + x) * 4]! / 255;
    const green = (x: number, y: number): number => out.data[(y * 201 + x) * 4 + 1]! / 255;
    for (const yaw of [0, 90, 200]) {
      lookAround(sphere(2048), { yaw, pitch: 0, field: 90 }, out);
      const wrap = (v: number): number => v - Math.floor(v);
      expect(Math.abs(red(100) - wrap(0.5 + yaw / 360))).toBeLessThan(0.004);
      // The middle of the outermost pixel: atan(200 / 201) beside.
      expect(Math.abs(red(200) - wrap(0.5 + yaw / 360 + Math.atan(200 / 201) / (2 * Math.PI)))).toBeLessThan(0.004);
    }
    lookAround(sphere(2048), { yaw: 0, pitch: 40, field: 60 }, out);
    expect(green(100, 50)).toBeCloseTo(0.5 - 40 / 180, 2);
    // Upright lines stay upright in the middle of the view.
    expect(Math.abs(red(100, 0) - red(100, 100))).toBeLessThan(0.004);
  });

  it('has no seam where its edges meet', () => {
    const plain = sphere(512);
    // Longitude as a wave, so that it goes round without a step.
    for (let i = 0; i < plain.data.length; i += 4) plain.data[i] = 127 + 120 * Math.sin((2 * Math.PI * ((i / 4) % 512)) / 512);
    const out = view(101, 51);
    lookAround(plain, { yaw: 180, pitch: 0, field: 20 }, out);
    for (let x = 1; x < 101; x++) expect(Math.abs(out.data[(25 * 101 + x) * 4]! - out.data[(25 * 101 + x - 1) * 4]!)).toBeLessThanOrEqual(2);
  });

  it('follows the pointer, round and up to the zenith', () => {
    expect(dragGaze(FIRST_GAZE, 100, 0, 750).yaw).toBeCloseTo(350, 9);
    expect(dragGaze(FIRST_GAZE, 0, 100, 750).pitch).toBeCloseTo(10, 9);
    expect(dragGaze(FIRST_GAZE, 0, 9999, 750).pitch).toBe(90);
  });
});
