/** What the server foresees of the set: asked for again after every edit while somebody looks at it. */
import useSWR from 'swr';
import type { ForecastReply } from '../../contract/forecast.js';
import { ALL_FRAMES } from '../../core/plan/selection.js';
import { type Asked, useAskedAnew } from './askAnew.js';

/** Milliseconds after an edit: trials of what is only passed through would be for nothing. */
const WAIT_MS = 700;

/** Key under which events put how many trials of a set's forecast are made. */
export const forecastProgressKey = (setId: number): string => `/sets/${setId}/forecast/progress`;

/** How many trials are made; undefined before the server said so. */
export const useForecastProgress = (setId: number): { done: number; total: number } | undefined =>
  useSWR<{ done: number; total: number }>(forecastProgressKey(setId), null).data;

/**
 * Foresees a set on a revision whenever either changes, or the frames that are chosen.
 * @param version content of the set as it is saved; empty before it is there. @param within seconds in which it must be done; null for no choices.
 */
export function useForecast(
  setId: number,
  revision: number | undefined,
  version: string,
  select: string,
  within: number | null,
): Asked<ForecastReply> {
  const owner = `${setId} ${revision} `;
  const query = new URLSearchParams({
    revision: String(revision),
    ...(select !== ALL_FRAMES && { select }),
    ...(within !== null && { within: String(within) }),
  });
  const key = revision !== undefined && version !== '' ? `${owner}${version} ${select} ${within}` : '';
  return useAskedAnew(key, owner, `/sets/${setId}/forecast?${query.toString()}`, WAIT_MS);
}
