import { describe, expect, it } from 'vitest';
import type { Bounds } from '../math/bounds.js';
import { alignment, alignmentSummary, alignmentCsv } from './alignment.js';
import type { View } from './view.js';

const A: Bounds = { min: [-1, 0, -1], max: [1, 2, 1] };
const view: View = { id: 'v', name: 'Front', kind: 'parallel', eye: [0, 1, 8], target: [0, 1, 0], focalLength: 50, keepVerticals: false, width: 4 };
const size = { width: 400, height: 200 };

describe('a plan on several revisions', () => {
  const rows = alignment([view, { ...view, id: 'p', kind: 'panorama' }], size, 1, [A, A, { min: [-1, 0, -1], max: [1.05, 2, 1] }]);
  it('has one scale, and the box moves as the subject does: 100 pixels a metre', () => {
    expect(rows).toHaveLength(1);
    const [a, same, wider] = rows[0]!.revisions;
    expect(a!.scale).toBeCloseTo(100, 6);
    expect(a!.box!.map((v) => Number(v.toFixed(6)))).toEqual([100, 0, 300, 200]);
    expect(same!.moved).toBe(0);
    expect(wider!.moved).toBeCloseTo(5, 6);
  });
  it('is listed for other programs', () => {
    expect(alignmentCsv(rows, ['A', 'B', 'C']).trim().split(/\r?\n/)).toHaveLength(4);
  });
  it('has no box where the subject reaches behind the eye', () => {
    const near = alignment([{ ...view, kind: 'perspective', eye: [0, 1, 0.5] }], size, 1, [A]);
    expect(near[0]!.revisions[0]).toMatchObject({ box: null, moved: null });
  });
});

describe('a set on one model beside another', () => {
  const near: View = { ...view, id: 'n', kind: 'perspective', eye: [0, 1, 7] };

  it('says the farthest that the subject moves and scales in any view, and where it leaves the frame', () => {
    expect(alignmentSummary([view, near], size, 1, A, A)).toEqual({ moved: 0, scaled: 0, cropped: 0 });
    const wider: Bounds = { min: [-1, 0, -1], max: [3.2, 2, 1] };
    // Of the parallel view: 2.2 m at 100 pixels a metre, and 20 pixels beyond the frame's right edge.
    const found = alignmentSummary([view], size, 1, A, wider);
    expect(found.moved).toBeCloseTo(220, 6);
    expect(found.cropped).toBe(1);
    // A subject of twice the depth has its middle as far off; one that stands a metre nearer is larger by 7 / 6.
    expect(alignmentSummary([near], size, 1, A, { min: [-1, 0, 0], max: [1, 2, 2] }).scaled).toBeCloseTo(100 / 6, 6);
  });

  it('has no figures where no view shows a box', () => {
    expect(alignmentSummary([{ ...view, kind: 'panorama' }], size, 1, A, A)).toEqual({ moved: null, scaled: null, cropped: 0 });
  });
});
