import { describe, expect, it } from 'vitest';
import { type Bounds, corners } from '../math/bounds.js';
import { cameraOf, projectPoint } from '../camera/view.js';
import { rebaseProposal, rebaseSet } from './rebase.js';
import { parseSet } from '../plan/set.js';

const FIRST: Bounds = { min: [-1, 0, -1], max: [1, 2, 1] };
const LATER: Bounds = { min: [-1, 0.1, -1], max: [3, 2.1, 1] };
const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  reference: FIRST,
  views: [
    { id: 'a', name: 'A', eye: [0, 1, 6], target: [0, 1, 0] },
    { id: 'b', name: 'B', eye: [0, 1, 7], target: [0, 1, 0], locked: true },
  ],
  shots: [
    { id: 's', name: 'Spin', kind: 'turntable', view: 'a', frames: 4 },
    { id: 't', name: 'At a point', kind: 'turntable', view: 'a', frames: 4, pivot: [0, 0, 0] },
  ],
});

describe('a refit', () => {
  it('says what moves before it does', () => {
    expect(rebaseProposal(set, FIRST)).toBeNull();
    const refit = rebaseProposal(set, LATER)!;
    expect(refit.moved).toBeCloseTo(Math.hypot(1, 0.1), 9);
    expect(refit.lowest).toBeCloseTo(0.1, 9);
    expect(refit.grown).toBeCloseTo(Math.hypot(4, 2, 2) / Math.hypot(2, 2, 2) - 1, 9);
    expect([refit.pivots, refit.views]).toEqual([['Spin'], ['A']]);
  });

  it('leaves views where they are unless they are asked for, and locked ones always', () => {
    expect(rebaseSet(set, LATER, false).views).toEqual(set.views);
    const { views, reference } = rebaseSet(set, LATER, true);
    expect(reference).toEqual(LATER);
    expect(views[1]).toEqual(set.views[1]);
    const camera = cameraOf(views[0]!, set.sheet.size, 1);
    for (const c of corners(LATER)) {
      const [x, y] = projectPoint(camera, set.sheet.size, c)!;
      expect(x > 0 && x < 1920 && y > 0 && y < 1080).toBe(true);
    }
    expect(rebaseProposal(rebaseSet(set, LATER, false), LATER)).toBeNull();
  });
});
