/** Fields of a grade in which it differs from the format sheet. */
import type { ReactNode } from 'react';
import { resolveSampling } from '../../core/frame/settings.js';
import type { Grade } from '../../core/image/grade.js';
import type { LineStyle } from '../../core/image/lineStyle.js';
import type { FormatSheet } from '../../core/plan/formatSheet.js';
import { Checkbox } from '../ui/controls.js';
import { type FieldSpec, FormFields } from './FormFields.js';
import type { Put } from './GradeControls.js';
import { HELP, LABELS } from './words.js';

const LINE_FIELDS: readonly FieldSpec<LineStyle>[] = [
  { key: 'width', kind: 'number', label: LABELS.lineWidth, help: HELP.lineWidth, unit: 'px', step: 0.1, decimals: 1 },
  { key: 'colour', kind: 'colour', label: LABELS.lineColour, help: HELP.lineColour },
];

/** Weight and colour of lines, and the filter for noise: as the sheet has them, unless the grade says otherwise. */
export function SheetGrade({ grade, sheet, put }: { grade: Grade; sheet: Pick<FormatSheet, 'lines' | 'quality'>; put: Put }): ReactNode {
  const lines = sheet.lines && (grade.lines ?? sheet.lines);
  const { mode, denoise } = resolveSampling(sheet.quality);
  return (
    <>
      {lines && (
        <div className="grid grid-cols-[minmax(0,0.6fr)_minmax(0,1fr)] gap-3">
          <FormFields
            fields={LINE_FIELDS}
            values={lines}
            put={(values) => {
              const next = { ...lines, ...values };
              return put({ lines: next.width === sheet.lines!.width && next.colour === sheet.lines!.colour ? undefined : next });
            }}
          />
        </div>
      )}
      {mode === 'traced' && (
        <Checkbox
          label={LABELS.denoise}
          help={HELP.denoise}
          checked={grade.denoise ?? denoise}
          onChecked={(on) => put({ denoise: on === denoise ? undefined : on })}
        />
      )}
    </>
  );
}
