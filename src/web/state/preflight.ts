/** What the server says of the set before it runs: asked for again after every edit. */
import { useEffect, useRef, useState } from 'react';
import useSWR from 'swr';
import type { PreflightReply } from '../../contract/preflight.js';
import { get } from './api.js';

/** Milliseconds after an edit where somebody looks at the findings, and where nobody does. */
const WAIT_MS = { shown: 0, hidden: 3000 };

export interface PreflightState {
  /** The last report; it is of an earlier state of the set while `checking`. */
  report: PreflightReply | null;
  checking: boolean;
  /** Why there is no report. */
  problem: string | null;
}

/** Key under which events put the progress of a set's check. */
export const preflightProgressKey = (setId: number): string => `/sets/${setId}/preflight/progress`;

/** How far the check of a set is; undefined before it said so. */
export const usePreflightProgress = (setId: number): { done: number; total: number } | undefined =>
  useSWR<{ done: number; total: number }>(preflightProgressKey(setId), null).data;

/**
 * Checks a set on a revision whenever either changes. The requests of SWR are shared and not given up, and this one is
 * long: it is asked by hand, and stopped where the set is edited meanwhile.
 * @param version content of the set as it is saved; empty before it is there. @param shown whether the findings are looked at.
 */
export function usePreflight(setId: number, revision: number | undefined, version: string, shown: boolean): PreflightState {
  const [answer, setAnswer] = useState<{ key: string; report: PreflightReply | null; problem: string | null } | null>(null);
  const key = revision !== undefined && version !== '' ? `${setId} ${revision} ${version}` : '';
  const answered = useRef('');
  useEffect(() => {
    if (key === '' || answered.current === key) return undefined;
    const stop = new AbortController();
    const take = (report: PreflightReply | null, problem: string | null): void => {
      if (stop.signal.aborted) return;
      answered.current = key;
      setAnswer({ key, report, problem });
    };
    const later = setTimeout(
      () =>
        void get<PreflightReply>(`/sets/${setId}/preflight?revision=${revision}`, stop.signal).then(
          (report) => take(report, null),
          (e: Error) => take(null, e.message),
        ),
      shown ? WAIT_MS.shown : WAIT_MS.hidden,
    );
    return () => {
      clearTimeout(later);
      stop.abort();
    };
  }, [key, setId, revision, shown]);
  // Of another set or revision it says nothing here.
  const own = answer?.key.startsWith(`${setId} ${revision} `) ? answer : null;
  return { report: own?.report ?? null, checking: key !== '' && answer?.key !== key, problem: own?.problem ?? null };
}
