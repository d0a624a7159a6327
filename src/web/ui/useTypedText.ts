/** What is typed into a field, until it is taken: on Enter, on leaving, and before anything acts on it. */
import { type ChangeEvent, type InputHTMLAttributes, type KeyboardEvent, useEffect, useState } from 'react';
import { usePendingField } from '../state/pendingFields.js';

/** Keys of a whole window that a field with nothing half typed lets through to the plan. */
const UNDO = ['z', 'y'];

/** A field that is typed into. */
export interface TypedText {
  label: string;
  /** The text of the value that is taken. */
  shown: string;
  /** Takes what is typed. Returns what is wrong with it, or how the value is written. */
  take: (typed: string) => { problem: string } | { text: string };
  /** Another text in the place of what is typed, for the arrow keys; throws where it cannot be made. */
  step?: (typed: string, e: KeyboardEvent) => string;
}

type InputProps = Pick<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange' | 'onBlur' | 'onKeyDown' | 'aria-invalid' | 'autoComplete'> & {
  /** Nothing is half typed here: undo and redo are the plan's. */
  'data-settled': boolean | undefined;
};

/** Properties of the input, and what is wrong with what stands in it. */
export function useTypedText({ label, shown, take, step }: TypedText): { error: string | null; input: InputProps } {
  const [text, setText] = useState(shown);
  const [dirty, setDirty] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const settle = (next: string): void => {
    setText(next);
    setDirty(false);
    setError(null);
  };
  // What is being typed is not swept away by a value that comes from elsewhere.
  useEffect(() => {
    if (!dirty) settle(shown);
  }, [shown]);
  const commit = (typed: string): string | null => {
    if (typed === shown) {
      settle(shown);
      return null;
    }
    const taken = take(typed);
    if ('problem' in taken) {
      setText(typed);
      setDirty(true);
      setError(taken.problem);
      return taken.problem;
    }
    settle(taken.text);
    return null;
  };
  usePendingField(label, dirty, () => commit(text));
  const onKeyDown = (e: KeyboardEvent): void => {
    const combined = e.ctrlKey || e.metaKey;
    // While something is half typed, undo is the text's own.
    if (!combined || (dirty && UNDO.includes(e.key.toLowerCase()))) e.stopPropagation();
    if (e.key === 'Enter') commit(text);
    if (e.key === 'Escape') settle(shown);
    if (!step || (e.key !== 'ArrowUp' && e.key !== 'ArrowDown')) return;
    e.preventDefault();
    try {
      commit(step(text, e));
    } catch (problem) {
      setError((problem as Error).message);
    }
  };
  return {
    error,
    input: {
      value: text,
      onChange: (e: ChangeEvent<HTMLInputElement>) => {
        setText(e.target.value);
        setDirty(e.target.value !== shown);
      },
      onBlur: () => void commit(text),
      onKeyDown,
      'aria-invalid': error !== null,
      'data-settled': dirty ? undefined : true,
      autoComplete: 'off',
    },
  };
}
