/** All findings as sentences, the worst first. */
import type { ReactNode } from 'react';
import type { ReportedFinding } from '../../../core/preflight/preflight.js';
import { SeverityMark, severityLabel } from './SeverityMark.js';
import { LABELS } from './words.js';

interface Props {
  findings: readonly ReportedFinding[];
  selected: ReportedFinding | undefined;
  onSelect: (finding: ReportedFinding) => void;
}

/** Findings of the chosen cell. */
export function FindingsList({ findings, selected, onSelect }: Props): ReactNode {
  return (
    <ul aria-label={LABELS.findings}>
      {findings.map((f) => (
        <li key={f.key} className="border-b border-rule">
          <button
            type="button"
            aria-current={f === selected}
            className={`grid w-full grid-cols-[16px_minmax(0,1fr)] gap-x-3 border-l-[3px] px-[15px] py-2 text-left ${f === selected ? 'border-madder bg-paper' : 'border-transparent'}`}
            onClick={() => onSelect(f)}
          >
            <span className="pt-1">
              <SeverityMark severity={f.severity} />
              <span className="sr-only">{severityLabel(f.severity)}</span>
            </span>
            <span className="min-w-0">
              <span className="font-medium">{f.title}</span> <span className="text-graphite">{f.shotName ?? LABELS.wholeSet}</span>
              <span className="block text-sm text-graphite">{f.message}</span>
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
