/** The fields of a view: name, where it stands, and through what it looks. */
import { type ReactNode } from 'react';
import { toast } from 'sonner';
import { type Vec3 } from '../../../core/math/bounds.js';
import { scaleOfWidth, widthAtScale } from '../../../core/camera/angleSet.js';
import { angleOfView, focalLengthOf, type Size, type View, VIEW_KINDS, type ViewKind } from '../../../core/camera/view.js';
import { Button, NumberField, Select, TextField, Checkbox } from '../../ui/controls.js';

const AXES = ['x', 'y', 'z'] as const;
const KIND_WORDS: Record<ViewKind, string> = { perspective: 'perspective', parallel: 'parallel', panorama: 'panorama, all round' };
/** f-number that a lens begins with. */
const APERTURE = 4;

function PointFields({ label, help, point, onPoint }: { label: string; help: string; point: Vec3; onPoint: (p: Vec3) => string | null }): ReactNode {
  return (
    <div className="grid grid-cols-3 gap-3">
      {AXES.map((axis, i) => (
        <NumberField
          key={axis}
          label={`${label} ${axis}`}
          help={help}
          value={point[i]!}
          quantity="length"
          unit="m"
          step={0.05}
          onValue={(v) => onPoint(point.map((old, k) => (k === i ? v : old)) as Vec3)}
        />
      ))}
    </div>
  );
}

function LensFields({ view, picking, onPickFocus, onChange }: Pick<ViewFieldsProps, 'view' | 'picking' | 'onPickFocus' | 'onChange'>): ReactNode {
  const ahead = Math.hypot(...view.eye.map((v, i) => v - view.target[i]!));
  return (
    <>
      <Checkbox
        label="Blur with distance"
        help="As a lens does: what lies at the focus is sharp, nearer and farther things blur, the more the smaller the f-number."
        checked={view.aperture !== undefined}
        onChecked={(on) => onChange({ aperture: on ? APERTURE : undefined, focus: undefined })}
      />
      {view.aperture !== undefined && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="f-number"
            help="2 blurs much, 16 little. Small things seen from near blur more."
            value={view.aperture}
            step={0.5}
            decimals={1}
            onValue={(aperture) => onChange({ aperture })}
          />
          <NumberField
            label="Focus"
            help="Metres along the line of sight to what is sharp; the target, as long as nothing is set."
            value={view.focus ?? ahead}
            quantity="length"
            unit="m"
            step={0.05}
            onValue={(focus) => onChange({ focus })}
          />
          <Button className="!h-6 col-span-2 self-start !px-2 text-xs" aria-pressed={picking} onClick={onPickFocus}>
            {picking ? 'Click what is to be sharp' : 'Pick the focus'}
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

export function ViewFields({ view, kept, size, pixelAspect, picking, onPickFocus, onChange }: ViewFieldsProps): ReactNode {
  const said = (problem: string | null): void => {
    if (problem) toast.error(problem);
  };
  const setKind = (kind: ViewKind): void => {
    const ahead = Math.hypot(...view.eye.map((v, i) => v - view.target[i]!));
    // A parallel view begins with what the perspective one shows at its target.
    const width = kind === 'parallel' ? Number(((36 / view.focalLength) * ahead).toPrecision(4)) : undefined;
    said(
      onChange({
        kind,
        width,
        aperture: undefined,
        focus: undefined,
        roll: kind === 'panorama' ? undefined : view.roll,
        keepVerticals: kind === 'perspective' && view.keepVerticals,
      }),
    );
  };
  return (
    <>
      {kept ? (
        <TextField
          label="Name"
          help="How the view is called in the register and in file names."
          value={view.name}
          onValue={(name) => onChange({ name })}
        />
      ) : (
        <p className="font-semibold">New view</p>
      )}
      {kept && (
        <Select
          label="Kind"
          help="Perspective as an eye sees; parallel without vanishing points, to one scale; a panorama is twice as wide as high and goes all round."
          value={view.kind}
          options={VIEW_KINDS.map((k) => ({ value: k, label: KIND_WORDS[k] }))}
          onValue={(kind) => setKind(kind as ViewKind)}
        />
      )}
      <PointFields
        label="Eye"
        help="Where the eye stands, in metres; y is the height. Eye height of a standing person is 1.6 to 1.75 m."
        point={view.eye as Vec3}
        onPoint={(eye) => onChange({ eye })}
      />
      <PointFields
        label="Target"
        help="What the view looks at, in metres. It stands in the middle of the picture."
        point={view.target as Vec3}
        onPoint={(target) => onChange({ target })}
      />
      {view.kind === 'perspective' && (
        <>
          <div className="grid grid-cols-2 gap-3">
            <NumberField
              label="Focal length"
              help="In millimetres, for a long side of 36 mm: 50 looks as the eye does, 24 to 35 shows rooms, 70 and more flattens products."
              value={view.focalLength}
              quantity="focal"
              unit="mm"
              decimals={1}
              disabled={!kept}
              onValue={(focalLength) => onChange({ focalLength })}
            />
            <NumberField
              label="Angle across"
              help="Degrees across the long side of the picture; the same as the focal length, said otherwise."
              value={angleOfView(view.focalLength)}
              quantity="angle"
              unit="°"
              decimals={1}
              disabled={!kept}
              onValue={(angle) => (angle > 0 && angle < 132 ? onChange({ focalLength: focalLengthOf(angle) }) : 'From 1.7 to 132 degrees.')}
            />
          </div>
          <Checkbox
            label="Keep uprights"
            help="Vertical edges stay vertical: the picture plane stands upright and is shifted. Refused where the view looks steeper than 45°."
            checked={view.keepVerticals}
            onChecked={(keepVerticals) => said(onChange({ keepVerticals, roll: undefined }))}
          />
          {kept && <LensFields view={view} picking={picking} onPickFocus={onPickFocus} onChange={onChange} />}
        </>
      )}
      {view.kind === 'parallel' && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="Width"
            help="Metres that lie across the long side of the picture."
            value={view.width ?? 1}
            quantity="length"
            unit="m"
            step={0.1}
            onValue={(width) => onChange({ width })}
          />
          <NumberField
            label="Scale 1 :"
            help={`Of the picture printed at ${DPI} dots an inch: 50 draws a metre as 20 mm.`}
            value={scaleOfWidth(view.width ?? 1, size, pixelAspect, DPI)}
            decimals={2}
            onValue={(n) => (n > 0 ? onChange({ width: widthAtScale(n, size, pixelAspect, DPI) }) : 'Write a number above 0.')}
          />
        </div>
      )}
      {kept && view.kind !== 'panorama' && !view.keepVerticals && (
        <NumberField
          label="Roll"
          help="Degrees that the camera is turned by about its line of sight; the picture turns the other way."
          value={view.roll ?? 0}
          quantity="angle"
          unit="°"
          decimals={2}
          onValue={(roll) => onChange({ roll: roll === 0 ? undefined : roll })}
        />
      )}
      {kept && (
        <NumberField
          label="Looks past"
          help="Metres along the line of sight that are looked past: what stands nearer is not seen, and lights and shades as before. 0 sees all."
          value={view.nearClipping ?? 0}
          quantity="length"
          unit="m"
          step={0.1}
          onValue={(near) => onChange({ nearClipping: near === 0 ? undefined : near })}
        />
      )}
      {view.kind === 'panorama' && (
        <p className="text-sm text-graphite">
          Its middle looks to the target. The viewport looks that way through 90°; the live picture shows all of it.
        </p>
      )}
    </>
  );
}
