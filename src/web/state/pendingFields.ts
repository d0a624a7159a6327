/**
 * Fields in which something is typed that the plan does not have yet. Whoever acts on the plan (starts, exports, leaves
 * the page) takes it first, so that nobody renders what stood there before.
 */
import { useEffect, useRef } from 'react';
import { flushSync } from 'react-dom';

/** Takes what is typed; returns what is wrong with it, or null. */
type Commit = () => string | null;

/** A field whose text cannot be taken. */
export interface FieldProblem {
  /** Label of the field. */
  label: string;
  problem: string;
}

const pending = new Map<symbol, { label: string; commit: Commit }>();

/** Counts the field as pending while `dirty`. */
export function usePendingField(label: string, dirty: boolean, commit: Commit): void {
  const latest = useRef(commit);
  latest.current = commit;
  useEffect(() => {
    if (!dirty) return undefined;
    const key = Symbol(label);
    pending.set(key, { label, commit: () => latest.current() });
    return () => void pending.delete(key);
  }, [dirty, label]);
}

/** Takes all that is typed, and returns the first that cannot be taken. What takes it has been rendered when this returns. */
export function commitFields(): FieldProblem | null {
  let found: FieldProblem | null = null;
  flushSync(() => {
    for (const { label, commit } of [...pending.values()]) {
      const problem = commit();
      if (problem !== null) found ??= { label, problem };
    }
  });
  return found;
}

/** Whether anything is typed that is not taken. */
export const hasPendingFields = (): boolean => pending.size > 0;
