import { describe, expect, it } from 'vitest';
import type { Bounds } from '../math/bounds.js';
import { alignment, alignmentCsv } from './alignment.js';
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
