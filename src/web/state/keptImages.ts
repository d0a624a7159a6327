/** Images that were kept of live previews and test frames, to be compared with renders: as long as the page lives. */
import { useSyncExternalStore } from 'react';

/** An image that is kept to be compared with. */
export interface KeptImage {
  name: string;
  bytes: Blob;
  /** Address of it while it is kept. */
  url: string;
}

const MOST = 8;
let kept: readonly KeptImage[] = [];
const listeners = new Set<() => void>();

/** Keeps one more; of many the oldest goes. */
export function keepImage({ name, bytes }: Omit<KeptImage, 'url'>): void {
  for (const { url } of kept.slice(MOST - 1)) URL.revokeObjectURL(url);
  kept = [{ name, bytes, url: URL.createObjectURL(bytes) }, ...kept.slice(0, MOST - 1)];
  for (const tell of listeners) tell();
}

/** The newest first. */
export const useKeptImages = (): readonly KeptImage[] =>
  useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => kept,
  );
