import { describe, expect, it } from 'vitest';
import { parseSet } from '../plan/set.js';
import { setDifferences } from './setDifferences.js';

const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  views: [
    { id: 'v', name: 'Front', eye: [0, 1, 5], target: [0, 0, 0] },
    { id: 'w', name: 'Back', eye: [0, 1, -5], target: [0, 0, 0] },
  ],
  shots: [
    { id: 'a', kind: 'still', views: ['v'] },
    { id: 'b', kind: 'turntable', view: 'w', frames: 4, name: 'Round' },
  ],
});

describe('differences of two sets', () => {
  it('are none of one and the same, however its keys are ordered', () => {
    expect(setDifferences(set, parseSet(JSON.parse(JSON.stringify(set))))).toEqual([]);
    expect(setDifferences(set, { ...set, grade: Object.fromEntries(Object.entries(set.grade).reverse()) as typeof set.grade })).toEqual([]);
  });

  it('name what came, went and changed, with its keys', () => {
    const [v, w] = set.views;
    const [a, b] = set.shots;
    const after = {
      ...set,
      name: 'Other',
      sheet: { ...set.sheet, quality: 'final' as const, firstNumber: 101 },
      views: [
        { ...v!, focalLength: 80 },
        { ...w!, id: 'x', name: 'Side' },
      ],
      shots: [{ ...b!, frames: 9 } as typeof b & object, a!],
      section: { planes: [{ normal: [1, 0, 0] as [number, number, number], offset: 0 }] } as typeof set.section,
    };
    expect(setDifferences(set, after)).toEqual([
      'Renamed from "Set" to "Other".',
      'Format sheet changed: quality, firstNumber.',
      'View "Side" was added.',
      'View "Back" was removed.',
      'View "Front" changed: focalLength.',
      'Shot "Round" changed: frames.',
      'The order of the shots changed.',
      'Section changed.',
    ]);
  });
});
