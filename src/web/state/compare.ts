/** Comparisons of finished frames by the server, with the parts by name. */
import useSWR from 'swr';
import type { ComparisonReply } from '../../contract/results.js';
import { get } from './api.js';

const pathOf = (first: number, second: number, threshold: number): string => `/compare?first=${first}&second=${second}&threshold=${threshold}`;

/** By the frames' ids. Rejects with ApiError that says why there is none. */
export const comparePair = (first: number, second: number, threshold: number, signal: AbortSignal): Promise<ComparisonReply> =>
  get<ComparisonReply>(pathOf(first, second, threshold), signal);

/** What two frames differ by; undefined while that is found out. */
export const useComparison = (pair: { first: number; second: number; threshold: number } | null) =>
  useSWR<ComparisonReply, Error>(pair && pathOf(pair.first, pair.second, pair.threshold), get);
