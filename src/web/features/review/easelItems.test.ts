import { describe, expect, it } from 'vitest';
import type { FrameReply } from '../../../contract/batches.js';
import { formatChosen, frameInStep, parseChosen, sameChoice } from './easelItems.js';

describe('what is on the easel', () => {
  it.each([
    { batch: 12, run: 'spin+brass@tall' },
    { batch: 3, run: 'stills', frame: 45 },
    { batch: 3, run: 'stills', frame: 45, stays: true },
  ])('goes into an address and back', (chosen) => expect(parseChosen(formatChosen(chosen))).toEqual(chosen));
  it.each(['', '12', 'a~spin', '1~spin~x', '1~spin~3~goes'])('is nothing of "%s"', (text) => expect(parseChosen(text)).toBeNull());
  it('is the same where the frame says no other', () => {
    expect(sameChoice({ batch: 1, run: 'a' }, { batch: 1, run: 'a', frame: 3 })).toBe(true);
    expect(sameChoice({ batch: 1, run: 'a', frame: 2 }, { batch: 1, run: 'a', frame: 3 })).toBe(false);
  });
  it('shows the frame of that number, else the one before', () => {
    const frames = [1, 5, 9].map((number) => ({ number }) as FrameReply);
    expect([0, 1, 4, 5, 8, 12].map((n) => frameInStep(frames, n)!.number)).toEqual([1, 1, 1, 5, 5, 9]);
    expect(frameInStep([], 1)).toBeUndefined();
  });
});
