/** Fields of a grade but its exposure: white balance, tone curve, glare, and what comes after the curve. */
import type { ReactNode } from 'react';
import type { Grade } from '../../core/image/grade.js';
import { type Mix, passesOfMix } from '../../core/image/mix.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import { CURVE_LIST, CURVES } from '../../core/image/tone.js';
import { Checkbox, NumberField } from '../ui/controls.js';
import { ColourTableField } from './ColourTableField.js';
import { type FieldSpec, FormFields } from './FormFields.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const FIRST_GLOW = { strength: 0.15, reach: 0.02 };
const FIRST_LEVELS = { black: 0, white: 1, gamma: 1 };
const FIRST_FOG = { colour: '#c8d0d8', start: 0, half: 50 };

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

const LEVELS_FIELDS: readonly FieldSpec<NonNullable<Grade['levels']>>[] = [
  { key: 'black', kind: 'number', label: LABELS.black, help: HELP.black, step: 0.01, decimals: 3 },
  { key: 'white', kind: 'number', label: LABELS.white, help: HELP.white, step: 0.01, decimals: 3 },
  { key: 'gamma', kind: 'number', label: LABELS.gamma, help: HELP.gamma, step: 0.05, decimals: 2 },
];

/** Factors as the fields show them: one that is absent changes nothing. */
const TONE_FIELDS: readonly FieldSpec<{ contrast: number; saturation: number }>[] = [
  { key: 'contrast', kind: 'number', label: LABELS.contrast, help: HELP.contrast, step: 0.05, decimals: 2 },
  { key: 'saturation', kind: 'number', label: LABELS.saturation, help: HELP.saturation, step: 0.05, decimals: 2 },
];

const MIX_FIELDS: readonly FieldSpec<{ diffuse: number; specular: number; occlusion: number }>[] = [
  { key: 'diffuse', kind: 'number', label: LABELS.diffuse, help: HELP.diffuse, step: 0.1, decimals: 2 },
  { key: 'specular', kind: 'number', label: LABELS.specular, help: HELP.specular, step: 0.1, decimals: 2 },
  { key: 'occlusion', kind: 'number', label: LABELS.occlusion, help: HELP.occlusion, step: 0.1, decimals: 2 },
];

const FOG_FIELDS: readonly FieldSpec<NonNullable<Mix['fog']>>[] = [
  { key: 'colour', kind: 'colour', label: LABELS.fogColour, help: HELP.fogColour, className: 'col-span-2' },
  { key: 'start', kind: 'number', label: LABELS.fogStart, help: HELP.fogStart, quantity: 'length', unit: 'm', step: 1, decimals: 2 },
  { key: 'half', kind: 'number', label: LABELS.fogHalf, help: HELP.fogHalf, quantity: 'length', unit: 'm', step: 5, decimals: 2 },
];

/** Takes changed values; returns what is wrong with them, or null. */
export type Put = (values: Partial<Grade>) => string | null;

/** @param onExposure takes it in EV; returns what is wrong, or null. */
export function ExposureField({ exposure, onExposure }: { exposure: number; onExposure: (exposure: number) => string | null }): ReactNode {
  return (
    <NumberField label={LABELS.exposureEv} help={HELP.exposureEv} value={exposure} step={0.25} decimals={2} unit={LABELS.ev} onValue={onExposure} />
  );
}

/** @param passes that the render has: what the mix needs beside them is said. */
function MixFields({ mix, passes, put }: { mix: Mix; passes: readonly PassId[]; put: (mix: Mix) => string | null }): ReactNode {
  const missing = passesOfMix(mix).filter((id) => !passes.includes(id));
  const { diffuse = 1, specular = 1, occlusion = 0, fog } = mix;
  return (
    <div className="grid grid-cols-2 gap-3">
      <FormFields fields={MIX_FIELDS} values={{ diffuse, specular, occlusion }} put={(values) => put({ ...mix, ...values })} />
      <div className="col-span-2">
        <Checkbox
          label={LABELS.fog}
          help={HELP.fog}
          checked={fog !== undefined}
          onChecked={(on) => put({ ...mix, fog: on ? FIRST_FOG : undefined })}
        />
      </div>
      {fog && <FormFields fields={FOG_FIELDS} values={fog} put={(values) => put({ ...mix, fog: { ...fog, ...values } })} />}
      {missing.length > 0 && (
        <p className="col-span-2 text-sm text-ochre">{MESSAGES.passesMissing(missing.map((id) => passOf(id).label).join(', '))}</p>
      )}
    </div>
  );
}

/** @param put takes changed values; returns what is wrong with them, or null. @param passes that renders have. */
export function GradeControls({ grade, passes, put }: { grade: Grade; passes: readonly PassId[]; put: Put }): ReactNode {
  const { contrast = 1, saturation = 1, levels, glow, mix } = grade;
  return (
    <>
      <FormFields fields={COLOUR_FIELDS} values={grade} put={put} />
      <div className="grid grid-cols-2 gap-3">
        <FormFields fields={TONE_FIELDS} values={{ contrast, saturation }} put={put} />
      </div>
      <Checkbox
        label={LABELS.levels}
        help={HELP.levels}
        checked={levels !== undefined}
        onChecked={(on) => put({ levels: on ? FIRST_LEVELS : undefined })}
      />
      {levels && (
        <div className="grid grid-cols-3 gap-3">
          <FormFields fields={LEVELS_FIELDS} values={levels} put={(values) => put({ levels: { ...levels, ...values } })} />
        </div>
      )}
      <Checkbox label={LABELS.glare} help={HELP.glare} checked={glow !== undefined} onChecked={(on) => put({ glow: on ? FIRST_GLOW : undefined })} />
      {glow && (
        <div className="grid grid-cols-2 gap-3">
          <FormFields fields={GLARE_FIELDS} values={glow} put={(values) => put({ glow: { ...glow, ...values } })} />
        </div>
      )}
      <Checkbox label={LABELS.mix} help={HELP.mix} checked={mix !== undefined} onChecked={(on) => put({ mix: on ? {} : undefined })} />
      {mix && <MixFields mix={mix} passes={passes} put={(next) => put({ mix: next })} />}
      <ColourTableField grade={grade} put={put} />
    </>
  );
}
