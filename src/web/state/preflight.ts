/** What the server says of the set before it runs: asked for again after every edit. */
import useSWR from 'swr';
import type { PreflightReply } from '../../contract/preflight.js';
import { useAskedAnew } from './askAnew.js';

/** Milliseconds after an edit where somebody looks at the findings, and where nobody does. */
const WAIT_MS = { shown: 0, hidden: 3000 };

/** What the checks say of the set. */
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
 * Checks a set on a revision whenever either changes.
 * @param version content of the set as it is saved; empty before it is there. @param shown whether the findings are looked at.
 */
export function usePreflight(setId: number, revision: number | undefined, version: string, shown: boolean): PreflightState {
  const owner = `${setId} ${revision} `;
  const key = revision !== undefined && version !== '' ? `${owner}${version}` : '';
  const path = `/sets/${setId}/preflight?revision=${revision}`;
  const { answer, pending, problem } = useAskedAnew<PreflightReply>(key, owner, path, shown ? WAIT_MS.shown : WAIT_MS.hidden);
  return { report: answer, checking: pending, problem };
}
