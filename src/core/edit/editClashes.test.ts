import { describe, expect, it } from 'vitest';
import { editClashes, withTheirs } from './editClashes.js';
import { mergeEdits } from './mergeEdits.js';

const base = {
  name: 'Set',
  sheet: { size: { width: 640, height: 360 }, rate: '24' },
  views: [
    { id: 'a', name: 'Front', focalLength: 50 },
    { id: 'b', name: 'Side', focalLength: 35 },
  ],
};
type Set = typeof base;
const view = (id: string, focalLength: number) => (v: Set['views'][number]) => (v.id === id ? { ...v, focalLength } : v);

describe('two edits side by side', () => {
  it('do not clash where they touch different values, or say the same', () => {
    const ours = { ...base, sheet: { ...base.sheet, rate: '25' }, views: base.views.map(view('a', 60)) };
    const theirs = { ...base, name: 'Other', sheet: { ...base.sheet, rate: '25' }, views: base.views.map(view('b', 28)) };
    expect(editClashes(base, ours, theirs)).toEqual([]);
  });
  it('clash at each value that both changed, named as people know it', () => {
    const ours = { ...base, sheet: { ...base.sheet, size: { width: 1280, height: 720 } }, views: base.views.map(view('a', 60)) };
    const theirs = { ...base, sheet: { ...base.sheet, size: { width: 1920, height: 720 } }, views: base.views.map(view('a', 28)).reverse() };
    const clashes = editClashes(base, ours, theirs);
    expect(clashes.map((c) => [c.place.join(', '), c.ours, c.theirs])).toEqual([
      ['sheet, size, width', 1280, 1920],
      ['views, Front, focalLength', 60, 28],
    ]);
    // Ours stands until somebody takes theirs, value by value.
    const merged = mergeEdits(base, ours, theirs);
    expect(merged.sheet.size).toEqual({ width: 1280, height: 720 });
    const taken = withTheirs(withTheirs(merged, clashes[0]!), clashes[1]!);
    expect(taken.sheet.size).toEqual({ width: 1920, height: 720 });
    expect(taken.views.find((v) => v.id === 'a')!.focalLength).toBe(28);
    expect(taken.views.map((v) => v.id)).toEqual(['b', 'a']);
  });
  it('clash where one removed what the other changed to something else, and leave alone what is gone', () => {
    const [set, ours, theirs] = [{ note: 'x' }, { note: 'y' }, {}] as { note?: string }[];
    const [clash] = editClashes(set, ours, theirs);
    expect(clash).toMatchObject({ place: ['note'], ours: 'y', theirs: undefined });
    expect(withTheirs(ours!, clash!)).toEqual({});
    const list = { views: [{ id: 'gone', name: 'Gone', n: 1 }] };
    const [lost] = editClashes(list, { views: [{ id: 'gone', name: 'Gone', n: 2 }] }, { views: [{ id: 'gone', name: 'Gone', n: 3 }] });
    expect(withTheirs({ views: [{ id: 'other', name: 'Other', n: 0 }] }, lost! as never)).toEqual({ views: [{ id: 'other', name: 'Other', n: 0 }] });
  });
});
