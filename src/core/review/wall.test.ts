import { describe, expect, it } from 'vitest';
import { partsOfRun } from '../frame/frame.js';
import { arrangeWall, type PlannedResult, redoList, type Result, stateOfCell } from './wall.js';

const result = (values: Partial<Result>): Result => ({
  batch: values.number ?? 1,
  number: 1,
  revisionId: 1,
  revision: 'A',
  created: '2026-11-20T08:00:00.000Z',
  run: 'spin',
  name: 'Spin',
  kind: 'turntable',
  view: '',
  nth: 0,
  total: 3,
  done: 3,
  accepted: 0,
  redo: 0,
  cover: 1,
  ...values,
});
const plan: PlannedResult[] = [
  { run: 'stills', name: 'Stills', kind: 'still', view: 'front', nth: 1, frames: 1 },
  { run: 'stills', name: 'Stills', kind: 'still', view: 'side', nth: 1, frames: 1 },
  { run: 'spin', name: 'Spin', kind: 'turntable', view: '', nth: 0, frames: 3 },
];

describe('the id of a run', () => {
  it.each([
    ['spin', { shot: 'spin' }],
    ['spin+brass', { shot: 'spin', variant: 'brass' }],
    ['spin@tall', { shot: 'spin', size: 'tall' }],
    ['spin+brass@tall', { shot: 'spin', variant: 'brass', size: 'tall' }],
  ])('%s is taken apart', (run, parts) => expect(partsOfRun(run)).toEqual(parts));
});

describe('the wall', () => {
  it('has a row a planned shot and view in their order, and after them what is no longer planned', () => {
    const wall = arrangeWall(plan, [result({}), result({ run: 'gone', name: 'Gone' })], 'revision');
    expect(wall.rows.map((r) => [r.name, r.view, r.planned])).toEqual([
      ['Stills', 'front', true],
      ['Stills', 'side', true],
      ['Spin', '', true],
      ['Gone', '', false],
    ]);
    expect(wall.rows.map((r) => r.frames)).toEqual([1, 1, 3, 3]);
    expect(wall.cell(wall.rows[2]!.key, 'A')).toHaveLength(1);
    expect(wall.cell(wall.rows[0]!.key, 'A')).toEqual([]);
  });

  it('has columns by revision, in the order in which they came', () => {
    const results = [result({ number: 3, revision: 'B', revisionId: 7 }), result({ number: 1 }), result({ number: 2 })];
    const wall = arrangeWall(plan, results, 'revision');
    expect(wall.columns.map((c) => c.key)).toEqual(['A', 'B']);
    // The newest batch first.
    expect(wall.cell('spin\n\n0', 'A').map((r) => r.number)).toEqual([2, 1]);
  });

  it('shows a final before a draft, however new that is', () => {
    const wall = arrangeWall(plan, [result({ number: 5, draft: {} }), result({ number: 2 })], 'revision');
    expect(wall.cell('spin\n\n0', 'A').map((r) => r.number)).toEqual([2, 5]);
  });

  it('puts variants of a shot and of batches into columns, and a row of its own for each where columns are otherwise', () => {
    const results = [result({}), result({ run: 'spin+brass' }), result({ number: 2, variant: 'zinc' })];
    const byVariant = arrangeWall(plan, results, 'variant');
    expect(byVariant.columns.map((c) => c.key)).toEqual(['', 'brass', 'zinc']);
    expect(byVariant.rows.filter((r) => r.kind === 'turntable')).toHaveLength(1);
    const byRevision = arrangeWall(plan, results, 'revision');
    expect(byRevision.rows.filter((r) => r.kind === 'turntable').map((r) => r.key)).toEqual(['spin\n\n0', 'spin+brass\n\n0']);
  });

  it('puts sizes, dates and batches into columns', () => {
    const results = [result({ run: 'spin@tall', created: '2026-11-21T23:00:00.000Z', number: 9 }), result({})];
    expect(arrangeWall(plan, results, 'size').columns.map((c) => c.key)).toEqual(['', 'tall']);
    expect(arrangeWall(plan, results, 'date').columns.map((c) => c.key)).toEqual(['2026-11-20', '2026-11-21']);
    expect(arrangeWall(plan, results, 'batch').columns.map((c) => c.key)).toEqual(['1', '9']);
  });
});

describe('the state of a cell', () => {
  it.each([
    [undefined, true, false, 'planned'],
    [undefined, false, false, 'none'],
    [result({}), true, false, 'done'],
    [result({ done: 2 }), true, false, 'partial'],
    [result({ accepted: 3 }), true, false, 'accepted'],
    [result({ accepted: 2 }), true, false, 'done'],
    [result({ accepted: 3 }), true, true, 'stale'],
    [result({ accepted: 2, redo: 1 }), true, true, 'redo'],
    [result({ draft: {} }), true, false, 'draft'],
  ] as const)('of case %#', (r, planned, stale, state) => expect(stateOfCell(r, planned, stale)).toBe(state));
});

describe('the redo list', () => {
  it('is what is asked again and was not rendered since, variants apart and drafts left out', () => {
    const asked = [
      result({ number: 4, redo: 1 }),
      result({ number: 5, redo: 0, run: 'walk' }),
      result({ number: 3, redo: 2, run: 'walk' }),
      result({ number: 2, redo: 1, variant: 'brass' }),
      result({ number: 9, redo: 1, run: 'cut', draft: {} }),
    ];
    expect(redoList(asked).map((r) => r.number)).toEqual([4, 2]);
  });

  it('of a revision is not answered by a newer render of an earlier one', () => {
    const later = { revisionId: 2, revision: 'B' };
    expect(redoList([result({ number: 4, redo: 1, ...later }), result({ number: 6 })]).map((r) => r.number)).toEqual([4]);
    expect(redoList([result({ number: 4, redo: 1 }), result({ number: 6, ...later })])).toEqual([]);
    // Asked for in both: it is rendered once.
    expect(redoList([result({ number: 4, redo: 1, ...later }), result({ number: 6, redo: 1 })]).map((r) => r.number)).toEqual([6]);
  });
});
