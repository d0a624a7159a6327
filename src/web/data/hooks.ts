/** What the server holds, as SWR keeps it; events bring it up to date. */
import { useEffect } from 'react';
import useSWR, { mutate } from 'swr';
import { type BatchReply, eventSchema, type FrameReply, type MatchReply, type PartReply, type ProjectReply } from '../../contract/contract.js';
import { get } from './api.js';

export const useProjects = () => useSWR<ProjectReply[], Error>('/projects', get);
export const useProject = (id: number) => useSWR<ProjectReply, Error>(`/projects/${id}`, get);
export const useParts = (revision: number | undefined) => useSWR<PartReply[], Error>(revision ? `/revisions/${revision}/parts` : null, get);
export const useMatch = (revision: number | undefined) => useSWR<MatchReply, Error>(revision ? `/revisions/${revision}/match` : null, get);
export const useBatches = (project: number) => useSWR<BatchReply[], Error>(`/batches?project=${project}`, get);
export const useFrames = (batch: number | undefined) => useSWR<FrameReply[], Error>(batch ? `/batches/${batch}/frames` : null, get);

function putBatch(batch: BatchReply): void {
  void mutate<BatchReply[]>(
    `/batches?project=${batch.projectId}`,
    (list) => {
      if (!list) return list;
      return list.some((b) => b.id === batch.id) ? list.map((b) => (b.id === batch.id ? batch : b)) : [batch, ...list];
    },
    { revalidate: false },
  );
}

export interface ImportProgress {
  share: number;
  what: string;
}

/** Listens to the server for as long as the page is open. `onImport` hears how an import goes. */
export function useEvents(onImport: (projectId: number, progress: ImportProgress) => void): void {
  useEffect(() => {
    const source = new EventSource('/api/events');
    let opened = false;
    source.onopen = () => {
      // After a break everything may have changed.
      if (opened) void mutate(() => true);
      opened = true;
    };
    source.onmessage = (message: MessageEvent<string>) => {
      const event = eventSchema.parse(JSON.parse(message.data));
      if (event.type === 'batch') putBatch(event.batch);
      else if (event.type === 'import') onImport(event.projectId, event);
      else void mutate<FrameReply[]>(`/batches/${event.batchId}/frames`, (list) => list?.map((f) => (f.id === event.frame.id ? event.frame : f)), { revalidate: false });
    };
    return () => source.close();
  }, [onImport]);
}
