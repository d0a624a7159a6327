/** The fields of one added light. */
import { type ReactNode, useState } from 'react';
import type { Vec3 } from '../../../core/math/bounds.js';
import {
  directionalOf,
  LOST_SHARE,
  LUMENS_PER_WATT,
  luxAtTarget,
  USER_LIGHT_KINDS,
  type UserLight,
  type UserLightKind,
} from '../../../core/stage/userLight.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { PointFields } from '../../forms/PointFields.js';
import { NumberField, Select, TextField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const KIND_WORDS: Record<UserLightKind, string> = {
  point: LABELS.point,
  spot: 'spot',
  rectangle: 'rectangle',
  disc: 'disc',
  directional: 'directional',
};

const DIRECTIONAL_FIELDS: readonly FieldSpec<ReturnType<typeof directionalOf>>[] = [
  { key: 'lux', kind: 'number', label: LABELS.illuminance, help: HELP.illuminance, unit: 'lx', step: 100, decimals: 0 },
  { key: 'spread', kind: 'number', label: LABELS.spread, help: HELP.spread, quantity: 'angle', unit: '°', step: 0.5, decimals: 2 },
];

const size = (label: string, help: string, key: 'width' | 'height', ...kinds: UserLightKind[]): FieldSpec<UserLight> => ({
  key,
  kind: 'number',
  label,
  help,
  quantity: 'length',
  unit: 'm',
  step: 0.05,
  when: (l) => kinds.includes(l.kind),
});

const LIGHT_FIELDS: readonly FieldSpec<UserLight>[] = [
  { key: 'kelvin', kind: 'number', label: LABELS.colour, help: HELP.colour, unit: 'K', step: 100, decimals: 0 },
  {
    key: 'cone',
    kind: 'number',
    label: LABELS.coneAngle,
    help: HELP.coneAngle,
    quantity: 'angle',
    unit: '°',
    step: 5,
    decimals: 1,
    when: (l) => l.kind === 'spot',
  },
  size(LABELS.diameter, HELP.disc, 'width', 'disc'),
  size(LABELS.width, HELP.disc, 'width', 'rectangle'),
  size(LABELS.height, HELP.heightMetres, 'height', 'rectangle'),
];

/** What a lamp gives, in lumens or in watts of a bright lamp. */
function Intensity({ lumens, onLumens }: { lumens: number; onLumens: (lumens: number) => string | null }): ReactNode {
  const [watts, setWatts] = useState(false);
  return (
    <>
      <NumberField
        label={LABELS.intensity}
        help={HELP.intensity}
        value={watts ? lumens / LUMENS_PER_WATT : lumens}
        unit={watts ? 'W' : 'lm'}
        step={watts ? 1 : 100}
        decimals={watts ? 2 : 0}
        onValue={(v) => onLumens(watts ? v * LUMENS_PER_WATT : v)}
      />
      <Select
        label={LABELS.intensityUnit}
        help={HELP.intensityUnit(LUMENS_PER_WATT)}
        value={watts ? 'W' : 'lm'}
        options={[
          { value: 'lm', label: LABELS.lumens },
          { value: 'W', label: LABELS.watts },
        ]}
        onValue={(unit) => setWatts(unit === 'W')}
      />
    </>
  );
}

interface OneLightProps {
  light: UserLight;
  /** Lux of daylight on level ground, where there is any. */
  daylight: number | undefined;
  /** Returns what is wrong, or null. */
  change: (values: Partial<UserLight>) => string | null;
}

/** Fields of one light. */
export function OneLight({ light, daylight, change }: OneLightProps): ReactNode {
  const lux = luxAtTarget(light);
  return (
    <>
      <TextField label={LABELS.lightName} help={HELP.lightName} value={light.name} onValue={(name) => change({ name })} />
      <Select
        label={LABELS.lightType}
        help={HELP.lightType}
        value={light.kind}
        options={USER_LIGHT_KINDS.map((k) => ({ value: k, label: KIND_WORDS[k] }))}
        onValue={(kind) => change({ kind: kind as UserLightKind })}
      />
      <PointFields label={LABELS.position} help={HELP.positionInMetres} point={light.at as Vec3} onPoint={(at) => change({ at })} />
      {light.kind !== 'point' && (
        <PointFields label={LABELS.aim} help={HELP.thePointThatIt} point={light.target as Vec3} onPoint={(target) => change({ target })} />
      )}
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        {light.kind === 'directional' ? (
          <FormFields fields={DIRECTIONAL_FIELDS} values={directionalOf(light)} put={change} />
        ) : (
          <Intensity lumens={light.lumens} onLumens={(lumens) => change({ lumens })} />
        )}
        <FormFields fields={LIGHT_FIELDS} values={light} put={change} />
      </div>
      <p className="num text-sm text-graphite">{LABELS.lxAtItsAim(lux.toPrecision(3))}</p>
      {daylight !== undefined && lux < LOST_SHARE * daylight && (
        <p className="text-sm text-ochre">{MESSAGES.hardlyVisibleDaylightGives(Math.round(daylight))}</p>
      )}
    </>
  );
}
