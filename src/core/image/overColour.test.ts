import { describe, expect, it } from 'vitest';
import { toDisplay, toLinear } from '../units/colour.js';
import { overColour } from './overColour.js';

describe('a clear picture over a colour', () => {
  it('is mixed as light: half of white over black is brighter than the mean of the bytes', () => {
    const [r] = overColour(Uint8Array.of(255, 255, 255, 128), '#000000');
    expect(Math.abs(r! - Math.round(255 * toDisplay(128 / 255)))).toBeLessThanOrEqual(1);
    expect(r).toBeGreaterThan(180);
  });
  it('keeps opaque pixels to the bit, and shows the colour alone where nothing is', () => {
    const all = Uint8Array.from({ length: 256 * 4 }, (_, i) => (i % 4 === 3 ? 255 : i >> 2));
    expect([...overColour(all, '#123456')]).toEqual([...all].filter((_, i) => i % 4 !== 3));
    expect([...overColour(Uint8Array.of(9, 9, 9, 0), '#123456')]).toEqual([0x12, 0x34, 0x56]);
  });
  it('fades through a colour in light', () => {
    const half = overColour(Uint8Array.of(200, 100, 0, 255), '#000000', 0.5, '#ffffff');
    [200, 100, 0].forEach((v, c) => expect(Math.abs(half[c]! - Math.round(255 * toDisplay(0.5 * toLinear(v / 255) + 0.5)))).toBeLessThanOrEqual(1));
    expect([...overColour(Uint8Array.of(200, 100, 0, 255), '#000000', 0, '#204060')]).toEqual([0x20, 0x40, 0x60]);
  });
});
