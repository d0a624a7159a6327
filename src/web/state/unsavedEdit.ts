/** An edit that could not be saved, kept by the browser beyond the page, so that the next one brings it back. */
import { type SetFile, setSchema } from '../../core/plan/set.js';

export interface UnsavedEdit {
  /** What it was made from. */
  base: SetFile;
  file: SetFile;
}

const nameOf = (setId: number): string => `unsaved edit of set ${setId}`;

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
    const { base, file } = JSON.parse(localStorage.getItem(nameOf(setId)) ?? 'null') as UnsavedEdit;
    return { base: setSchema.parse(base), file: setSchema.parse(file) };
  } catch {
    return null;
  } finally {
    keepUnsaved(setId, null);
  }
}
