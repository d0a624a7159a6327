/** Marks of severity: told apart by their form, so that nothing rests on colour. */
import type { ReactNode } from 'react';
import type { Severity } from '../../../core/preflight/finding.js';
import { LABELS } from './words.js';

const FORMS: Record<Severity, string> = {
  fault: 'border border-ink bg-ink text-chalk',
  doubt: 'border border-ink bg-chalk text-ink',
  note: 'border border-transparent text-graphite',
};

/** A number in the form of its severity; the form alone where there is no number. */
export function SeverityMark({ severity, count }: { severity: Severity; count?: number }): ReactNode {
  if (count === undefined && severity === 'note') return <span className="text-sm text-graphite">–</span>;
  return (
    <span
      className={`num inline-flex items-center justify-center text-sm font-medium ${count === undefined ? 'size-3' : 'h-5 min-w-5 px-1'} ${FORMS[severity]}`}
    >
      {count}
    </span>
  );
}

/** The severity in words. */
export const severityLabel = (severity: Severity): string => LABELS[severity];
