/** Passes of every frame, and what else is in the picture: alpha, lines, motion blur. */
import { type ReactNode, useState } from 'react';
import { lineStyleSchema } from '../../../core/image/lineStyle.js';
import { isTakenWhole, PASS_GROUPS, PASSES, passOf, type PassId } from '../../../core/image/passes.js';
import { validateOutputs, type FormatSheet } from '../../../core/plan/formatSheet.js';
import { ColourField } from '../../ui/ColourField.js';
import { NumberField, Checkbox } from '../../ui/controls.js';
import { PASS_HELP } from './passWords.js';
import { HELP, LABELS } from './sheetWords.js';
import { toast } from '../../state/toast.js';

interface PassBarProps {
  sheet: FormatSheet;
  put: (values: Partial<FormatSheet>) => string | null;
}

/** A switch for each pass, by group. @param onPasses takes the chosen ones, in the order of the list. */
export function PassChoice({ passes, onPasses }: { passes: readonly PassId[]; onPasses: (passes: PassId[]) => void }): ReactNode {
  const put = (ids: readonly PassId[], wanted: boolean): void =>
    onPasses(PASSES.map((p) => p.id).filter((id) => (ids.includes(id) ? wanted : passes.includes(id))));
  return PASS_GROUPS.map(({ id, label }) => {
    const members = PASSES.filter((p) => p.group === id);
    const all = members.map((p) => p.id);
    return (
      <fieldset key={id} className="w-full">
        <legend className="font-head text-xs font-medium text-graphite">{label}</legend>
        <div className="flex flex-wrap gap-x-5 gap-y-1">
          {isTakenWhole(id) && (
            <Checkbox
              label={LABELS.allOfThem}
              help={HELP.allOfThem}
              checked={all.every((p) => passes.includes(p))}
              onChecked={(wanted) => put(all, wanted)}
            />
          )}
          {members.map((p) => (
            <Checkbox key={p.id} label={p.label} help={PASS_HELP[p.id]} checked={passes.includes(p.id)} onChecked={(wanted) => put([p.id], wanted)} />
          ))}
        </div>
      </fieldset>
    );
  });
}

/** The passes that are rendered. */
export function PassBar({ sheet, put }: PassBarProps): ReactNode {
  const [open, setOpen] = useState(false);
  const change = (values: Partial<FormatSheet>): void => {
    const problem = validateOutputs({ ...sheet, ...values }) ?? put(values);
    if (problem) toast.error(problem);
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
        <PassChoice passes={sheet.passes} onPasses={(passes) => change({ passes })} />
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
          onChecked={(wanted) => change({ lines: wanted ? lineStyleSchema.parse({}) : undefined })}
        />
        {sheet.lines && (
          <>
            <div className="w-24">
              <NumberField
                label={LABELS.lineWidth}
                help={HELP.lineWidth}
                setting="sheet.lineStyle"
                value={sheet.lines.width}
                unit="px"
                step={0.1}
                decimals={1}
                onValue={(width) => put({ lines: { ...sheet.lines!, width } })}
              />
            </div>
            <div className="w-40">
              <ColourField
                label={LABELS.lineColour}
                help={HELP.lineColour}
                value={sheet.lines.colour}
                onValue={(colour) => put({ lines: { ...sheet.lines!, colour } })}
              />
            </div>
          </>
        )}
        <div className="w-32">
          <NumberField
            label={LABELS.shutterAngle}
            help={HELP.shutterAngle}
            setting="sheet.shutter"
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
