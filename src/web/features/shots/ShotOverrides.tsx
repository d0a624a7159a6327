/** What a shot overrides: stage, sizes, and fields of the format sheet. */
import type { ReactNode } from 'react';
import { Undo2 } from 'lucide-react';
import { passOf } from '../../../core/image/passes.js';
import { overriddenFields } from '../../../core/plan/formatSheet.js';
import { type Overrides, QUALITY_LEVELS, type QualityLevel, resolveSampling } from '../../../core/frame/settings.js';
import { readSizes } from '../../../core/plan/sizes.js';
import type { Shot } from '../../../core/shots/kinds.js';
import { useWorkspace } from '../../app/workspace.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Checkbox, NumberField, Select, TextField } from '../../ui/controls.js';
import { FileTypesField } from './FileTypesField.js';
import { PassChoice } from './PassBar.js';
import { RateField } from './RateField.js';
import { SubjectField } from './SubjectField.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** No value is written like this. */
const SHEET = '-';

/** Undefined where a shot says what the format sheet says: it follows the sheet then. */
const unlessSame = <T,>(own: T, sheet: T): T | undefined => (JSON.stringify(own) === JSON.stringify(sheet) ? undefined : own);

/** Overrides of the format sheet by this shot. */
export function ShotOverrides({ shot, put }: { shot: Shot; put: (next: Shot) => string | null }): ReactNode {
  const { plan } = useWorkspace();
  const { sheet, stages = [] } = plan!.file;
  const own = shot.overrides ?? {};
  const deviations = overriddenFields(sheet, shot);
  const change = (values: Partial<Overrides>): string | null => {
    const next = { ...own, ...values };
    return put({ ...shot, overrides: Object.values(next).every((v) => v === undefined) ? undefined : next });
  };
  const sizes = sheet.sizes ?? [];
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-2" aria-label={LABELS.overrides}>
      <div className="flex items-center justify-between gap-2">
        <h2 className="font-semibold">{LABELS.overrides}</h2>
        {deviations.length > 0 && (
          <button
            type="button"
            className="inline-flex items-center gap-1 text-sm text-cobalt underline"
            onClick={() => put({ ...shot, overrides: undefined })}
          >
            <Undo2 size={12} aria-hidden /> {LABELS.clear(deviations.length)}
          </button>
        )}
      </div>
      <SubjectField shot={shot} put={put} />
      {stages.length > 0 && (
        <Select
          label={LABELS.stage}
          help={HELP.stage}
          value={shot.stage ?? SHEET}
          options={[{ value: SHEET, label: LABELS.asTheSet }, ...stages.map((s) => ({ value: s.id, label: s.name }))]}
          onValue={(id) => put({ ...shot, stage: id === SHEET ? undefined : id })}
        />
      )}
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        <Select
          label={LABELS.quality}
          help={HELP.qualityOverridesTheFormat}
          value={own.quality === undefined ? SHEET : typeof own.quality === 'string' ? own.quality : 'own'}
          options={[
            { value: SHEET, label: LABELS.asTheFormatSheet },
            ...Object.keys(QUALITY_LEVELS).map((q) => ({ value: q, label: q })),
            ...(typeof own.quality === 'object' ? [{ value: 'own', label: LABELS.custom(resolveSampling(own.quality).samples) }] : []),
          ]}
          onValue={(q) => q !== 'own' && change({ quality: q === SHEET ? undefined : (q as QualityLevel) })}
        />
        <RateField rate={own.rate} setting="shot.rate" help={HELP.rate} inherited={LABELS.asTheFormatSheet} onRate={(rate) => change({ rate })} />
        <TextField
          label={LABELS.size}
          help={HELP.size}
          mono
          value={own.size ? `${own.size.width}x${own.size.height}` : ''}
          onValue={(text) => {
            const read = readSizes(text);
            if (typeof read === 'string') return read;
            return read.length > 1 ? MESSAGES.oneSizeExtraSizes : change({ size: read[0] });
          }}
        />
        <TextField
          label={LABELS.group}
          help={HELP.groupNameUnderWhich}
          value={shot.group ?? ''}
          onValue={(text) => put({ ...shot, group: text.trim().slice(0, 40) || undefined })}
        />
      </div>
      <FileTypesField files={own.files ?? sheet.files} onFiles={(files) => change({ files: unlessSame(files, sheet.files) })} />
      <NumberField
        label={LABELS.shutterAngle}
        help={HELP.shutterAngle}
        setting="shot.shutter"
        value={own.shutter ?? sheet.shutter}
        unit="°"
        decimals={0}
        onValue={(shutter) => change({ shutter: unlessSame(shutter, sheet.shutter) })}
      />
      <details>
        <summary className="cursor-pointer text-sm text-graphite">
          {LABELS.passes} <span className="text-ink">{(own.passes ?? sheet.passes).map((p) => passOf(p).label).join(', ')}</span>
        </summary>
        <PassChoice passes={own.passes ?? sheet.passes} onPasses={(passes) => toastProblem(change({ passes: unlessSame(passes, sheet.passes) }))} />
      </details>
      <Checkbox
        label={LABELS.transparentBackdrop}
        help={HELP.transparentBackdrop}
        checked={own.alpha ?? sheet.alpha}
        onChecked={(on) => change({ alpha: on === sheet.alpha ? undefined : on })}
      />
      {sizes.length > 0 && (
        <fieldset>
          <legend className="font-head text-xs font-medium text-graphite">{LABELS.extraSizes}</legend>
          {sizes.map((s) => (
            <Checkbox
              key={s.id}
              label={`${s.width} × ${s.height}`}
              checked={!shot.sizes || shot.sizes.includes(s.id)}
              onChecked={(on) => {
                const next = sizes.map((x) => x.id).filter((id) => (id === s.id ? on : !shot.sizes || shot.sizes.includes(id)));
                put({ ...shot, sizes: next.length === sizes.length ? undefined : next });
              }}
            />
          ))}
        </fieldset>
      )}
    </section>
  );
}
