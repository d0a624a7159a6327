/** Fetches and decodes every render of a shot ahead, so that playing and scrubbing do not wait for them. */
import { useEffect, useRef, useState } from 'react';

/** Bytes of decoded renders that are kept; those beyond are decoded when they are shown. */
const MOST_BYTES = 384 * 2 ** 20;
/** So many are fetched at a time. */
const AT_A_TIME = 4;

/** Renders of a moving shot, loaded before they are shown. */
export interface Preloaded {
  /** How many of them are there. */
  loaded: number;
  /** A decoded render by its address, where it is kept. */
  decoded: (url: string) => ImageBitmap | undefined;
}

/** Loads and decodes them in their order. */
export function usePreloaded(urls: readonly string[]): Preloaded {
  const [loaded, setLoaded] = useState(0);
  const kept = useRef(new Map<string, ImageBitmap>());
  const key = urls.join('|');
  useEffect(() => {
    const gone = new AbortController();
    const cache = new Map<string, ImageBitmap>();
    kept.current = cache;
    let bytes = 0;
    let count = 0;
    setLoaded(0);
    const queue = [...new Set(key.split('|').filter(Boolean))];
    const work = async (): Promise<void> => {
      for (let url = queue.shift(); url !== undefined && !gone.signal.aborted; url = queue.shift()) {
        try {
          const blob = await (await fetch(url, { signal: gone.signal })).blob();
          if (bytes < MOST_BYTES) {
            const bitmap = await createImageBitmap(blob);
            if (gone.signal.aborted) bitmap.close();
            else cache.set(url, bitmap);
            bytes += bitmap.width * bitmap.height * 4;
          }
        } catch {
          // The render itself says where it cannot be shown.
        }
        if (!gone.signal.aborted) setLoaded(++count);
      }
    };
    for (let i = 0; i < AT_A_TIME; i++) void work();
    return () => {
      gone.abort();
      for (const bitmap of cache.values()) bitmap.close();
    };
  }, [key]);
  return { loaded, decoded: (url) => kept.current.get(url) };
}
