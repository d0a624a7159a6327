/** Files of a model that were dropped somewhere, until the Model step takes them. */
import { useSyncExternalStore } from 'react';
import { ARCHIVE_EXTENSIONS, EXT_IMPLIED_UNITS, EXT_WITHOUT_UNITS, EXT_WITH_UNITS } from '../../core/model/fileExtensions.js';

const MODEL = new RegExp(`\\.(${[...EXT_WITH_UNITS, ...EXT_WITHOUT_UNITS, ...EXT_IMPLIED_UNITS, ...ARCHIVE_EXTENSIONS].join('|')})$`, 'i');

/** Files that were dropped on a project. */
export interface DroppedModel {
  project: number;
  files: File[];
}

let dropped: DroppedModel | null = null;
const watchers = new Set<() => void>();

function set(next: DroppedModel | null): void {
  dropped = next;
  for (const watch of watchers) watch();
}

/** The file of a drop that is a model, by its ending; undefined where there is none. */
export const modelAmong = (files: readonly File[]): File | undefined => files.find((f) => MODEL.test(f.name));

/** Hands files to the Model step of a project. */
export const handOver = (project: number, files: File[]): void => set({ project, files });

/** What was dropped for the project; whoever takes it clears it. */
export function useDroppedModel(project: number): DroppedModel | null {
  const now = useSyncExternalStore(
    (watch) => {
      watchers.add(watch);
      return () => watchers.delete(watch);
    },
    () => dropped,
  );
  return now?.project === project ? now : null;
}

/** Forgets them. */
export const clearDropped = (): void => set(null);
