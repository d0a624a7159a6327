/** Timecode beside an independent library (smpte-timecode, MIT) and SMPTE ST 12-1's own counts (from memory: 17 982 frames in ten minutes at 29.97). */
import Timecode from 'smpte-timecode';
import { describe, expect, it } from 'vitest';
import { parseRate } from '../../src/core/units/rate.js';
import { hasDropFrame, parseTimecode, timecode } from '../../src/core/units/timecode.js';

const RATES = [
  ['24', 24],
  ['25', 25],
  ['30', 30],
  ['24000/1001', 23.976],
  ['30000/1001', 29.97],
  ['60000/1001', 59.94],
] as const;

describe('timecode', () => {
  it.each(RATES)('at %s frames a second agrees with the library over a day, and reads back', (name, rate) => {
    const own = parseRate(name);
    for (const n of [0, 1, 23, 24, 29, 30, 1798, 1799, 1800, 1801, 17_981, 17_982, 17_983, 35_964, 107_892, 1_000_003, 1_700_000]) {
      const theirs = new Timecode(n, rate, hasDropFrame(own)).toString().replace(';', ':');
      const ours = timecode(n, own);
      expect(ours.replace(';', ':'), `${n}`).toBe(theirs);
      expect(parseTimecode(ours, own), `${n}`).toBe(n);
    }
  });

  it('ten minutes of drop-frame count are 17 982 frames', () => expect(parseTimecode('00:10:00;00', parseRate('30000/1001'))).toBe(17_982));

  it.each(['', '1:2:3:4', '00:60:00:00', '00:00:00:24', '00:00:61:00'])('"%s" is none', (text) =>
    expect(parseTimecode(text, parseRate('24'))).toBeNull(),
  );

  it('numbers that a drop-frame count leaves out are none', () => {
    const rate = parseRate('30000/1001');
    expect(parseTimecode('00:01:00;01', rate)).toBeNull();
    expect(parseTimecode('00:10:00;01', rate)).toBe(17_983);
  });
});
