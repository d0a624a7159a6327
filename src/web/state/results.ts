/** What there is to judge of a set, as SWR keeps it. */
import useSWR, { mutate } from 'swr';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import type { ResultReply, StaleReply } from '../../contract/results.js';
import { get } from './api.js';

/** Finished frames of a running batch from one look at the results to the next. */
const FRAMES_PER_LOOK = 10;

/** Results of the set; asked anew when batches of it come, go, end, or get on. */
export function useResults(setId: number, batches: readonly BatchReply[]): ResultReply[] | undefined {
  const own = batches.filter((b) => b.setId === setId);
  const stamp = own.map((b) => `${b.id}${b.state[0]}${b.state === 'running' ? Math.floor(b.done / FRAMES_PER_LOOK) : b.done}`).join();
  return useSWR<ResultReply[], Error>(`/sets/${setId}/results?v=${stamp}`, get, { keepPreviousData: true }).data;
}

/** Asks for the results anew, since a person decided something. */
export async function refreshResults(setId: number): Promise<void> {
  await mutate((key) => typeof key === 'string' && key.startsWith(`/sets/${setId}/results`));
}

/** Milliseconds in which changes of frames are gathered before results are asked for again. */
const GATHER_MS = 1000;
let gathering: ReturnType<typeof setTimeout> | null = null;

/** Asks for all results again soon, since frames were decided about, maybe in another window. */
export function refreshResultsSoon(): void {
  gathering ??= setTimeout(() => {
    gathering = null;
    void mutate((key) => typeof key === 'string' && /^\/sets\/\d+\/results/.test(key));
  }, GATHER_MS);
}

/** Revisions and variants that are asked about, one after another: each plans the set once. */
const MAX_STALE_ASKED = 12;

/** What is stale of results, by their revisions and variants; asked anew with the plan. @param version of the set. */
export function useStale(setId: number, results: readonly ResultReply[], version: string): StaleReply | undefined {
  const asked = [
    ...new Set(results.map((r) => new URLSearchParams({ revision: String(r.revisionId), ...(r.variant && { variant: r.variant }) }).toString())),
  ];
  const newest = asked.slice(0, MAX_STALE_ASKED);
  const stamp = results[0] ? `${results[0].batch} ${results.reduce((n, r) => n + r.done, 0)}` : '';
  return useSWR<StaleReply, Error>(
    newest.length > 0 ? `/sets/${setId}/stale?v=${version}&of=${stamp}&${newest.join('&')}` : null,
    async () => {
      const all: StaleReply = [];
      // A variant that the set no longer has cannot be planned: of it nothing is known.
      for (const query of newest) all.push(...(await get<StaleReply>(`/sets/${setId}/stale?${query}`).catch(() => [])));
      return all;
    },
    { keepPreviousData: true },
  ).data;
}

/** Frames of one run of a batch, up to 5 000. */
export const useRunFrames = (of: { batch: number; run: string } | null) => useSWR<FrameReply[], Error>(of && runFramesKey(of), get);

/** Where they are kept. */
export const runFramesKey = ({ batch, run }: { batch: number; run: string }): string =>
  `/batches/${batch}/frames?limit=5000&run=${encodeURIComponent(run)}`;
