/** How the caps of a section look: their colour, and a hatch over them. */
import { type ReactNode } from 'react';
import { type CapChoice, defaultHatch, type HatchChoice } from '../../core/frame/sectionCap.js';
import { ColourField } from './ColourField.js';
import { NumberField, Checkbox } from './controls.js';

export interface CapFieldsProps {
  caps: CapChoice;
  /** Metres of the subject's short side, for a hatch to begin with. */
  size: number;
  put: (caps: CapChoice) => string | null;
}

export function CapFields({ caps: { cap, hatch }, size, put }: CapFieldsProps): ReactNode {
  const change = (values: Partial<HatchChoice>): string | null => put({ cap, hatch: { ...hatch!, ...values } });
  return (
    <>
      <Checkbox
        label="Caps in one colour"
        help="Else a cap wears the finish of the part that is cut."
        checked={cap !== undefined}
        onChecked={(on) => put({ cap: on ? '#20262c' : undefined, hatch })}
      />
      {cap && <ColourField label="Cap colour" help="As #rrggbb." value={cap} onValue={(c) => put({ cap: c, hatch })} />}
      <Checkbox
        label="Caps hatched"
        help="Lines over every cut face, as on a drawing. They belong to the plane: they stay where they are while the subject turns."
        checked={hatch !== undefined}
        onChecked={(on) => put({ cap, hatch: on ? defaultHatch(size) : undefined })}
      />
      {hatch && (
        <div className="grid grid-cols-2 gap-x-4 gap-y-2">
          <NumberField
            label="Lines every"
            help="Metres from line to line."
            value={hatch.spacing}
            quantity="length"
            unit="m"
            decimals={4}
            onValue={(spacing) => change({ spacing })}
          />
          <NumberField
            label="Line width"
            help="Metres. Finer than a pixel of the picture, lines become a tint."
            value={hatch.width}
            quantity="length"
            unit="m"
            decimals={5}
            onValue={(width) => change({ width })}
          />
          <NumberField
            label="Line angle"
            help="Degrees from level, counterclockwise as the cap is seen."
            value={hatch.angle}
            quantity="angle"
            unit="°"
            decimals={1}
            onValue={(angle) => change({ angle })}
          />
          <ColourField label="Line colour" help="As #rrggbb." value={hatch.colour} onValue={(colour) => change({ colour })} />
        </div>
      )}
    </>
  );
}
