/** When a batch may begin: a date and a time of this machine's clock. */
import { type ReactNode, useId, useState } from 'react';
import { HELP, LABELS, MESSAGES } from './words.js';

/** ISO 8601 as the browser's field writes it, in local time. */
function localText(iso: string | null): string {
  if (iso === null) return '';
  const at = new Date(iso);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

/** @param value ISO 8601, or null for at once. */
export function StartAtField({ value, onValue }: { value: string | null; onValue: (value: string | null) => void }): ReactNode {
  const id = useId();
  const [problem, setProblem] = useState<string | null>(null);
  const [asked, setAsked] = useState(false);
  const take = (typed: string): void => {
    const at = typed === '' ? null : new Date(typed);
    if (at && (Number.isNaN(at.getTime()) || at.getTime() <= Date.now())) {
      setProblem(MESSAGES.badTime);
      return;
    }
    setProblem(null);
    const next = at ? at.toISOString() : null;
    if (next !== value) onValue(next);
  };
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="font-head text-xs font-medium text-graphite">
        {LABELS.startAt}
      </label>
      {value === null && !asked ? (
        <button
          id={id}
          type="button"
          aria-label={LABELS.startAtOnce}
          title={HELP.startAt}
          className="block h-7 w-full border-b border-graphite text-left"
          onClick={() => setAsked(true)}
        >
          {LABELS.atOnce}
        </button>
      ) : (
        <input
          key={value}
          autoFocus={asked}
          id={id}
          type="datetime-local"
          title={HELP.startAt}
          aria-describedby={problem ? `${id}-problem` : undefined}
          aria-invalid={problem !== null}
          defaultValue={localText(value)}
          onBlur={(e) => {
            setAsked(false);
            take(e.target.value);
          }}
          onKeyDown={(e) => e.key === 'Enter' && take(e.currentTarget.value)}
          className="num h-7 w-full border-b border-graphite bg-transparent text-sm"
        />
      )}
      <span id={`${id}-problem`} role={problem ? 'alert' : undefined} className="block text-xs text-ochre">
        {problem}
      </span>
    </div>
  );
}
