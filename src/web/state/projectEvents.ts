/** Brings what SWR keeps of a project up to date by the server's events. */
import { useEffect } from 'react';
import { type Cache, mutate, useSWRConfig } from 'swr';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import { eventSchema, type ServerEvent } from '../../contract/contract.js';
import { listen } from './events.js';
import { forecastProgressKey } from './forecast.js';
import { refreshNotes } from './notes.js';
import { refreshPackages } from './packages.js';
import { preflightProgressKey } from './preflight.js';
import { refreshResultsSoon, runFramesKey } from './results.js';
import { testFrameKey } from './testFrame.js';

type Decided = Extract<ServerEvent, { type: 'decided' }>;

/**
 * Brings a list up to date. One that is not there yet may be on its way, and what arrives after a change
 * is thrown away as older than it: such a list is asked for anew.
 */
function update<T>(cache: Cache, key: string, change: (list: T[]) => T[]): void {
  if (cache.get(key)?.data === undefined) void mutate(key);
  else void mutate<T[]>(key, (list) => list && change(list), { revalidate: false });
}

/** Lists of batches: of the project, and of all. */
export const batchLists = (project: number): string[] => [`/batches?project=${project}`, '/batches'];

function putBatch(cache: Cache, batch: BatchReply): void {
  for (const key of batchLists(batch.projectId))
    if (cache.get(key) !== undefined)
      update<BatchReply>(cache, key, (list) =>
        list.some((b) => b.id === batch.id) ? list.map((b) => (b.id === batch.id ? batch : b)) : [batch, ...list],
      );
  // Whatever got lost on the way, the end of a run is whole.
  if (batch.state !== 'running' && batch.state !== 'queued') void mutate(`/batches/${batch.id}/frames`);
}

/** How far a movie is, in the list of the project's batches. */
function putClipShare(cache: Cache, project: number, { batchId, clipId, share }: Extract<ServerEvent, { type: 'clip' }>): void {
  for (const key of batchLists(project))
    if (cache.get(key)?.data !== undefined)
      update<BatchReply>(cache, key, (list) =>
        list.map((b) => (b.id === batchId ? { ...b, clips: b.clips.map((c) => (c.id === clipId ? { ...c, share } : c)) } : b)),
      );
}

/** What was decided of a run, in the lists of the batch's frames. */
function putDecision(cache: Cache, { batchId, run, decision, reason }: Decided): void {
  const said = { decision: decision ?? undefined, decisionReason: reason ?? undefined };
  const key = `/batches/${batchId}/frames`;
  for (const list of [key, runFramesKey({ batch: batchId, run })])
    if (cache.get(list)?.data !== undefined)
      update<FrameReply>(cache, list, (frames) => frames.map((f) => (f.shot === run && f.state === 'done' ? { ...f, ...said } : f)));
  refreshResultsSoon();
}

/** Takes a deleted batch out of the lists. */
function dropBatch(cache: Cache, { projectId, batchId }: { projectId: number; batchId: number }): void {
  for (const key of batchLists(projectId)) update<BatchReply>(cache, key, (list) => list.filter((b) => b.id !== batchId));
  void mutate('/batches?deleted');
}

/** Listens to the batches of several projects for as long as the page is open. */
export function useBatchEvents(projects: readonly number[]): void {
  const { cache } = useSWRConfig();
  const followed = projects.join();
  useEffect(
    () =>
      listen(followed === '' ? [] : followed.split(',').map(Number), (data) => {
        const event = eventSchema.parse(JSON.parse(data));
        if (event.type === 'batch') putBatch(cache, event.batch);
        else if (event.type === 'batchDeleted') dropBatch(cache, event);
        else if (event.type === 'resync') void mutate(() => true);
      }),
    [followed, cache],
  );
}

/** How far an import is. */
export interface ImportProgress {
  share: number;
  what: string;
}

/** Listens to what becomes of a project for as long as the page is open. `onImport` hears how an import goes. */
export function useEvents(project: number, onImport: (projectId: number, progress: ImportProgress) => void): void {
  const { cache } = useSWRConfig();
  useEffect(
    () =>
      listen([project], (data) => {
        const event = eventSchema.parse(JSON.parse(data));
        if (event.type === 'batch') putBatch(cache, event.batch);
        else if (event.type === 'batchDeleted') dropBatch(cache, event);
        else if (event.type === 'import') onImport(event.projectId, event);
        else if (event.type === 'preflight')
          void mutate(preflightProgressKey(event.setId), { done: event.done, total: event.total }, { revalidate: false });
        else if (event.type === 'forecast')
          void mutate(forecastProgressKey(event.setId), { done: event.done, total: event.total }, { revalidate: false });
        else if (event.type === 'notes') void refreshNotes(event.setId);
        else if (event.type === 'packages') void refreshPackages(event.setId);
        else if (event.type === 'testFrame') void mutate(testFrameKey(event.token), event.share, { revalidate: false });
        else if (event.type === 'clip') putClipShare(cache, project, event);
        else if (event.type === 'decided') putDecision(cache, event);
        // More was missed than could be told: everything may have changed.
        else if (event.type === 'resync') void mutate(() => true);
        else if (event.type === 'frame') {
          if (event.frame.state === 'done') refreshResultsSoon();
          update<FrameReply>(cache, `/batches/${event.batchId}/frames`, (list) => list.map((f) => (f.id === event.frame.id ? event.frame : f)));
        }
      }),
    [project, onImport, cache],
  );
}
