import { describe, expect, it } from 'vitest';
import type { ComparisonReply, ResultReply } from '../../../contract/results.js';
import { parseCsv } from '../../../core/base/csv.js';
import { changesCsv, evenly } from './changesRun.js';

describe('comparing two columns', () => {
  it('takes frames evenly, with the first and the last', () => {
    expect(evenly([1, 2, 3], 24)).toEqual([1, 2, 3]);
    const some = evenly(
      Array.from({ length: 72 }, (_, i) => i),
      24,
    );
    expect([some.length, some[0], some.at(-1), new Set(some).size]).toEqual([24, 0, 71, 24]);
  });

  it('has a table with the parts by their paths', () => {
    const worst: ComparisonReply = {
      width: 960,
      height: 540,
      changed: 0.1234,
      ssim: 0.9,
      largest: 12.5,
      areas: 3,
      parts: [
        { path: 'Lamp/Shade', share: 0.1, presence: 'both' },
        { path: 'Lamp/Knob, new', share: 0.01, presence: 'second' },
      ],
    };
    const row = {
      key: 'a',
      name: 'Turntable',
      first: {} as ResultReply,
      second: {} as ResultReply,
      frames: { first: 1, second: 2, number: 7 },
      worst,
      compared: 24,
      of: 72,
    };
    const [head, line] = parseCsv(changesCsv([row], ['Revision A', 'Revision B']));
    expect(head).toHaveLength(11);
    expect(line).toEqual(['Turntable', 'Revision A', 'Revision B', '7', '12.34', '0.9', '12.5', '3', 'Lamp/Shade; Lamp/Knob, new', '24', '72']);
  });
});
