import { describe, expect, it } from 'vitest';
import type { PartMatch } from '../model/match.js';
import { remapPartPaths, missingPartPaths, missingGroups, changedFaceGroups, cutPartPaths, movePartPath } from './remapParts.js';
import { parseSet } from '../plan/set.js';

const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Set',
  materials: {
    parts: [
      { path: 'Tern/Head', material: 'walnut' },
      { path: 'Tern/Foot', renderVisible: false },
    ],
  },
  section: {
    planes: [
      { normal: [0, 1, 0], offset: 1, part: 'Tern/Head' },
      { normal: [1, 0, 0], offset: 0 },
    ],
  },
  sections: [{ id: 'low', name: 'Low', planes: [{ normal: [0, 1, 0], offset: 0.1, part: 'Tern/Head' }] }],
  views: [
    { id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0], overrides: { hiddenParts: ['Tern/Head', 'Tern/Cord'] } },
    { id: 'b', name: 'B', eye: [0, 1, 5], target: [0, 1, 0], overrides: { section: 'low' } },
  ],
  shots: [
    { id: 's', kind: 'still', views: ['a'] },
    { id: 'r', kind: 'sectionReveal', view: 'b', part: 'Tern/Head', stations: [{ height: 0 }, { height: 1, seconds: 1 }] },
  ],
});
const renamed = (from: string, to: string): PartMatch => ({ change: 'renamed', from, to }) as PartMatch;

describe('a plan on the next revision', () => {
  it('names the parts with materials on single faces whose faces are counted otherwise now', () => {
    const resolved = parseSet({
      ...set,
      materials: {
        parts: ['Foot', 'Head', 'Arm', 'Gone'].map((path) => ({ path, ...(path !== 'Arm' && { faces: [{ group: 2, material: 'walnut' }] }) })),
      },
    });
    const parts = (counts: Record<string, number>): { path: string; materials: string[] }[] =>
      Object.entries(counts).map(([path, n]) => ({ path, materials: Array<string>(n).fill('Plain grey') }));
    expect(changedFaceGroups(resolved, parts({ Foot: 2, Head: 2, Arm: 2, Gone: 2 }), parts({ Foot: 6, Head: 2, Arm: 6 }))).toEqual(['Foot']);
    expect(missingGroups(resolved, parts({ Foot: 1, Head: 2, Arm: 1 }))).toEqual(['Foot']);
    expect(changedFaceGroups(set, parts({ 'Tern/Head': 1 }), parts({ 'Tern/Head': 6 }))).toEqual([]);
  });

  it('follows parts that were renamed, wherever it names them', () => {
    const next = remapPartPaths(set, [renamed('Tern/Head', 'Tern/Top/Head')]);
    expect(JSON.stringify(next)).not.toContain('"Tern/Head"');
    expect(JSON.stringify(next).split('"Tern/Top/Head"')).toHaveLength(1 + 5);
    // Nothing else changes.
    expect(JSON.parse(JSON.stringify(next).replaceAll('Tern/Top/Head', 'Tern/Head'))).toEqual(JSON.parse(JSON.stringify(set)));
    expect(parseSet(JSON.parse(JSON.stringify(next)))).toEqual(next);
  });

  it('is the same set where no named part moved', () => {
    expect(remapPartPaths(set, [renamed('Tern/Bulb', 'Tern/Lamp')])).toBe(set);
    expect(remapPartPaths(set, [])).toBe(set);
  });

  it('puts another part in the place of one that is gone, in every kind of reference', () => {
    const next = movePartPath(set, 'Tern/Head', 'Tern/Foot');
    expect(JSON.stringify(next)).not.toContain('Tern/Head');
    // What was planned for the one that is gone takes the place of what the other had.
    expect(next.materials!.parts).toEqual([{ path: 'Tern/Foot', material: 'walnut' }]);
    expect([next.section!.planes[0]!.part, next.sections![0]!.planes[0]!.part]).toEqual(['Tern/Foot', 'Tern/Foot']);
    expect(next.views[0]!.overrides!.hiddenParts).toEqual(['Tern/Foot', 'Tern/Cord']);
    expect(next.shots[1]).toMatchObject({ part: 'Tern/Foot' });
    expect(parseSet(JSON.parse(JSON.stringify(next)))).toEqual(next);
  });

  it('lets a part go: its material and planes with it, and a shot of it alone is switched off', () => {
    const next = movePartPath(set, 'Tern/Head', null);
    expect(JSON.stringify(next)).not.toContain('Tern/Head');
    expect(next.materials!.parts).toEqual([{ path: 'Tern/Foot', renderVisible: false }]);
    expect(next.section!.planes).toEqual([{ normal: [1, 0, 0], offset: 0 }]);
    // The further section cut nothing else, and no view names it any more.
    expect([next.sections, next.views[1]!.overrides]).toEqual([undefined, undefined]);
    expect(next.views[0]!.overrides!.hiddenParts).toEqual(['Tern/Cord']);
    expect(next.shots[1]).toMatchObject({ kind: 'sectionReveal', off: true });
    const read = parseSet(JSON.parse(JSON.stringify(next)));
    expect(missingPartPaths(read, new Set(['Tern/Foot', 'Tern/Cord']))).toEqual([]);
    expect([cutPartPaths(set), cutPartPaths(read)]).toEqual([['Tern/Head'], []]);
  });

  it('says what is not there any more', () => {
    expect(missingPartPaths(set, new Set(['Tern/Head', 'Tern/Foot']))).toEqual(['Tern/Cord']);
    expect(missingPartPaths(set, new Set(['Tern/Head', 'Tern/Foot', 'Tern/Cord']))).toEqual([]);
  });
});
