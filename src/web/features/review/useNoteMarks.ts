/** Where the notes of a moving shot stand along its timeline. */
import { useMemo } from 'react';
import type { FrameReply } from '../../../contract/batches.js';
import { useSetNotes } from '../../state/notes.js';

/** A note on the timeline. */
export interface NoteMark {
  /** Places of the first and last frame. */
  index: number;
  to: number;
  label: string;
}

/** @param of the run of the batch that is shown; null of a still. @param frames of it, in order. */
export function useNoteMarks(of: { setId: number; batch: number; run: string } | null, frames: readonly FrameReply[]): NoteMark[] {
  const { data } = useSetNotes(of?.setId ?? null);
  return useMemo(() => {
    if (!of || !data) return [];
    const placeOf = (number: number): number => frames.findIndex((f) => f.number >= number);
    return data
      .filter((n) => n.run === of.run)
      .flatMap((n) => {
        const [index, after] = [placeOf(n.number), placeOf(n.to + 1)];
        return index < 0 ? [] : [{ index, to: Math.max(index, after < 0 ? frames.length - 1 : after - 1), label: n.text }];
      });
  }, [data, of?.batch, of?.run, frames]);
}
