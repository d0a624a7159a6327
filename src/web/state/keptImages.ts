/** Images that were kept of live previews and test frames, to be compared with renders: as long as the page lives. */
import { useSyncExternalStore } from 'react';

export interface KeptImage {
  name: string;
  /** Address of the image, as data. */
  url: string;
}

const MOST = 8;
let kept: readonly KeptImage[] = [];
const listeners = new Set<() => void>();

/** Keeps one more; of many the oldest goes. */
export function keepImage(image: KeptImage): void {
  kept = [image, ...kept.filter((k) => k.url !== image.url)].slice(0, MOST);
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
