/** Shots against areas: how many findings each cell has, and how bad the worst is. */
import type { ReactNode } from 'react';
import { pluralize } from '../../../core/base/pluralize.js';
import { type Area, AREAS, SEVERITIES } from '../../../core/preflight/finding.js';
import type { ReportedFinding } from '../../../core/preflight/preflight.js';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { SeverityMark } from './SeverityMark.js';
import { LABELS } from './words.js';

/** A row of the table: a shot, or the set. */
export interface TableRow {
  /** Id of the shot; undefined for what is the set's. */
  shot: string | undefined;
  name: string;
  /** Frames of the shot. */
  frames?: number;
}

/** Findings of a row, in all areas or in one. */
export function findingsIn(findings: readonly ReportedFinding[], shot: string | undefined, area?: Area): ReportedFinding[] {
  return findings.filter((f) => (f.run === undefined ? undefined : shotIdOfOutput(f.run)) === shot && (area === undefined || f.area === area));
}

interface Props {
  rows: readonly TableRow[];
  findings: readonly ReportedFinding[];
  selected: ReportedFinding | undefined;
  onSelect: (finding: ReportedFinding) => void;
}

/** Shots by areas of checks, with the number and worst severity of each. */
export function FindingsTable({ rows, findings, selected, onSelect }: Props): ReactNode {
  return (
    <table className="w-full border-collapse" aria-label={LABELS.findingsByShot}>
      <thead className="sticky top-0 bg-chalk font-head text-xs text-graphite">
        <tr className="border-b border-rule">
          <th className="h-[30px] px-[18px] text-left font-medium">{LABELS.shot}</th>
          {AREAS.map((area) => (
            <th key={area} className="w-[62px] px-1 font-medium max-[1180px]:w-[52px] max-[1180px]:px-0">
              {LABELS[area]}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr
            key={row.shot ?? ''}
            className={`h-[38px] border-b border-rule ${selected && findingsIn([selected], row.shot).length > 0 ? 'bg-paper' : ''}`}
          >
            <th scope="row" className={`max-w-0 px-[18px] text-left ${row.shot === undefined ? 'font-normal text-graphite' : 'font-medium'}`}>
              <span className="flex items-baseline gap-2" title={row.name}>
                <span className="truncate">{row.name}</span>{' '}
                {row.frames !== undefined && <span className="num shrink-0 text-sm font-normal text-graphite">{row.frames}</span>}
              </span>
            </th>
            {AREAS.map((area) => {
              const own = findingsIn(findings, row.shot, area);
              const worst = SEVERITIES.find((s) => own.some((f) => f.severity === s));
              const first = own.find((f) => f.severity === worst);
              const isSelected = own.some((f) => f === selected);
              return (
                <td key={area} className="px-1 text-center">
                  {worst && first && (
                    <button
                      type="button"
                      aria-pressed={isSelected}
                      aria-label={LABELS.cell(pluralize(own.length, worst), row.name, LABELS[area])}
                      className={`p-0.5 ${isSelected ? 'outline-2 outline-madder' : ''}`}
                      onClick={() => onSelect(first)}
                    >
                      <SeverityMark severity={worst} count={own.length} />
                    </button>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
