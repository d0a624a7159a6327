import { describe, expect, it } from 'vitest';
import { mergeEdits } from './mergeEdits.js';

describe('two edits of one thing', () => {
  const base = {
    name: 'Set',
    sheet: { size: { width: 1920, height: 1080 }, rate: '24' },
    tags: ['a', 'b'],
    shots: [
      { id: 'still', name: 'Still', views: ['a'] },
      { id: 'spin', name: 'Spin', frames: 72 },
      { id: 'walk', name: 'Walk' },
    ],
  };
  const edited = (change: (set: typeof base & Record<string, unknown>) => void): typeof base => {
    const copy = structuredClone(base);
    change(copy);
    return copy;
  };

  it('keep both where they changed different values', () => {
    const ours = edited((s) => (s.sheet.size.width = 640));
    const theirs = edited((s) => {
      s.sheet.rate = '25';
      s.name = 'Theirs';
    });
    expect(mergeEdits(base, ours, theirs)).toEqual({ ...base, name: 'Theirs', sheet: { size: { width: 640, height: 1080 }, rate: '25' } });
  });

  it('keep ours where both changed the same value, and lists of plain values as a whole', () => {
    const ours = edited((s) => {
      s.name = 'Ours';
      s.tags = ['a', 'c'];
    });
    const theirs = edited((s) => {
      s.name = 'Theirs';
      s.tags = ['b'];
    });
    expect(mergeEdits(base, ours, theirs)).toEqual({ ...base, name: 'Ours', tags: ['a', 'c'] });
  });

  it('merge what is told apart by ids: changed, added, deleted, in another order', () => {
    const ours = edited((s) => {
      s.shots[1]!.frames = 36;
      s.shots.push({ id: 'sun', name: 'Sun' });
    });
    const theirs = edited((s) => {
      s.shots[0]!.name = 'First';
      s.shots = [s.shots[1]!, s.shots[0]!, { id: 'cut', name: 'Cut' }];
    });
    // The walk was deleted there and not touched here.
    expect(mergeEdits(base, ours, theirs).shots).toEqual([
      { id: 'spin', name: 'Spin', frames: 36 },
      { id: 'still', name: 'First', views: ['a'] },
      { id: 'cut', name: 'Cut' },
      { id: 'sun', name: 'Sun' },
    ]);
  });

  it('keep what one side deleted and the other changed', () => {
    const ours = edited((s) => (s.shots[2]!.name = 'Walk in'));
    const theirs = edited((s) => (s.shots = s.shots.slice(0, 2)));
    expect(mergeEdits(base, ours, theirs).shots.map((s) => s.name)).toEqual(['Still', 'Spin', 'Walk in']);
    expect(mergeEdits(base, theirs, ours).shots.map((s) => s.name)).toEqual(['Still', 'Spin', 'Walk in']);
  });

  it('take away what one side took away', () => {
    const withNote = { ...base, note: 'x' } as Record<string, unknown>;
    const { note: _, ...without } = withNote;
    expect(mergeEdits(withNote, without, { ...withNote, name: 'Theirs' })).toEqual({ ...base, name: 'Theirs' });
    expect(mergeEdits<Record<string, unknown>>(base, { ...base, a: 1 }, { ...base, b: 2 })).toEqual({ ...base, a: 1, b: 2 });
  });

  it('are the later one where only one side changed anything', () => {
    const theirs = edited((s) => (s.name = 'Theirs'));
    expect(mergeEdits(base, base, theirs)).toEqual(theirs);
    expect(mergeEdits(base, theirs, base)).toEqual(theirs);
  });
});
