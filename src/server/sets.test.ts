import { describe, expect, it } from 'vitest';
import { parseSet } from '../core/plan/set.js';
import type { PlanSet } from './db/models.js';
import { listedSet } from './sets.js';
import { contentOf, setColumns } from './setText.js';

const file = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Review set',
  views: [
    { id: 'front', name: 'Front', eye: [0, 1, 5], target: [0, 0, 0] },
    { id: 'side', name: 'Side', eye: [5, 1, 0], target: [0, 0, 0] },
  ],
  shots: [{ id: 'still', name: 'Still', kind: 'still', views: ['front', 'side'] }],
});
const columns = setColumns(file);
const content = contentOf(columns.file);
const listed = { id: 4, name: 'Review set', frames: 2, content, view: 'front' };
const row = (values: object): PlanSet => ({ id: 4, ...columns, ...values }) as Partial<PlanSet> as PlanSet;

describe('a line of a list of sets', () => {
  it('tells the content and the view that its cover is drawn of', () => {
    expect(listedSet(row({}))).toEqual(listed);
    expect(listedSet(row(setColumns({ ...file, views: [], shots: [] })))).toMatchObject({ view: null, frames: 0 });
  });

  it('is made of the text where what is kept is none, of another text, or of before views were told', () => {
    const old = { of: content, name: 'Review set', frames: 2 };
    for (const digest of [null, JSON.stringify(old), JSON.stringify({ ...old, of: 'another', frames: 9 })])
      expect(listedSet(row({ digest }))).toEqual(listed);
  });

  it('has the reason of one that cannot be read', () => {
    const text = '{"name":"Torn","views":';
    expect(listedSet(row({ file: text, digest: null }))).toMatchObject({
      frames: 0,
      view: null,
      content: contentOf(text),
      problem: expect.any(String) as string,
    });
  });
});
