/** Small frames that are being drawn for this window, so that heavier things can let them go first. */
import { type RefObject, useEffect, useState } from 'react';

const waiting = new Set<object>();
const watchers = new Set<() => void>();

/**
 * Counts an image as waited for while it stands in the window and has not come, and gives it up when it is taken out.
 * @param coarse the address that stands in until there is something to see; what comes after that is not waited for.
 */
export function useThumbnailQueue(image: RefObject<HTMLImageElement | null>, src: string, coarse = src): void {
  useEffect(() => {
    const img = image.current;
    if (!img) return undefined;
    // Effects of a strict tree run twice.
    if (!img.hasAttribute('src')) img.src = src;
    return () => {
      // A browser goes on fetching what nobody sees any more, over the few connections that others wait for.
      if (!img.complete) img.removeAttribute('src');
    };
    // An image that changes its source has given the earlier one up by itself.
  }, [image]);
  useEffect(() => {
    const img = image.current;
    if (!img || src !== coarse || img.complete || img.getBoundingClientRect().top >= window.innerHeight) return undefined;
    const token = {};
    waiting.add(token);
    const end = (): void => {
      if (waiting.delete(token)) for (const look of watchers) look();
    };
    img.addEventListener('load', end);
    img.addEventListener('error', end);
    return () => {
      img.removeEventListener('load', end);
      img.removeEventListener('error', end);
      end();
    };
  }, [image, src, coarse]);
}

/** False from the first showing until no small frame is waited for, at most for so many milliseconds. */
export function useThumbnailPriority(limit: number): boolean {
  const [free, setFree] = useState(false);
  useEffect(() => {
    const look = (): void => {
      if (waiting.size === 0) setFree(true);
    };
    watchers.add(look);
    // By then all that is shown at the same time has said what it waits for.
    const first = setTimeout(look, 0);
    const last = setTimeout(() => setFree(true), limit);
    return () => {
      watchers.delete(look);
      clearTimeout(first);
      clearTimeout(last);
    };
  }, [limit]);
  return free;
}
