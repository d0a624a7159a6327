/** A set while it is edited, with what can be undone and redone. */
import { fieldProblem } from '../../core/base/issues.js';
import { mergeEdits } from '../../core/edit/mergeEdits.js';
import { type SetFile, setSchema } from '../../core/plan/set.js';
import { keepHistory, keptHistory } from './planHistory.js';

/** Edits that can be undone. */
const MAX_UNDO = 200;

/** Both edits in one; ours alone where they make no set together. */
export function mergeSets(base: SetFile, ours: SetFile, theirs: SetFile): SetFile {
  const merged = setSchema.safeParse(mergeEdits(base, ours, theirs));
  return merged.success ? merged.data : ours;
}

/** The set as it is now, and the states before and after it; the browser keeps them over a reload of the page. */
export class EditedSet {
  /** As it is now; null while it is fetched. */
  now: SetFile | null = null;
  private past: SetFile[] = [];
  private future: SetFile[] = [];

  /** @param setId undefined where there is no set to edit; nothing is kept then. */
  constructor(private readonly setId: number | undefined) {}

  /** Begins with what the server has. What was edited before a reload can be undone as long as nothing else came in between. */
  begin(file: SetFile): void {
    const kept = this.setId ? keptHistory(this.setId, file) : { past: [], future: [] };
    this.now = file;
    this.past = kept.past;
    this.future = kept.future;
  }

  /** Takes the edit's result, which can be undone; says what is wrong with it, and then changes nothing. */
  edit(change: (file: SetFile) => SetFile): { file: SetFile } | { problem: string } | null {
    if (!this.now) return null;
    const result = setSchema.safeParse(change(this.now));
    if (!result.success) return { problem: fieldProblem(result.error) };
    this.past = [...this.past, this.now].slice(-MAX_UNDO);
    this.future = [];
    return { file: this.put(result.data) };
  }

  /** Undoes the last edit; null where there is none. */
  undo(): SetFile | null {
    return this.step('past', 'future');
  }

  /** Makes the edit again that was undone last; null where there is none. */
  redo(): SetFile | null {
    return this.step('future', 'past');
  }

  /** Takes what was changed elsewhere since `base`; undoing then undoes what was done here, and nothing of theirs. */
  merge(base: SetFile, theirs: SetFile, merged: SetFile): void {
    this.now = merged;
    this.past = this.past.map((file) => mergeSets(base, file, theirs));
    this.future = this.future.map((file) => mergeSets(base, file, theirs));
  }

  private step(from: 'past' | 'future', to: 'past' | 'future'): SetFile | null {
    const next = this[from].at(-1);
    if (!next || !this.now) return null;
    this[from] = this[from].slice(0, -1);
    this[to] = [...this[to], this.now];
    return this.put(next);
  }

  private put(file: SetFile): SetFile {
    this.now = file;
    if (this.setId) keepHistory(this.setId, { now: file, past: this.past, future: this.future });
    return file;
  }
}
