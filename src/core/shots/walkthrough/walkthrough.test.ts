import { describe, expect, it } from 'vitest';
import { parseRate } from '../../units/rate.js';
import { segmentFrames, walkthroughSchema, type WalkthroughShot } from './walkthrough.js';

const walk = (values: object = {}): WalkthroughShot =>
  walkthroughSchema.parse({
    id: 'w',
    kind: 'walkthrough',
    stations: [{ eye: [0, 1.6, 0] }, { eye: [0, 1.6, 4], seconds: 2, hold: 1 }, { eye: [4, 1.6, 4], seconds: 3 }],
    ...values,
  });
const rate = parseRate('24');

describe('frames of the segments of a walk', () => {
  it('follow each other and are all of them, with the hold at a station', () => {
    const frames = 24 * 6;
    // Two seconds of the way and one of the hold, of six: the first half.
    const [first, second] = segmentFrames(walk(), [], rate) as [[number, number], [number, number]];
    expect(first[0]).toBe(0);
    expect(second[0]).toBe(first[1] + 1);
    expect(second[1]).toBe(frames - 1);
    expect(Math.abs(second[0] - frames / 2)).toBeLessThanOrEqual(1);
  });

  it('are none of a segment that is left out, and a round trip has one more', () => {
    const skipped = walk({ stations: [{ eye: [0, 1.6, 0] }, { eye: [0, 1.6, 4], seconds: 2, out: true }, { eye: [4, 1.6, 4], seconds: 3 }] });
    expect(segmentFrames(skipped, [], rate)).toEqual([null, [0, 71]]);
    expect(segmentFrames(walk({ closed: true }), [], rate)).toHaveLength(3);
  });
});
