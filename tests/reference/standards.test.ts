import { describe, expect, it } from 'vitest';
import { toDisplay, toLinear } from '../../src/core/units/colour.js';
import { parseRate } from '../../src/core/units/rate.js';
import { hasDropFrame, timecode } from '../../src/core/units/timecode.js';

describe('sRGB, IEC 61966-2-1', () => {
  it.each([
    [0.18, 0.4614],
    [0.5, 0.7354],
    [0.0031308, 0.04045],
  ])('%f is shown as %f', (linear, display) => {
    expect(toDisplay(linear)).toBeCloseTo(display, 4);
    // The value is published to four places; the inverse is at most 2.3 times as steep.
    expect(Math.abs(toLinear(display) - linear)).toBeLessThan(2.3 * 0.00005);
  });
});

describe('timecode, SMPTE ST 12-1', () => {
  const ntsc = parseRate('29.97');
  it('drops two numbers a minute but every tenth at 29.97', () => {
    expect(timecode(1799, ntsc)).toBe('00:00:59;29');
    expect(timecode(1800, ntsc)).toBe('00:01:00;02');
    expect(timecode(17_981, ntsc)).toBe('00:09:59;29');
    expect(timecode(17_982, ntsc)).toBe('00:10:00;00');
    expect(timecode(107_892, ntsc)).toBe('01:00:00;00');
  });
  it('has a drop-frame count for 29.97 and 59.94 alone', () => {
    expect(['23.976', '24', '25', '29.97', '30', '50', '59.94', '60'].filter((r) => hasDropFrame(parseRate(r)))).toEqual(['29.97', '59.94']);
    expect(timecode(72, parseRate('24'))).toBe('00:00:03:00');
    expect(timecode(3600, parseRate('59.94'))).toBe('00:01:00;04');
  });
});
