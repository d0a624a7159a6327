import { describe, expect, it } from 'vitest';
import { findingsOf, planOf, setOf } from '../../../tests/support/preflight.js';
import type { ModelPart } from './preflight.js';

const PART: ModelPart = {
  path: 'House/Awning',
  renderVisible: true,
  isContext: false,
  triangles: 12,
  open: true,
  bounds: { min: [-1, 1, 0], max: [1, 2, 1] },
};
const cutAt = (offset: number, more: object = {}) => setOf({ section: { planes: [{ normal: [0, 1, 0], offset, ...more }] } });
const of = (set: ReturnType<typeof setOf>, part: Partial<ModelPart> = {}) => findingsOf('open-cap', planOf(set, { parts: [{ ...PART, ...part }] }));

describe('a section of an open part', () => {
  it('is told where the plane goes through the part', () => {
    expect(of(cutAt(1.001)).map((f) => f.severity)).toEqual(['doubt']);
    expect(of(cutAt(1.5))[0]!.message).toBe(
      'The section cuts “Awning” in the view Front, whose faces do not close: the cut face may be missing. Close the part in the model, or leave it out of the section.',
    );
    expect(of(cutAt(0.999))).toEqual([]);
    expect(of(cutAt(2.001))).toEqual([]);
    expect(of(setOf())).toEqual([]);
  });

  it('is no matter of closed parts, of the surroundings, of hidden parts and of parts that the plane leaves', () => {
    expect(of(cutAt(1.5), { open: false })).toEqual([]);
    expect(of(cutAt(1.5), { isContext: true })).toEqual([]);
    expect(of(cutAt(1.5), { renderVisible: false })).toEqual([]);
    expect(of(cutAt(1.5, { part: 'Shed' }))).toEqual([]);
    expect(of(cutAt(1.5, { part: 'House' }))).toHaveLength(1);
    // Nothing is known of parts of earlier versions.
    expect(of(cutAt(1.5), { bounds: undefined })).toEqual([]);
  });

  it('goes by where the set puts the model', () => {
    const moved = (scale: number) => ({ ...cutAt(1.5), transform: setOf({ transform: { scale } }).transform! });
    expect(of(moved(1))).toHaveLength(1);
    expect(of(moved(3))).toEqual([]);
  });
});
