import { describe, expect, it } from 'vitest';
import type { FrameReply } from '../../../contract/batches.js';
import { gridRows } from './FrameGrid.js';

const frame = (shot: string, number: number, values: Partial<FrameReply> = {}): FrameReply => ({
  ...{ id: number, position: number, shot, shotName: `The ${shot}`, kind: 'turntable', view: 'v', number, name: `${shot}/${number}`, time: 0 },
  ...{ state: 'done', seconds: 1, samples: 16, ended: 'samples', message: null, files: [] },
  ...values,
});

describe('the rows of the grid', () => {
  it('are a head and full rows of cells a shot, and what failed once for each reason', () => {
    const frames = [
      ...Array.from({ length: 7 }, (_, i) => frame('a', i + 1)),
      frame('b', 1, { state: 'failed', message: 'black' }),
      frame('b', 2, { state: 'failed', message: 'empty' }),
      frame('b', 3, { state: 'failed', message: 'black' }),
      frame('b', 4, { state: 'waiting' }),
    ];
    const rows = gridRows(frames, 3);
    expect(rows.map((r) => r.kind)).toEqual(['head', 'cells', 'cells', 'cells', 'head', 'cells', 'cells', 'failure', 'failure']);
    expect(rows[0]).toMatchObject({ place: 1, name: 'The a', done: 7, total: 7 });
    expect(rows[4]).toMatchObject({ place: 2, done: 0, total: 4 });
    expect(rows.filter((r) => r.kind === 'cells').map((r) => r.frames.length)).toEqual([3, 3, 1, 3, 1]);
    expect(rows.filter((r) => r.kind === 'failure')).toMatchObject([
      { reason: 'black', numbers: [1, 3] },
      { reason: 'empty', numbers: [2] },
    ]);
    expect(new Set(rows.map((r) => r.key)).size).toBe(rows.length);
  });

  it('of ten thousand frames are some hundred, which is what is drawn from', () => {
    const frames = Array.from({ length: 10_000 }, (_, i) => frame('long', i + 1));
    expect(gridRows(frames, 40)).toHaveLength(251);
  });
});
