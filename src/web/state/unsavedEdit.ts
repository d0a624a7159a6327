/** An edit that could not be saved, kept by the browser beyond the page, so that the next one brings it back. */
import { type SetFile, setSchema } from '../../core/plan/set.js';

/** An edit that has not reached the server. */
export interface UnsavedEdit {
  /** What it was made from. */
  base: SetFile;
  file: SetFile;
  /** The server's version that it was made on. */
  version: number;
  /** Saving it failed; else the page went while it was on its way, and it may have arrived. */
  failed: boolean;
}

const nameOf = (setId: number): string => `unsaved edit of set ${setId}`;

/** Keeps the edit in the browser's storage, or forgets it. */
export function keepUnsaved(setId: number, edit: UnsavedEdit | null): void {
  try {
    if (edit) localStorage.setItem(nameOf(setId), JSON.stringify(edit));
    else localStorage.removeItem(nameOf(setId));
  } catch {
    // No room: the page still asks before it goes.
  }
}

/** The edit that was kept, taken away; null where there is none or it cannot be read. */
export function takeUnsaved(setId: number): UnsavedEdit | null {
  try {
    const { base, file, ...kept } = JSON.parse(localStorage.getItem(nameOf(setId)) ?? 'null') as UnsavedEdit;
    return { ...kept, base: setSchema.parse(base), file: setSchema.parse(file) };
  } catch {
    return null;
  } finally {
    keepUnsaved(setId, null);
  }
}
