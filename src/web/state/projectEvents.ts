/** Brings what SWR keeps of a project up to date by the server's events. */
import { useEffect } from 'react';
import { type Cache, mutate, useSWRConfig } from 'swr';
import { type BatchReply, eventSchema, type FrameReply } from '../../contract/contract.js';
import { listen } from './events.js';
import { forecastProgressKey } from './forecast.js';
import { preflightProgressKey } from './preflight.js';
import { testFrameKey } from './testFrame.js';

/**
 * Brings a list up to date. One that is not there yet may be on its way, and what arrives after a change
 * is thrown away as older than it: such a list is asked for anew.
 */
function update<T>(cache: Cache, key: string, change: (list: T[]) => T[]): void {
  if (cache.get(key)?.data === undefined) void mutate(key);
  else void mutate<T[]>(key, (list) => list && change(list), { revalidate: false });
}

function putBatch(cache: Cache, batch: BatchReply): void {
  update<BatchReply>(cache, `/batches?project=${batch.projectId}`, (list) =>
    list.some((b) => b.id === batch.id) ? list.map((b) => (b.id === batch.id ? batch : b)) : [batch, ...list],
  );
  // Whatever got lost on the way, the end of a run is whole.
  if (batch.state !== 'running' && batch.state !== 'queued') void mutate(`/batches/${batch.id}/frames`);
}

export interface ImportProgress {
  share: number;
  what: string;
}

/** Listens to what becomes of a project for as long as the page is open. `onImport` hears how an import goes. */
export function useEvents(project: number, onImport: (projectId: number, progress: ImportProgress) => void): void {
  const { cache } = useSWRConfig();
  useEffect(
    () =>
      listen(project, (data) => {
        const event = eventSchema.parse(JSON.parse(data));
        if (event.type === 'batch') putBatch(cache, event.batch);
        else if (event.type === 'import') onImport(event.projectId, event);
        else if (event.type === 'preflight')
          void mutate(preflightProgressKey(event.setId), { done: event.done, total: event.total }, { revalidate: false });
        else if (event.type === 'forecast')
          void mutate(forecastProgressKey(event.setId), { done: event.done, total: event.total }, { revalidate: false });
        else if (event.type === 'testFrame') void mutate(testFrameKey(event.token), event.share, { revalidate: false });
        // More was missed than could be told: everything may have changed.
        else if (event.type === 'resync') void mutate(() => true);
        else if (event.type === 'frame')
          update<FrameReply>(cache, `/batches/${event.batchId}/frames`, (list) => list.map((f) => (f.id === event.frame.id ? event.frame : f)));
      }),
    [project, onImport, cache],
  );
}
