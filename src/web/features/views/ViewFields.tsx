/** The fields of a view: name, where it stands, and through what it looks. */
import { viewInKind } from '../../../core/edit/viewKind.js';
import type { ReactNode } from 'react';
import type { Vec3 } from '../../../core/math/bounds.js';
import { scaleOfWidth, widthAtScale } from '../../../core/camera/angleSet.js';
import { angleOfView, focalLengthOf, type Size, type View, VIEW_KINDS, type ViewKind } from '../../../core/camera/view.js';
import { Button, NumberField, Select, TextField, Checkbox } from '../../ui/controls.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { PointFields } from '../../forms/PointFields.js';
import { toastProblem } from '../../state/toastProblem.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const KIND_WORDS: Record<ViewKind, string> = { perspective: 'perspective', parallel: 'parallel', panorama: LABELS.panorama };
/** f-number that a lens begins with. */
const APERTURE = 4;

const LENS: readonly FieldSpec<View>[] = [
  { kind: 'number', key: 'aperture', label: LABELS.fNumber, help: HELP.fNumber, step: 0.5, decimals: 1 },
  { kind: 'number', key: 'focus', label: LABELS.focusDistance, help: HELP.focusDistance, quantity: 'length', unit: 'm', step: 0.05 },
];

function LensFields({ view, picking, onPickFocus, onChange }: Pick<ViewFieldsProps, 'view' | 'picking' | 'onPickFocus' | 'onChange'>): ReactNode {
  const ahead = Math.hypot(...view.eye.map((v, i) => v - view.target[i]!));
  return (
    <>
      <Checkbox
        label={LABELS.depthOfField}
        help={HELP.depthOfField}
        checked={view.aperture !== undefined}
        onChecked={(on) => onChange({ aperture: on ? APERTURE : undefined, focus: undefined })}
      />
      {view.aperture !== undefined && (
        <div className="grid grid-cols-2 gap-3">
          <FormFields fields={LENS} values={{ ...view, focus: view.focus ?? ahead }} put={onChange} />
          <Button className="!h-6 col-span-2 self-start !px-2 text-xs" aria-pressed={picking} onClick={onPickFocus}>
            {picking ? MESSAGES.clickThePointTo : LABELS.pickFocus}
          </Button>
        </div>
      )}
    </>
  );
}

/** Dots an inch that a scale is meant at. */
const DPI = 300;

interface ViewFieldsProps {
  view: View;
  size: Size;
  pixelAspect: number;
  /** It is one of the set's, not one that is being found. */
  kept: boolean;
  /** The next click in the viewport says what is sharp. */
  picking: boolean;
  onPickFocus: () => void;
  /** Returns what is wrong, or null. */
  onChange: (values: Partial<View>) => string | null;
}

/** Fields of a view. */
export function ViewFields({ view, kept, size, pixelAspect, picking, onPickFocus, onChange }: ViewFieldsProps): ReactNode {
  const setKind = (kind: ViewKind): void => toastProblem(onChange(viewInKind(view, kind)));
  return (
    <>
      {kept ? (
        <TextField label={LABELS.name} help={HELP.name} value={view.name} onValue={(name) => onChange({ name })} />
      ) : (
        <p className="font-semibold">{LABELS.newView}</p>
      )}
      {kept && (
        <Select
          label={LABELS.kind}
          help={HELP.kind}
          value={view.kind}
          options={VIEW_KINDS.map((k) => ({ value: k, label: KIND_WORDS[k] }))}
          onValue={(kind) => setKind(kind as ViewKind)}
        />
      )}
      <PointFields label={LABELS.eye} help={HELP.eye} point={view.eye as Vec3} onPoint={(eye) => onChange({ eye })} />
      <PointFields label={LABELS.target} help={HELP.target} point={view.target as Vec3} onPoint={(target) => onChange({ target })} />
      {view.kind === 'perspective' && (
        <>
          <div className="grid grid-cols-2 gap-3">
            <NumberField
              label={LABELS.focalLength}
              help={HELP.focalLength}
              value={view.focalLength}
              quantity="focal"
              unit="mm"
              decimals={1}
              disabled={!kept}
              onValue={(focalLength) => onChange({ focalLength })}
            />
            <NumberField
              label={LABELS.fieldOfView}
              help={HELP.fieldOfView}
              value={angleOfView(view.focalLength)}
              quantity="angle"
              unit="°"
              decimals={1}
              disabled={!kept}
              onValue={(angle) => (angle > 0 && angle < 132 ? onChange({ focalLength: focalLengthOf(angle) }) : MESSAGES.from17To)}
            />
          </div>
          <Checkbox
            label={LABELS.keepVerticalsStraight}
            help={HELP.keepVerticalsStraight}
            checked={view.keepVerticals}
            onChecked={(keepVerticals) => toastProblem(onChange({ keepVerticals, roll: undefined }))}
          />
          {kept && <LensFields view={view} picking={picking} onPickFocus={onPickFocus} onChange={onChange} />}
        </>
      )}
      {view.kind === 'parallel' && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label={LABELS.width}
            help={HELP.width}
            value={view.width ?? 1}
            quantity="length"
            unit="m"
            step={0.1}
            onValue={(width) => onChange({ width })}
          />
          <NumberField
            label={LABELS.scale}
            help={HELP.scale(DPI)}
            value={scaleOfWidth(view.width ?? 1, size, pixelAspect, DPI)}
            decimals={2}
            onValue={(n) => (n > 0 ? onChange({ width: widthAtScale(n, size, pixelAspect, DPI) }) : MESSAGES.writeANumberAbove)}
          />
        </div>
      )}
      {kept && (view.kind === 'parallel' || (view.kind === 'perspective' && !view.keepVerticals)) && (
        <NumberField
          label={LABELS.roll}
          help={HELP.roll}
          value={view.roll ?? 0}
          quantity="angle"
          unit="°"
          decimals={2}
          onValue={(roll) => onChange({ roll: roll === 0 ? undefined : roll })}
        />
      )}
      {kept && (
        <NumberField
          label={LABELS.nearClipping}
          help={HELP.nearClipping}
          value={view.nearClipping ?? 0}
          quantity="length"
          unit="m"
          step={0.1}
          onValue={(near) => onChange({ nearClipping: near === 0 ? undefined : near })}
        />
      )}
      {view.kind === 'panorama' && <p className="text-sm text-graphite">{MESSAGES.theMiddleLooksAt}</p>}
    </>
  );
}
