/** Passes of every frame, and what else is in the picture: alpha, lines, motion blur. */
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { PASSES, passOf, type PassId } from '../../../core/image/passes.js';
import { validateOutputs, type FormatSheet } from '../../../core/plan/formatSheet.js';
import { NumberField, Checkbox } from '../../ui/controls.js';
import { HELP, LABELS } from './sheetWords.js';

interface PassBarProps {
  sheet: FormatSheet;
  put: (values: Partial<FormatSheet>) => string | null;
}

export function PassBar({ sheet, put }: PassBarProps): ReactNode {
  const [open, setOpen] = useState(false);
  const change = (values: Partial<FormatSheet>): void => {
    const problem = validateOutputs({ ...sheet, ...values }) ?? put(values);
    if (problem) toast.error(problem);
  };
  const toggle = (id: PassId, wanted: boolean): void => {
    // In the order of the list, whatever the order of the clicks.
    const passes = PASSES.map((p) => p.id).filter((p) => (p === id ? wanted : sheet.passes.includes(p)));
    change({ passes });
  };
  return (
    <details className="col-span-full border-t border-rule pb-1 pt-1.5 text-sm" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-graphite">
        {LABELS.passes} <span className="text-ink">{sheet.passes.map((p) => passOf(p).label).join(', ')}</span>
        {sheet.alpha && LABELS.transparentBackdropNote}
        {sheet.lines && LABELS.linesPx(sheet.lines.width)}
        {sheet.shutter > 0 && LABELS.motionBlur(sheet.shutter)}
      </summary>
      <div className="flex flex-wrap gap-x-5 gap-y-1 py-2">
        {PASSES.map((p) => (
          <Checkbox key={p.id} label={p.label} help={p.help} checked={sheet.passes.includes(p.id)} onChecked={(wanted) => toggle(p.id, wanted)} />
        ))}
      </div>
      <div className="flex flex-wrap items-end gap-x-5 gap-y-1 border-t border-rule py-2">
        <Checkbox
          label={LABELS.transparentBackdrop}
          help={HELP.transparentBackdropOfSheet}
          checked={sheet.alpha}
          onChecked={(alpha) => change({ alpha })}
        />
        <Checkbox
          label={LABELS.lineOverlay}
          help={HELP.lineOverlay}
          checked={sheet.lines !== undefined}
          onChecked={(wanted) => change({ lines: wanted ? { width: 1.2, colour: '#15202a' } : undefined })}
        />
        <div className="w-32">
          <NumberField
            label={LABELS.shutterAngle}
            help={HELP.shutterAngle}
            value={sheet.shutter}
            unit="°"
            decimals={0}
            onValue={(shutter) => put({ shutter })}
          />
        </div>
      </div>
    </details>
  );
}
