import { describe, expect, it } from 'vitest';
import type { BatchReply } from '../../../contract/batches.js';
import type { ResultReply } from '../../../contract/results.js';
import { handoverRows, stateOfRow } from './handoverRows.js';

const result = (more: Partial<ResultReply>): ResultReply => ({
  batch: 2,
  number: 2,
  revisionId: 1,
  revision: 'A',
  created: '2026-11-30T00:00:00Z',
  run: 'stills',
  name: 'Stills',
  kind: 'still',
  view: 'front',
  nth: 1,
  total: 1,
  done: 1,
  failed: 0,
  accepted: 0,
  redo: 0,
  cover: 20,
  coverSamples: 4,
  ...more,
});
const batches = [{ id: 2, clips: [{ id: 1, shot: 'spin', state: 'ready', fileName: 'a.mp4', message: null, bytes: 1 }] }] as unknown as BatchReply[];

describe('what can be handed over', () => {
  it('is the newest final of each view and shot of the revision', () => {
    const rows = handoverRows(
      [
        result({ batch: 3, draft: { size: 0.5, samples: 0.5 }, cover: 31 }),
        result({ cover: 20 }),
        result({ view: 'side', cover: 21, accepted: 1 }),
        result({ run: 'spin', name: 'Spin', kind: 'turntable', view: '', nth: 0, total: 6, done: 6, accepted: 6, cover: 22 }),
        result({ batch: 1, number: 1, cover: 10 }),
        result({ batch: 1, number: 1, view: 'top', cover: 11 }),
        result({ revisionId: 7, cover: 70, view: 'other' }),
      ],
      batches,
      1,
    );
    expect(rows.map((r) => [r.name, r.renders.map((x) => `${x.batch}:${x.frame ?? 'all'}`), r.frames, r.movies.length])).toEqual([
      ['Spin', ['2:all'], 6, 1],
      ['Stills', ['2:20', '2:21', '1:11'], 3, 0],
    ]);
    expect(rows.map(stateOfRow)).toEqual(['accepted', 'done']);
  });
  it('says the worst first', () => {
    const of = (more: Partial<ResultReply>) => stateOfRow(handoverRows([result(more)], batches, 1)[0]!);
    expect([of({ redo: 1 }), of({ total: 2 }), of({ accepted: 1 }), of({})]).toEqual(['redo', 'incomplete', 'accepted', 'done']);
  });
});
