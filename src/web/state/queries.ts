/** What the server holds, as SWR keeps it; see projectEvents.ts for what brings it up to date. */
import useSWR from 'swr';
import type { ChangesReply } from '../../contract/changes.js';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import type { MatchReply, PartReply, ProjectReply } from '../../contract/contract.js';
import type { MastersReply } from '../../contract/queue.js';
import { get } from './api.js';

/** All projects. */
export const useProjects = () => useSWR<ProjectReply[], Error>('/projects', get);
/** One project. */
export const useProject = (id: number) => useSWR<ProjectReply, Error>(`/projects/${id}`, get);
/** The parts of a revision. */
export const useParts = (revision: number | undefined) => useSWR<PartReply[], Error>(revision ? `/revisions/${revision}/parts` : null, get);
/** What became of parts from the last revision to this. */
export const useMatch = (revision: number | undefined) => useSWR<MatchReply, Error>(revision ? `/revisions/${revision}/match` : null, get);
/** The batches of a project. */
export const useBatches = (project: number) => useSWR<BatchReply[], Error>(`/batches?project=${project}`, get);
/** The batches of all projects. */
export const useAllBatches = () => useSWR<BatchReply[], Error>('/batches', get);
/** Batches that can be restored. */
export const useDeletedBatches = () => useSWR<BatchReply[], Error>('/batches?deleted', get);
/** How much room masters take. */
export const useMasters = () => useSWR<MastersReply, Error>('/masters', get);
/** What a start would render; asked anew when the plan, or what `stamp` tells of its batches, changes. */
export const useChanges = (set: number, revision: number | undefined, draft: { size: number; samples: number } | null, stamp: string) =>
  useSWR<ChangesReply, Error>(
    revision
      ? `/sets/${set}/changes?revision=${revision}${draft ? `&size=${draft.size}&samples=${draft.samples}` : ''}&v=${encodeURIComponent(stamp)}`
      : null,
    get,
    {
      keepPreviousData: true,
    },
  );
const FRAMES_PAGE = 2000;

/** All frames of a batch, fetched in pages so that very many of them hold up nobody. */
async function allFrames(path: string): Promise<FrameReply[]> {
  const frames: FrameReply[] = [];
  for (let last = FRAMES_PAGE; last === FRAMES_PAGE;) {
    const page = await get<FrameReply[]>(`${path}?from=${frames.length}&limit=${FRAMES_PAGE}`);
    frames.push(...page);
    last = page.length;
  }
  return frames;
}

/** The frames of a batch. */
export const useFrames = (batch: number | undefined) => useSWR<FrameReply[], Error>(batch ? `/batches/${batch}/frames` : null, allFrames);

/** Worker seconds of each frame of a batch as foreseen, in its order; asked where the batch has a forecast. */
export const useBatchForecast = (batch: number | undefined) =>
  useSWR<{ seconds: (number | null)[] }, Error>(batch ? `/batches/${batch}/forecast` : null, get);
