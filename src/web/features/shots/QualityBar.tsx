/** What the quality level stands for, value by value; a changed value makes it a custom quality. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useState } from 'react';
import { FILTERS, type Sampling } from '../../../core/frame/frame.js';
import type { FormatSheet } from '../../../core/plan/formatSheet.js';
import { type Quality, customQualitySchema, resolveSampling } from '../../../core/frame/settings.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { SetCostNote } from '../forecast/CostNotes.js';
import { HELP, LABELS, MESSAGES } from './sheetWords.js';

interface QualityBarProps {
  sheet: FormatSheet;
  put: (values: Partial<FormatSheet>) => string | null;
}

/** A quality's values, one beside the other as the fields have them. */
interface QualityValues extends Pick<
  Sampling,
  'samples' | 'bounces' | 'refractionDepth' | 'denoise' | 'fireflyClamp' | 'noise' | 'seconds' | 'caustics'
> {
  filter: Sampling['filter']['kind'];
  filterWidth: number;
}

const valuesOf = ({ filter, ...rest }: Sampling): QualityValues => ({ ...rest, filter: filter.kind, filterWidth: filter.width });

/** The custom quality of those values; the schema says what is wrong with it. */
function qualityOf({
  samples,
  bounces,
  refractionDepth,
  denoise,
  fireflyClamp,
  noise,
  seconds,
  caustics,
  filter,
  filterWidth,
}: QualityValues): unknown {
  return {
    samples,
    depth: { bounces, refractionDepth },
    denoise,
    fireflyClamp,
    noise,
    seconds,
    caustics,
    filter: { kind: filter, width: filterWidth },
  };
}

const QUALITY_FIELDS: readonly FieldSpec<QualityValues>[] = [
  { key: 'samples', kind: 'number', label: LABELS.maximumSamples, help: HELP.samples, decimals: 0 },
  { key: 'bounces', kind: 'number', label: LABELS.bounces, help: HELP.bounces, decimals: 0 },
  { key: 'refractionDepth', kind: 'number', label: LABELS.refractionDepth, help: HELP.refractionDepth, decimals: 0 },
  { key: 'noise', kind: 'number', label: LABELS.noiseThreshold, help: HELP.noiseThreshold, step: 0.005, decimals: 4 },
  { key: 'seconds', kind: 'number', label: LABELS.timeLimit, help: HELP.timeLimit, unit: 's', decimals: 0 },
  { key: 'fireflyClamp', kind: 'number', label: LABELS.fireflyClamp, help: HELP.fireflyClamp, step: 0.5 },
  { key: 'filter', kind: 'select', label: LABELS.pixelFilter, help: HELP.pixelFilter, options: FILTERS.map((f) => ({ value: f, label: f })) },
  { key: 'filterWidth', kind: 'number', label: LABELS.filterWidth, help: HELP.filterWidth, unit: 'px', step: 0.1 },
  { key: 'denoise', kind: 'checkbox', label: LABELS.denoise, help: HELP.denoise },
  { key: 'caustics', kind: 'checkbox', label: LABELS.caustics, help: HELP.caustics },
];

/** How good the renders are to be. */
export function QualityBar({ sheet, put }: QualityBarProps): ReactNode {
  const [open, setOpen] = useState(false);
  const sampling = resolveSampling(sheet.quality);
  const change = (values: Partial<QualityValues>): string | null => {
    const read = customQualitySchema.safeParse(qualityOf({ ...valuesOf(sampling), ...values }));
    return read.success ? put({ quality: read.data }) : fieldProblem(read.error);
  };
  const name = typeof sheet.quality === 'string' ? sheet.quality : LABELS.customQuality;
  return (
    <details className="col-span-full border-t border-rule pb-1 pt-1.5 text-sm" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-graphite">
        {LABELS.quality} <span className="text-ink">{name}</span>
        <span className="num">
          {' '}
          {MESSAGES.samples(
            sampling.samples,
            sampling.mode === 'quick' ? LABELS.shaded : LABELS.bouncesRefractionDepth(sampling.bounces, sampling.refractionDepth),
            sampling.denoise ? LABELS.denoised : LABELS.notDenoised,
            (sampling.noise > 0 && LABELS.stopsAtNoise(sampling.noise)) || '',
            (sampling.seconds > 0 && MESSAGES.stopsAfterS(sampling.seconds)) || '',
          )}
        </span>
      </summary>
      {sampling.mode === 'quick' ? (
        <p className="py-2 text-graphite">{MESSAGES.quickRendersAreShaded}</p>
      ) : (
        <div className="grid grid-cols-6 items-end gap-x-5 gap-y-2 py-2">
          <FormFields fields={QUALITY_FIELDS} values={valuesOf(sampling)} put={change} />
        </div>
      )}
      <SetCostNote traced={sampling.mode === 'traced'} />
      <p className="pb-1 text-graphite">
        {MESSAGES.savedQualities} <PresetMenu kind="quality" what="quality" body={sheet.quality} onUse={(body: Quality) => put({ quality: body })} />
      </p>
    </details>
  );
}
