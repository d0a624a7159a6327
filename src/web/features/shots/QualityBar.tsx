/** What the quality level stands for, value by value; a changed value makes it a quality of one's own. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useState } from 'react';
import { FILTERS, type Sampling } from '../../../core/frame/frame.js';
import { type FormatSheet } from '../../../core/plan/formatSheet.js';
import { type Quality, type CustomQuality, customQualitySchema, resolveSampling } from '../../../core/frame/settings.js';
import { NumberField, Select, Checkbox } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';

interface QualityBarProps {
  sheet: FormatSheet;
  put: (values: Partial<FormatSheet>) => string | null;
}

/** As a quality of one's own says it. */
function ownOf({ samples, bounces, refractionDepth, denoise, fireflyClamp, noise, seconds, caustics, filter }: Sampling): CustomQuality {
  return { samples, depth: { bounces, refractionDepth }, denoise, fireflyClamp, noise, seconds, caustics, filter };
}

export function QualityBar({ sheet, put }: QualityBarProps): ReactNode {
  const [open, setOpen] = useState(false);
  const sampling = resolveSampling(sheet.quality);
  const change = (values: Partial<CustomQuality>): string | null => {
    const read = customQualitySchema.safeParse({ ...ownOf(sampling), ...values });
    return read.success ? put({ quality: read.data }) : fieldProblem(read.error);
  };
  const depth = (values: Partial<{ bounces: number; refractionDepth: number }>): string | null =>
    change({ depth: { bounces: sampling.bounces, refractionDepth: sampling.refractionDepth, ...values } });
  const name = typeof sheet.quality === 'string' ? sheet.quality : 'own';
  return (
    <details className="col-span-full border-t border-rule pb-1 pt-1.5 text-sm" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-graphite">
        Quality <span className="text-ink">{name}</span>
        <span className="num">
          {' '}
          · {sampling.samples} samples ·{' '}
          {sampling.mode === 'quick' ? 'shaded' : `${sampling.bounces} bounces, ${sampling.refractionDepth} interfaces`} ·{' '}
          {sampling.denoise ? 'denoised' : 'not denoised'}
          {sampling.noise > 0 && ` · until ${sampling.noise} noise`}
          {sampling.seconds > 0 && ` · at most ${sampling.seconds} s`}
        </span>
      </summary>
      {sampling.mode === 'quick' ? (
        <p className="py-2 text-graphite">
          A quick picture is shaded, not traced: it has no values of its own. Choose draft or better to change them.
        </p>
      ) : (
        <div className="grid grid-cols-6 items-end gap-x-5 gap-y-2 py-2">
          <NumberField
            label="Samples"
            help="A pixel has so many at the most."
            value={sampling.samples}
            decimals={0}
            onValue={(samples) => change({ samples })}
          />
          <NumberField
            label="Bounces"
            help="Of light from surface to surface."
            value={sampling.bounces}
            decimals={0}
            onValue={(bounces) => depth({ bounces })}
          />
          <NumberField
            label="Interfaces"
            help="Faces of glass that are passed besides: two a pane."
            value={sampling.refractionDepth}
            decimals={0}
            onValue={(refractionDepth) => depth({ refractionDepth })}
          />
          <NumberField
            label="Stop at noise"
            help="Mean relative error at which a part of the picture is done before its samples; 0 never."
            value={sampling.noise}
            step={0.005}
            decimals={4}
            onValue={(noise) => change({ noise })}
          />
          <NumberField
            label="Stop after"
            help="Seconds after which a picture is taken as it is, so that an overnight batch ends in time; 0 never."
            value={sampling.seconds}
            unit="s"
            decimals={0}
            onValue={(seconds) => change({ seconds })}
          />
          <NumberField
            label="Bright limit"
            help="Radiance that a single sample counts for at the most, against sparks; 0 for no limit, which is exact and noisier."
            value={sampling.fireflyClamp}
            step={0.5}
            onValue={(fireflyClamp) => change({ fireflyClamp })}
          />
          <Select
            label="Filter"
            help="How samples are joined to pixels."
            value={sampling.filter.kind}
            options={FILTERS.map((f) => ({ value: f, label: f }))}
            onValue={(kind) => change({ filter: { ...sampling.filter, kind: kind as Sampling['filter']['kind'] } })}
          />
          <NumberField
            label="Filter across"
            help="Pixels across: narrower is sharper and may show steps."
            value={sampling.filter.width}
            unit="px"
            step={0.1}
            onValue={(width) => change({ filter: { ...sampling.filter, width } })}
          />
          <Checkbox
            label="Denoise"
            help="Takes noise out by what is known of the surfaces."
            checked={sampling.denoise}
            onChecked={(denoise) => change({ denoise })}
          />
          <Checkbox
            label="Caustics"
            help="Light that glass and mirrors throw on other things; takes many samples."
            checked={sampling.caustics}
            onChecked={(caustics) => change({ caustics })}
          />
        </div>
      )}
      <p className="pb-1 text-graphite">
        Qualities: <PresetMenu kind="quality" what="quality" body={sheet.quality} onUse={(body: Quality) => put({ quality: body })} />
      </p>
    </details>
  );
}
