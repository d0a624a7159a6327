/** Which frame of a moving shot a cell of the wall shows: the pointer scrubs, and where it rests the shot plays. */
import { type PointerEvent, useEffect, useState } from 'react';

/** Milliseconds that the pointer must rest before the shot plays. */
export const REST_MS = 500;
/** Time that a shot takes to play through, at most; and its frames a second, at most: small pictures are fetched as it goes. */
const LOOP_SECONDS = 6;
/** Frames per second of a strip on the wall. */
export const STRIP_RATE = 12;

/** What of a moving shot a cell shows. */
export interface Strip {
  /** Share of the shot that is shown, 0 to below 1; null while the pointer is elsewhere. */
  share: number | null;
  /** Frames that come next, to be fetched ahead. */
  step: number;
  onMove: (e: PointerEvent<HTMLElement>) => void;
  onLeave: () => void;
}

const still = (): boolean => window.matchMedia('(prefers-reduced-motion: reduce)').matches;

/** @param count frames that are there; 0 of what does not move. */
export function useStrip(count: number): Strip {
  const [share, setShare] = useState<number | null>(null);
  const [moved, setMoved] = useState(0);
  const inside = share !== null;
  const step = Math.max(1, Math.round(count / (LOOP_SECONDS * STRIP_RATE)));
  useEffect(() => {
    if (!inside || count < 2 || still()) return;
    let timer: ReturnType<typeof setInterval> | undefined;
    const rest = setTimeout(() => {
      timer = setInterval(
        () => setShare((at) => (at === null ? null : (((Math.floor(at * count) + step) % count) + 0.5) / count)),
        1000 / STRIP_RATE,
      );
    }, REST_MS);
    return () => {
      clearTimeout(rest);
      clearInterval(timer);
    };
  }, [inside, moved, count, step]);
  return {
    share,
    step,
    onMove: (e) => {
      const box = e.currentTarget.getBoundingClientRect();
      setShare(Math.min(0.999, Math.max(0, (e.clientX - box.left) / box.width)));
      setMoved((n) => n + 1);
    },
    onLeave: () => setShare(null),
  };
}
