/** How the caps of a section look: their colour, and a hatch over them. */
import type { ReactNode } from 'react';
import { type CapChoice, defaultHatch, type HatchChoice } from '../../core/frame/sectionCap.js';
import { type FieldSpec, FormFields } from './FormFields.js';
import { ColourField } from '../ui/ColourField.js';
import { Checkbox } from '../ui/controls.js';
import { HELP, LABELS } from './words.js';

const HATCH_FIELDS: readonly FieldSpec<HatchChoice>[] = [
  { key: 'spacing', kind: 'number', label: LABELS.hatchSpacing, help: HELP.hatchSpacing, quantity: 'length', unit: 'm', decimals: 4 },
  { key: 'width', kind: 'number', label: LABELS.hatchLineWidth, help: HELP.hatchLineWidth, quantity: 'length', unit: 'm', decimals: 5 },
  { key: 'angle', kind: 'number', label: LABELS.hatchAngle, help: HELP.hatchAngle, quantity: 'angle', unit: '°', decimals: 1 },
  { key: 'colour', kind: 'colour', label: LABELS.hatchColour, help: HELP.capColour },
];

/** How caps look, and how that is changed. */
export interface CapFieldsProps {
  caps: CapChoice;
  /** Metres of the subject's short side, for a hatch to begin with. */
  size: number;
  put: (caps: CapChoice) => string | null;
}

/** Colour and hatch of a section's caps. */
export function CapFields({ caps: { cap, hatch }, size, put }: CapFieldsProps): ReactNode {
  const change = (values: Partial<HatchChoice>): string | null => put({ cap, hatch: { ...hatch!, ...values } });
  return (
    <>
      <Checkbox
        label={LABELS.plainCapColour}
        help={HELP.plainCapColour}
        checked={cap !== undefined}
        onChecked={(on) => put({ cap: on ? '#20262c' : undefined, hatch })}
      />
      {cap && <ColourField label={LABELS.capColour} help={HELP.capColour} value={cap} onValue={(c) => put({ cap: c, hatch })} />}
      <Checkbox
        label={LABELS.hatchedCaps}
        help={HELP.hatchedCaps}
        checked={hatch !== undefined}
        onChecked={(on) => put({ cap, hatch: on ? defaultHatch(size) : undefined })}
      />
      {hatch && (
        <div className="grid grid-cols-2 gap-x-4 gap-y-2">
          <FormFields fields={HATCH_FIELDS} values={hatch} put={change} />
        </div>
      )}
    </>
  );
}
