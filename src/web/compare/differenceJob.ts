/** What the difference of two renders comes to, computed beside the page. */
import { useEffect, useState } from 'react';
import type { ChangedArea } from '../../core/review/areas.js';
import { onLikely } from './likely.js';

/** Two renders to be compared, by their addresses. */
export interface DifferenceAsk {
  key: string;
  first: string;
  second: string;
  threshold: number;
}

/** A picture that will be asked for: it is decoded meanwhile. */
export interface DifferencePrepare {
  prepare: string;
  /** It is the one that others are compared with, which stays in memory whatever else is prepared. */
  first?: boolean;
}

/** Figures of a difference, and its heat map; CIEDE2000 and shares. */
export interface DifferenceFigures {
  width: number;
  height: number;
  changed: number;
  ssim: number;
  largest: number;
  /** Most pixels first, MAX_AREAS of them. */
  areas: ChangedArea[];
  /** How many areas there are. */
  count: number;
  map: ImageBitmap;
  /** The renders had different sizes, and were compared at the smaller. */
  scaled: boolean;
  /** A first look at fewer pixels: those of all follow. */
  isFirstLook: boolean;
}

/** Areas that are stepped through at most. */
export const MAX_AREAS = 200;

/** What the worker found, or why it could not. */
export type DifferenceAnswer = { key: string; figures: DifferenceFigures } | { key: string; problem: string };

interface DifferenceState {
  figures: DifferenceFigures | null;
  problem: string | null;
  busy: boolean;
}

/**
 * @param ask addresses of two pictures; null where there is nothing to compare. The last answer stays until the next is there.
 * @param likely address of a picture that another may be compared with soon.
 */
export function useDifference(ask: Omit<DifferenceAsk, 'key'> | null, likely?: string): DifferenceState {
  const [worker, setWorker] = useState<Worker | null>(null);
  const [answer, setAnswer] = useState<DifferenceAnswer | null>(null);
  const key = ask ? `${ask.first}\n${ask.second}\n${ask.threshold}` : '';
  useEffect(() => {
    const made = new Worker(new URL('./difference.worker.ts', import.meta.url), { type: 'module' });
    made.onmessage = ({ data }: MessageEvent<DifferenceAnswer>) => setAnswer(data);
    setWorker(made);
    return () => made.terminate();
  }, []);
  useEffect(() => {
    if (worker && ask) worker.postMessage({ key, ...ask } satisfies DifferenceAsk);
  }, [worker, key]);
  useEffect(() => {
    if (worker && !ask && likely !== undefined) worker.postMessage({ prepare: likely, first: true } satisfies DifferencePrepare);
  }, [worker, likely, ask === null]);
  useEffect(() => (worker ? onLikely((prepare) => worker.postMessage({ prepare } satisfies DifferencePrepare)) : undefined), [worker]);
  const own = answer?.key === key && key !== '' ? answer : null;
  return {
    figures: own && 'figures' in own ? own.figures : null,
    problem: own && 'problem' in own ? own.problem : null,
    busy: key !== '' && (own === null || ('figures' in own && own.figures.isFirstLook)),
  };
}
