/** Fields of a grade but its exposure: white balance, tone curve, glare. */
import type { ReactNode } from 'react';
import type { Grade } from '../../core/image/grade.js';
import { CURVE_LIST, CURVES } from '../../core/image/tone.js';
import { Checkbox, NumberField } from '../ui/controls.js';
import { type FieldSpec, FormFields } from './FormFields.js';
import { HELP, LABELS } from './words.js';

const FIRST_GLOW = { strength: 0.15, reach: 0.02 };

const COLOUR_FIELDS: readonly FieldSpec<Grade>[] = [
  { key: 'whiteBalance', kind: 'number', label: LABELS.whiteBalance, help: HELP.whiteBalance, step: 100, decimals: 0, unit: 'K' },
  {
    key: 'curve',
    kind: 'select',
    label: LABELS.toneCurve,
    help: HELP.toneCurve,
    options: CURVES.map((value) => ({ value, label: CURVE_LIST[value].label })),
  },
];

const GLARE_FIELDS: readonly FieldSpec<NonNullable<Grade['glow']>>[] = [
  { key: 'strength', kind: 'number', label: LABELS.glareStrength, help: HELP.glareStrength, step: 0.05, decimals: 3 },
  { key: 'reach', kind: 'number', label: LABELS.glareRadius, help: HELP.glareRadius, step: 0.005, decimals: 3 },
];

/** @param onExposure takes it in EV; returns what is wrong, or null. */
export function ExposureField({ exposure, onExposure }: { exposure: number; onExposure: (exposure: number) => string | null }): ReactNode {
  return (
    <NumberField label={LABELS.exposureEv} help={HELP.exposureEv} value={exposure} step={0.25} decimals={2} unit={LABELS.ev} onValue={onExposure} />
  );
}

/** @param put takes changed values; returns what is wrong with them, or null. */
export function GradeControls({ grade, put }: { grade: Grade; put: (values: Partial<Grade>) => string | null }): ReactNode {
  return (
    <>
      <FormFields fields={COLOUR_FIELDS} values={grade} put={put} />
      <Checkbox
        label={LABELS.glare}
        help={HELP.glare}
        checked={grade.glow !== undefined}
        onChecked={(on) => put({ glow: on ? FIRST_GLOW : undefined })}
      />
      {grade.glow && (
        <div className="grid grid-cols-2 gap-3">
          <FormFields fields={GLARE_FIELDS} values={grade.glow} put={(values) => put({ glow: { ...grade.glow!, ...values } })} />
        </div>
      )}
    </>
  );
}
