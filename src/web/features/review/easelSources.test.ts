import { describe, expect, it } from 'vitest';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { type EaselSource, easelItems } from './easelSources.js';

const frame = (id: number, view: string): FrameReply => ({ id, view, kind: 'still', number: 1, files: ['a.png'], samples: 4 }) as FrameReply;
const source = (batch: number, frames: FrameReply[], pinned?: number): EaselSource =>
  ({ batch: { id: batch } as BatchReply, run: 'stills', label: '', frames, passes: ['beauty'], revisionId: 1, pinned }) as EaselSource;
const shown = (...args: Parameters<typeof easelItems>): number[] => easelItems(...args).map((i) => i.frame!);

describe('what stands beside a render', () => {
  const [front, side] = [frame(1, 'front'), frame(2, 'side')];
  const others = [frame(11, 'front'), frame(12, 'side')];

  it('is the same view of another batch, whichever is shown', () => {
    const sources = [source(1, [front, side]), source(2, others)];
    expect(shown(sources, front, 'beauty')).toEqual([1, 11]);
    expect(shown(sources, side, 'beauty')).toEqual([2, 12]);
  });

  it('is the view that was chosen, of another batch', () => {
    const sources = [source(1, [front, side]), source(2, others, 12)];
    expect(shown(sources, front, 'beauty')).toEqual([1, 12]);
  });

  it('is the view that was chosen, of the same still', () => {
    const sources = [source(1, [front, side]), source(1, [front, side], 2)];
    expect(shown(sources, front, 'beauty')).toEqual([1, 2]);
    expect(shown(sources, side, 'beauty')).toEqual([2, 2]);
  });
});
