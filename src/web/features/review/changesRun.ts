/** Compares two columns of the wall, shot by shot and frame by frame, one after another; can be stopped. */
import { useRef, useState } from 'react';
import type { FrameReply } from '../../../contract/batches.js';
import type { ComparisonReply, ResultReply } from '../../../contract/results.js';
import { csv } from '../../../core/base/csv.js';
import { get } from '../../state/api.js';
import { comparePair } from '../../state/compare.js';
import { isMovingResult } from './easelItems.js';

/** Frames of a moving shot that are compared: evenly, first and last among them. */
export const MAX_COMPARED_FRAMES = 24;

/** Two renders of one row, to be compared. */
export interface RowPair {
  key: string;
  /** Shot, and view of a still. */
  name: string;
  first: ResultReply;
  second: ResultReply;
}

/** What became of a shot: at the frame that changed most. */
export interface RowChange extends RowPair {
  /** Frame that changed most, of each. */
  frames: { first: number; second: number; number: number };
  worst: ComparisonReply;
  /** Frames that were compared, of so many. */
  compared: number;
  of: number;
}

/** A comparison of a whole set, in work or done. */
export interface ChangesRun {
  rows: RowChange[];
  /** Shots that are done, of so many; null where none is being compared. */
  progress: { done: number; total: number } | null;
  problem: string | null;
  start: (pairs: readonly RowPair[], threshold: number) => void;
  stop: () => void;
}

/** At most so many of a list, evenly, with the first and the last. */
export function evenly<T>(list: readonly T[], most: number): T[] {
  if (list.length <= most) return [...list];
  return Array.from({ length: most }, (_, i) => list[Math.round((i * (list.length - 1)) / (most - 1))]!);
}

const framesOf = async ({ batch, run }: ResultReply, signal: AbortSignal): Promise<FrameReply[]> =>
  (await get<FrameReply[]>(`/batches/${batch}/frames?limit=5000&run=${encodeURIComponent(run)}`, signal)).filter((f) => f.state === 'done');

type FramePair = RowChange['frames'];

async function framePairs({ first, second }: RowPair, signal: AbortSignal): Promise<FramePair[]> {
  if (!isMovingResult(first)) return [{ first: first.cover, second: second.cover, number: 1 }];
  const [a, b] = [await framesOf(first, signal), await framesOf(second, signal)];
  const others = new Map(b.map((f) => [f.number, f.id]));
  return a.flatMap((f) => (others.has(f.number) ? [{ first: f.id, second: others.get(f.number)!, number: f.number }] : []));
}

async function compareRow(pair: RowPair, threshold: number, signal: AbortSignal): Promise<RowChange | null> {
  const all = await framePairs(pair, signal);
  const chosen = evenly(all, MAX_COMPARED_FRAMES);
  let found: { frames: FramePair; worst: ComparisonReply } | null = null;
  for (const frames of chosen) {
    const comparison = await comparePair(frames.first, frames.second, threshold, signal);
    if (!found || comparison.changed > found.worst.changed) found = { frames, worst: comparison };
  }
  return found && { ...pair, ...found, compared: chosen.length, of: all.length };
}

/** Compares pairs one after another; can be stopped. */
export function useChangesRun(): ChangesRun {
  const [rows, setRows] = useState<RowChange[]>([]);
  const [progress, setProgress] = useState<ChangesRun['progress']>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const running = useRef<AbortController | null>(null);
  const run = async (pairs: readonly RowPair[], threshold: number): Promise<void> => {
    running.current?.abort();
    const own = new AbortController();
    running.current = own;
    setRows([]);
    setProblem(null);
    const done: RowChange[] = [];
    try {
      for (const [i, pair] of pairs.entries()) {
        setProgress({ done: i, total: pairs.length });
        const row = await compareRow(pair, threshold, own.signal);
        if (own.signal.aborted) return;
        if (row) done.push(row);
        setRows([...done].sort((a, b) => b.worst.changed - a.worst.changed));
      }
    } catch (e) {
      if (!own.signal.aborted) setProblem((e as Error).message);
    } finally {
      if (running.current === own) setProgress(null);
    }
  };
  return {
    rows,
    progress,
    problem,
    start: (pairs, threshold) => void run(pairs, threshold),
    stop: () => {
      running.current?.abort();
      setProgress(null);
    },
  };
}

/** The table for other programs. @param columns what the two sides are. */
export function changesCsv(rows: readonly RowChange[], columns: [string, string]): string {
  return csv(
    ['shot', 'first', 'second', 'frame', 'changed %', 'SSIM', 'largest CIEDE2000', 'areas', 'parts', 'frames compared', 'frames'],
    rows.map(({ name, frames, worst, compared, of }) => [
      name,
      ...columns,
      frames.number,
      100 * worst.changed,
      worst.ssim,
      worst.largest,
      worst.areas,
      worst.parts.map((p) => p.path).join('; '),
      compared,
      of,
    ]),
  );
}
