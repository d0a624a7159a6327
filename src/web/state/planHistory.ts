/** The edits of a set that can be undone, kept by the browser for as long as the tab lives. */
import { canonicalJson } from '../../core/base/hash.js';
import type { SetFile } from '../../core/plan/set.js';

/** Edits that can be redone after a reload. */
const MAX_KEPT_REDO = 20;
/** Characters of history that the browser keeps for a tab. */
const MAX_KEPT_LENGTH = 1_500_000;

/** A set with what was undone and can be redone. */
export interface History {
  now: SetFile;
  past: SetFile[];
  future: SetFile[];
}

const historyName = (setId: number): string => `history of set ${setId}`;

/** Keeps as many of the latest edits as there is room for. */
export function keepHistory(setId: number, { now, past, future }: History): void {
  let [first, size] = [past.length, JSON.stringify(now).length];
  while (first > 0) {
    size += JSON.stringify(past[first - 1]).length;
    if (size > MAX_KEPT_LENGTH) break;
    first--;
  }
  try {
    sessionStorage.setItem(historyName(setId), JSON.stringify({ now, past: past.slice(first), future: future.slice(-MAX_KEPT_REDO) }));
  } catch {
    // No room: edits can be undone until the page is left.
    sessionStorage.removeItem(historyName(setId));
  }
}

/** What was kept, where it leads to the set as it is now; else nothing. */
export function keptHistory(setId: number, now: SetFile): Pick<History, 'past' | 'future'> {
  const none = { past: [], future: [] };
  try {
    const kept = JSON.parse(sessionStorage.getItem(historyName(setId)) ?? 'null') as History | null;
    return kept && canonicalJson(kept.now) === canonicalJson(now) ? { past: kept.past, future: kept.future } : none;
  } catch {
    return none;
  }
}
