import { describe, expect, it } from 'vitest';
import { parseRate } from '../units/rate.js';
import { timecode } from '../units/timecode.js';
import { type ReelSource, reelPlan } from './reel.js';
import { reelSchema } from '../plan/reel.js';

const rate = parseRate('24');
const footage: Record<string, ReelSource> = {
  spin: { numbers: Array.from({ length: 72 }, (_, i) => i + 1), rate, moving: true },
  walk: { numbers: Array.from({ length: 100 }, (_, i) => i + 1), rate: parseRate('25'), moving: true },
  still: { numbers: [1, 2], rate, moving: false },
};
const plan = (parts: object[], at = rate) => reelPlan(reelSchema.parse({ id: 'r', name: 'R', parts }), (p) => footage[p.shot], at);

describe('a reel', () => {
  it('plays shots one after the other, stills for their seconds', () => {
    const { frames, parts } = plan([{ shot: 'spin' }, { shot: 'still', seconds: 1.5 }]);
    expect(frames).toHaveLength(72 + 2 * 36);
    expect(frames[71]).toEqual({ part: 0, index: 71 });
    expect([frames[72]!.index, frames[107]!.index, frames[108]!.index]).toEqual([0, 0, 1]);
    expect(parts.map((p) => p.first)).toEqual([0, 72]);
    expect(timecode(frames.length, rate)).toBe('00:00:06:00');
  });

  it('trims by the shot’s own numbers, and plays faster and slower', () => {
    expect(plan([{ shot: 'spin', from: 13, to: 24 }]).frames.map((f) => f.index)).toEqual([12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23]);
    expect(plan([{ shot: 'spin', from: 1, to: 8, speed: 2 }]).frames.map((f) => f.index)).toEqual([0, 2, 4, 6]);
    expect(plan([{ shot: 'spin', from: 1, to: 3, speed: 0.5 }]).frames.map((f) => f.index)).toEqual([0, 0, 1, 1, 2, 2]);
  });

  it('points out a rate that is not the planned one, with the length that it makes', () => {
    const { frames, parts } = plan([{ shot: 'walk' }]);
    // 100 frames at 25 last 4 s, which are 96 frames at 24.
    expect(frames).toHaveLength(96);
    expect(parts[0]!.note).toBe('planned at 25, played at 24 frames a second: 4.00 s');
    expect(plan([{ shot: 'spin', speed: 2 }]).parts[0]!.note).toBe('at 2 times its pace: 1.50 s instead of 3.00 s');
    expect(plan([{ shot: 'spin' }]).parts[0]!.note).toBeUndefined();
  });

  it('cross-fades evenly, and is as much shorter', () => {
    const { frames, parts } = plan([{ shot: 'spin' }, { shot: 'walk', from: 1, to: 50, fade: 12 }]);
    expect(frames).toHaveLength(72 + 48 - 12);
    expect(frames[60]).toEqual({ part: 0, index: 60, into: { part: 1, index: 0, share: 1 / 13 } });
    expect(frames[71]!.into!.share).toBeCloseTo(12 / 13, 9);
    expect(frames[72]).toEqual({ part: 1, index: frames[71]!.into!.index + 1 });
    expect(parts[1]).toMatchObject({ first: 60, count: 48 });
  });

  it('says what cannot be', () => {
    expect(() => plan([{ shot: 'lost' }])).toThrow('The reel plays the shot "lost", which has no frames.');
    expect(() => plan([{ shot: 'spin', from: 80 }])).toThrow('The shot "spin" has no frame 80; it goes from 1 to 72.');
    expect(() => plan([{ shot: 'spin', from: 9, to: 3 }])).toThrow('ends at 3, before it begins at 9');
    expect(() =>
      plan([
        { shot: 'spin', to: 5 },
        { shot: 'walk', fade: 6 },
      ]),
    ).toThrow('longer than the 5 frames there are');
  });
});
