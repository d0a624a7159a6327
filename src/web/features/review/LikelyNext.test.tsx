// @vitest-environment happy-dom
import { act, render } from '@testing-library/react';
import { SWRConfig } from 'swr';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ResultReply } from '../../../contract/results.js';
import { onLikely } from '../../compare/likely.js';
import { LikelyNext, Resting } from './LikelyNext.js';

const result = (batch: number, cover: number): ResultReply => ({ batch, cover, run: 'stills' }) as ResultReply;
const frame = (id: number) => ({ id, view: 'v', kind: 'still', number: 1, files: ['a.png'], samples: 4 });
const known = { '/batches/4/frames': [frame(60), frame(61)], '/batches/5/frames': [frame(70)] };

describe('what the pointer rests on', () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => vi.useRealTimers());

  it('is told by its address, and what the pointer only passes is not', () => {
    const told: string[] = [];
    const end = onLikely((url) => told.push(url));
    const resting = new Resting();
    render(
      <SWRConfig value={{ provider: () => new Map(), fallback: known, revalidateOnMount: false, revalidateIfStale: false }}>
        <LikelyNext resting={resting} />
      </SWRConfig>,
    );
    act(() => {
      resting.rest(result(5, 70));
      vi.advanceTimersByTime(30);
      resting.rest(result(4, 61));
      vi.advanceTimersByTime(30);
    });
    expect(told).toEqual([]);
    act(() => void vi.advanceTimersByTime(60));
    expect(told).toEqual([expect.stringContaining('/batches/4/frames/61/picture')]);
    // A print size would fill the memory.
    act(() => {
      resting.rest({ ...result(5, 70), size: { width: 7016, height: 9933 } });
      vi.advanceTimersByTime(100);
    });
    expect(told).toHaveLength(1);
    end();
    act(() => {
      resting.rest(result(5, 70));
      vi.advanceTimersByTime(100);
    });
    expect(told).toHaveLength(1);
  });
});
