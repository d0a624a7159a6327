import { describe, expect, it } from 'vitest';
import { emptySet } from '../plan/set.js';
import { remapPartPaths, missingPartPaths } from '../edit/remapParts.js';
import { materialAssignmentsSchema } from '../materials/assignments.js';
import { matchParts, type PartShape } from './match.js';

const body = (path: string, { x = 0, size = 1, triangles = 12 } = {}): PartShape => ({
  name: path.split('/').at(-1)!,
  path,
  triangles,
  area: 6 * size ** 2,
  volume: size ** 3,
  bounds: { min: [x, 0, 0], max: [x + size, size, size] },
});
const group = (path: string): PartShape => ({ ...body(path), triangles: 0, area: 0, volume: 0, bounds: { min: [0, 0, 0], max: [0, 0, 0] } });
const fates = (before: PartShape[], after: PartShape[]): string[] =>
  matchParts(before, after).map((m) => `${m.change}: ${m.from ?? '-'} → ${m.to ?? '-'}`);

describe('matching of revisions', () => {
  it('tells what was kept, moved, changed, is new or gone', () => {
    expect(
      fates(
        [group('A'), body('A/foot'), body('A/arm'), body('A/cap'), body('A/screw', { size: 0.1 })],
        [group('A'), body('A/foot'), body('A/arm', { x: 2 }), body('A/cap', { size: 1.2 }), body('A/knob', { size: 0.3 })],
      ),
    ).toEqual(['kept: A → A', 'kept: A/foot → A/foot', 'moved: A/arm → A/arm', 'changed: A/cap → A/cap', 'new: - → A/knob', 'gone: A/screw → -']);
  });

  it('follows names through the tree, and shapes through new names', () => {
    expect(
      fates(
        [group('A'), body('A/shade', { size: 3 }), body('A/x1', { size: 2 })],
        [group('B'), group('B/head'), body('B/head/shade', { size: 3 }), body('B/head/collar', { size: 2 })],
      ),
    ).toEqual(['new: - → B', 'new: - → B/head', 'renamed: A/shade → B/head/shade', 'renamed: A/x1 → B/head/collar', 'gone: A → -']);
  });

  it('does not guess between names that stand more than once, but goes by place then', () => {
    expect(fates([body('a/bolt', { x: 0 }), body('b/bolt', { x: 10 })], [body('c/bolt', { x: 10.2 }), body('d/bolt', { x: 0.1 })])).toEqual([
      'renamed: b/bolt → c/bolt',
      'renamed: a/bolt → d/bolt',
    ]);
  });

  it('takes small differences of writing for none, and other meshings for change', () => {
    const b = body('a');
    expect(fates([b], [{ ...b, area: b.area * (1 + 1e-6), bounds: { min: [1e-6, 0, 0], max: [1, 1, 1] } }])).toEqual(['kept: a → a']);
    expect(fates([b], [{ ...b, triangles: 24 }])).toEqual(['changed: a → a']);
  });

  it('names every part of both exactly once', () => {
    const before = Array.from({ length: 40 }, (_, i) => body(`p/${i % 7}/${i}`, { x: i, size: 1 + (i % 5) }));
    const after = before.filter((_, i) => i % 3 > 0).map((p, i) => (i % 4 === 0 ? { ...p, path: `q/${i}`, name: `${i} new` } : p));
    const matches = matchParts(before, after);
    expect(matches.flatMap((m) => m.from ?? []).sort()).toEqual(before.map((p) => p.path).sort());
    expect(matches.flatMap((m) => m.to ?? []).sort()).toEqual(after.map((p) => p.path).sort());
  });
});

describe('what a plan names', () => {
  const set = {
    ...emptySet('s'),
    materials: materialAssignmentsSchema.parse({
      parts: [
        { path: 'A/shade', material: 'pine' },
        { path: 'A/screw', renderVisible: false },
      ],
    }),
    section: { planes: [{ normal: [0, 1, 0] as [number, number, number], offset: 1, part: 'A/shade' }] },
  };

  it('follows renamed parts', () => {
    const next = remapPartPaths(set, [
      { change: 'renamed', from: 'A/shade', to: 'B/shade' },
      { change: 'gone', from: 'A/screw', to: null },
    ]);
    expect(next.materials!.parts.map((p) => p.path)).toEqual(['B/shade', 'A/screw']);
    expect(next.section!.planes[0]!.part).toBe('B/shade');
    expect(missingPartPaths(next, new Set(['B/shade']))).toEqual(['A/screw']);
  });

  it('stays the same set where nothing of it was renamed', () => {
    expect(remapPartPaths(set, [{ change: 'renamed', from: 'A/other', to: 'B/other' }])).toBe(set);
  });
});

describe('matching of very many parts', () => {
  it('goes with the number of parts where all were renamed and stand where they stood', () => {
    const bolts = (name: string): PartShape[] => Array.from({ length: 20_000 }, (_, i) => ({ ...body(`${name} ${i}`, { x: 2 * i }), name: 'bolt' }));
    const counts = new Map<string, number>();
    const compared = { n: 0 };
    // Every look at an area is a comparison of two bodies.
    const counted = (parts: PartShape[]): PartShape[] =>
      parts.map((p) =>
        Object.defineProperty({ ...p }, 'area', {
          get: () => {
            compared.n++;
            return p.area;
          },
        }),
      );
    for (const { change: fate } of matchParts(counted(bolts('old')), counted(bolts('new')))) counts.set(fate, (counts.get(fate) ?? 0) + 1);
    expect([...counts]).toEqual([['renamed', 20_000]]);
    expect(compared.n).toBeLessThan(20 * 20_000);
  });

  it('gives each of several alike its own, nearest first', () => {
    const before = [body('a', { x: 0 }), body('b', { x: 10 }), body('c', { x: 20 })];
    const after = [body('x', { x: 19 }), body('y', { x: 10 }), body('z', { x: 1 })];
    expect(fates(before, after)).toEqual(['renamed: c → x', 'renamed: b → y', 'renamed: a → z']);
  });
});
