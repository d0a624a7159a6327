/** One of a few, side by side: what is chosen is dark. */
import type { ReactNode } from 'react';

interface SegmentsProps<T extends string> {
  label: string;
  title?: string;
  /** Each value with its word, in order. */
  values: readonly T[];
  words: Readonly<Record<T, string>>;
  value: T;
  onValue: (value: T) => void;
}

/** A choice of few, side by side. */
export function Segments<T extends string>({ label, title, values, words, value, onValue }: SegmentsProps<T>): ReactNode {
  return (
    <span className="flex" role="group" aria-label={label} title={title}>
      {values.map((v) => (
        <button
          key={v}
          type="button"
          aria-pressed={v === value}
          className={`h-[30px] border-y border-r border-graphite px-2.5 first:rounded-l-sm first:border-l last:rounded-r-sm ${v === value ? 'bg-ink text-chalk' : 'bg-chalk'}`}
          onClick={() => onValue(v)}
        >
          {words[v]}
        </button>
      ))}
    </span>
  );
}
