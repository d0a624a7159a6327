/** What the server works out of a set: asked anew whenever the set changes, and given up where it changes meanwhile. */
import { useEffect, useRef, useState } from 'react';
import { get } from './api.js';

/** What was asked of the server about the set. */
export interface Asked<T> {
  /** The last answer; it is of an earlier state of the set while `pending`. */
  answer: T | null;
  pending: boolean;
  /** Why there is no answer. */
  problem: string | null;
}

/**
 * The requests of SWR are shared and not given up; these take long, and are.
 * @param key what the answer depends on, the same as long as that is; empty before it can be asked.
 * @param owner beginning of the keys whose earlier answers may be shown while a new one is on its way.
 * @param wait milliseconds from the last change until it is asked.
 */
export function useAskedAnew<T>(key: string, owner: string, path: string, wait: number): Asked<T> {
  const [got, setGot] = useState<{ key: string; answer: T | null; problem: string | null } | null>(null);
  const answered = useRef('');
  useEffect(() => {
    if (key === '' || answered.current === key) return undefined;
    const stop = new AbortController();
    const take = (answer: T | null, problem: string | null): void => {
      if (stop.signal.aborted) return;
      answered.current = key;
      setGot({ key, answer, problem });
    };
    const later = setTimeout(
      () =>
        void get<T>(path, stop.signal).then(
          (answer) => take(answer, null),
          (e: Error) => take(null, e.message),
        ),
      wait,
    );
    return () => {
      clearTimeout(later);
      stop.abort();
    };
  }, [key, path, wait]);
  // Of another set or revision it says nothing here.
  const own = got?.key.startsWith(owner) ? got : null;
  return { answer: own?.answer ?? null, pending: key !== '' && got?.key !== key, problem: own?.problem ?? null };
}
