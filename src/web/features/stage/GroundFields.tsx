/** What the subject stands on, and what is known to go wrong with it. */
import { NoEffectNote } from '../../forms/SettingsOf.js';
import type { ReactNode } from 'react';
import useSWR from 'swr';
import type { Bounds } from '../../../core/math/bounds.js';
import { LIBRARY } from '../../../core/materials/library.js';
import type { GROUND_KINDS, Stage, StageSettings } from '../../../core/stage/stage.js';
import { formatHex } from '../../../core/units/colour.js';
import type { FloorReply } from '../../../contract/daylight.js';
import { get } from '../../state/api.js';
import { ColourField } from '../../ui/ColourField.js';
import { NumberField, Select } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const WORDS: Record<(typeof GROUND_KINDS)[number] | 'ready', string> = {
  ready: MESSAGES.fromTheStagePreset,
  plane: LABELS.plane,
  shadow: LABELS.shadowCatcher,
  none: 'none',
};

/** No material is called this. */
const COLOUR = '-';

type Ground = NonNullable<StageSettings['ground']>;

/** The ground, and what of the design may take its place. */
export interface GroundFieldsProps {
  ground: Ground | undefined;
  base: Stage['base'];
  floor: Bounds;
  /** Where to ask whether the design brings a floor of its own. */
  floorUrl: string;
  onChange: (values: Partial<StageSettings>) => string | null;
}

/** The ground that the subject stands on. */
export function GroundFields({ ground, base, floor, floorUrl, onChange }: GroundFieldsProps): ReactNode {
  const set = (values: Partial<Ground>): string | null => onChange({ ground: { kind: 'plane', ...ground, ...values } });
  const { data: own } = useSWR<FloorReply, Error>(base ? `${floorUrl}&height=${base.height}` : null, get, { revalidateOnFocus: false });
  const doubled = base && own?.height !== undefined && own.share > own.needs;
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label={LABELS.ground}>
      <h2 className="font-semibold">{LABELS.ground}</h2>
      <Select
        label={LABELS.ground}
        help={HELP.ground}
        value={ground?.kind ?? 'ready'}
        options={Object.entries(WORDS).map(([value, label]) => ({ value, label }))}
        onValue={(kind) => onChange({ ground: kind === 'ready' ? undefined : { ...ground, kind: kind as (typeof GROUND_KINDS)[number] } })}
      />
      <NoEffectNote setting="stage.groundHeight" />
      <NoEffectNote setting="stage.groundColour" />
      {base && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label={LABELS.height}
            help={HELP.height(floor.min[1].toFixed(3))}
            value={base.height}
            quantity="length"
            unit="m"
            step={0.01}
            onValue={(height) => set({ kind: ground?.kind ?? 'plane', height })}
          />
          <NumberField
            label={LABELS.radius}
            help={HELP.radius}
            value={base.outer}
            quantity="length"
            unit="m"
            step={0.1}
            onValue={(radius) => set({ kind: ground?.kind ?? 'plane', radius })}
          />
        </div>
      )}
      {base && !base.shadowCatcher && (
        <Select
          label={LABELS.groundMaterial}
          help={HELP.groundMaterial}
          value={ground?.material ?? COLOUR}
          options={[{ value: COLOUR, label: LABELS.colour }, ...LIBRARY.map(({ material }) => ({ value: material.name, label: material.name }))]}
          onValue={(name) => set({ kind: ground?.kind ?? 'plane', material: name === COLOUR ? undefined : name })}
        />
      )}
      {base && !base.shadowCatcher && !base.material && (
        <ColourField
          label={LABELS.groundColour}
          help={HELP.groundColour}
          value={formatHex(base.colour)}
          onValue={(colour) => set({ kind: ground?.kind ?? 'plane', colour })}
        />
      )}
      {base && base.height > floor.min[1] + 1e-4 && (
        <p className="text-sm text-ochre" role="status">
          {MESSAGES.theGroundIsM((base.height - floor.min[1]).toFixed(3))}
        </p>
      )}
      {base && base.height < floor.min[1] - 1e-4 && (
        <p className="text-sm text-ochre" role="status">
          {MESSAGES.theSubjectFloatsM((floor.min[1] - base.height).toFixed(3))}
        </p>
      )}
      {doubled && (
        <p className="text-sm text-ochre" role="status">
          {MESSAGES.theModelHasIts(
            own.height!.toFixed(3),
            Math.round(100 * own.share),
            base.shadowCatcher ? LABELS.shadowsFallOnBoth : MESSAGES.theTwoCoincide,
          )}
        </p>
      )}
    </section>
  );
}
