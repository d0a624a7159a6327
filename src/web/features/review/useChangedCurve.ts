/** How much two moving shots differ, frame by frame: asked of the server one after another, and drawn as it comes. */
import { useEffect, useRef, useState } from 'react';
import type { FrameCurve } from '../../../core/shots/kind.js';
import { comparePair } from '../../state/compare.js';
import { toast } from '../../state/toast.js';
import { LABELS } from './words.js';

/** How much each frame of a moving shot changed. */
export interface ChangedCurve {
  /** Changed per cent of each frame; null before it was asked for. */
  curve: FrameCurve | null;
  /** Frames that are done; null where none is being compared. */
  done: number | null;
  start: () => void;
  stop: () => void;
}

/** @param pairs ids of frames that go together; null where one has no counterpart. */
export function useChangedCurve(pairs: readonly ({ first: number; second: number } | null)[], threshold: number): ChangedCurve {
  const [values, setValues] = useState<number[] | null>(null);
  const [done, setDone] = useState<number | null>(null);
  const running = useRef<AbortController | null>(null);
  const key = `${pairs.map((p) => `${p?.first} ${p?.second}`).join()} ${threshold}`;
  const stop = (): void => {
    running.current?.abort();
    setDone(null);
  };
  useEffect(() => {
    setValues(null);
    return stop;
  }, [key]);
  const run = async (): Promise<void> => {
    const own = new AbortController();
    running.current = own;
    const found = new Array<number>(pairs.length).fill(0);
    try {
      for (const [i, pair] of pairs.entries()) {
        setDone(i);
        if (pair) found[i] = 100 * (await comparePair(pair.first, pair.second, threshold, own.signal)).changed;
        if (own.signal.aborted) return;
        setValues([...found]);
      }
    } catch (e) {
      if (!own.signal.aborted) toast.error((e as Error).message);
    } finally {
      if (running.current === own) setDone(null);
    }
  };
  return { curve: values && { label: LABELS.changedCurve, unit: ' %', decimals: 1, values }, done, start: () => void run(), stop };
}
