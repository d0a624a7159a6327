/** The material schedule as a table, and as a file. */
import { type ReactNode, useMemo } from 'react';
import type { PartReply } from '../../../contract/contract.js';
import type { ResolvedPart } from '../../../core/materials/assignments.js';
import { scheduleCsv, scheduleOf } from '../../../core/materials/schedule.js';
import { Button } from '../../ui/controls.js';
import { LABELS } from './materialWords.js';

interface ScheduleProps {
  parts: PartReply[];
  /** What each comes to, in the same order. */
  resolved: ResolvedPart[];
  name: string;
  onPick: (material: string) => void;
}

/** Rendered materials, with the parts and the area of each. */
export function Schedule({ parts, resolved, name, onPick }: ScheduleProps): ReactNode {
  const rows = useMemo(() => scheduleOf(parts, resolved), [parts, resolved]);
  const save = (): void => {
    const url = URL.createObjectURL(new Blob([scheduleCsv(rows)], { type: 'text/csv' }));
    const link = document.createElement('a');
    link.href = url;
    link.download = `${name} finishes.csv`;
    link.click();
    URL.revokeObjectURL(url);
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2 px-4 py-2">
      <div className="min-h-0 flex-1 overflow-auto">
        <table className="w-full text-[13px]">
          <thead>
            <tr className="border-b border-ink text-left font-head text-xs">
              <th className="py-1 font-medium">{LABELS.material}</th>
              <th className="py-1 text-right font-medium">{LABELS.parts}</th>
              <th className="py-1 text-right font-medium">{LABELS.areaM2}</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.material} className="border-b border-rule">
                <td className="py-1">
                  <button type="button" className="text-left hover:underline" title={LABELS.selectPartsWithIt} onClick={() => onPick(r.material)}>
                    {r.material}
                  </button>
                </td>
                <td className="num py-1 text-right">{r.parts}</td>
                <td className="num py-1 text-right">{r.area.toFixed(r.area < 10 ? 3 : 1)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button className="self-start" onClick={save}>
        {LABELS.saveAsCsv}
      </Button>
    </div>
  );
}
