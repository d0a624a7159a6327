/** Added lights: a list, and the fields of the one that is chosen. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useState } from 'react';
import { Plus, Trash2 } from 'lucide-react';
import type { Vec3 } from '../../../core/math/bounds.js';
import { freeId, freeName } from '../../../core/edit/editSet.js';
import {
  USER_LIGHT_KINDS,
  type UserLightKind,
  LUMENS_PER_WATT,
  directionalOf,
  luxAtTarget,
  type UserLight,
  userLightSchema,
} from '../../../core/stage/userLight.js';
import { Button, NumberField, Select, TextField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const KIND_WORDS: Record<UserLightKind, string> = {
  point: LABELS.point,
  spot: 'spot',
  rectangle: 'rectangle',
  disc: 'disc',
  directional: 'directional',
};
const AXES = ['x', 'y', 'z'] as const;

/** A light that gives so small a share of the daylight changes nothing that is seen. */
const LOST = 0.01;

export interface LightFieldsProps {
  lights: UserLight[];
  /** Id of the one whose fields are shown. */
  chosen: string | null;
  onChoose: (id: string | null) => void;
  /** Lux of daylight on level ground, where there is any. */
  daylight?: number;
  /** The view that the stage is looked at from. */
  seen: { eye: Vec3; target: Vec3 };
  onChange: (lights: UserLight[]) => string | null;
}

export function LightFields({ lights, chosen, daylight, seen, onChoose, onChange }: LightFieldsProps): ReactNode {
  const setChosen = onChoose;
  const [watts, setWatts] = useState(false);
  const light = lights.find((l) => l.id === chosen);
  const change = (values: Partial<UserLight>): string | null => {
    const read = userLightSchema.safeParse({ ...light!, ...values });
    return read.success ? onChange(lights.map((l) => (l.id === chosen ? read.data : l))) : fieldProblem(read.error);
  };
  const add = (): void => {
    const name = freeName(
      LABELS.light,
      lights.map((l) => l.name),
    );
    const id = freeId(
      name,
      lights.map((l) => l.id),
    );
    // Over the shoulder of the one who looks.
    const at = seen.eye.map((v, i) => v + (i === 1 ? 0.3 * Math.hypot(...seen.eye.map((e, k) => e - seen.target[k]!)) : 0)) as Vec3;
    const problem = onChange([...lights, userLightSchema.parse({ id, name, kind: 'rectangle', at, target: seen.target })]);
    if (!problem) setChosen(id);
  };
  const point = (which: 'at' | 'target', word: string, help: string): ReactNode => (
    <div className="grid grid-cols-3 gap-3">
      {AXES.map((axis, i) => (
        <NumberField
          key={axis}
          label={`${word} ${axis}`}
          help={help}
          value={light![which][i]!}
          quantity="length"
          unit="m"
          step={0.05}
          onValue={(v) => change({ [which]: light![which].map((c, k) => (k === i ? v : c)) as Vec3 })}
        />
      ))}
    </div>
  );
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label={LABELS.lights}>
      <div className="flex items-center justify-between">
        <h2 className="font-semibold">{LABELS.lights}</h2>
        <button type="button" className="inline-flex items-center gap-1 text-sm" onClick={add}>
          <Plus size={14} aria-hidden /> {LABELS.addLight}
        </button>
      </div>
      {lights.length > 0 && (
        <ul>
          {lights.map((l) => (
            <li key={l.id} className={`flex items-center gap-2 ${l.id === chosen ? 'bg-paper' : ''}`}>
              <input
                type="checkbox"
                className="size-4 accent-madder"
                aria-label={LABELS.isOn(l.name)}
                title={HELP.isOn}
                checked={l.on}
                onChange={(e) => onChange(lights.map((x) => (x.id === l.id ? { ...x, on: e.target.checked } : x)))}
              />
              <button
                type="button"
                className="min-w-0 flex-1 truncate text-left"
                aria-pressed={l.id === chosen}
                onClick={() => setChosen(l.id === chosen ? null : l.id)}
              >
                {l.name}
              </button>
              <span className="num text-xs text-graphite">
                {l.kind === 'directional'
                  ? MESSAGES.lxK(Math.round(directionalOf(l).lux), Math.round(l.kelvin))
                  : MESSAGES.lmK(Math.round(l.lumens), Math.round(l.kelvin))}
              </span>
            </li>
          ))}
        </ul>
      )}
      {light && (
        <div className="flex flex-col gap-2">
          <TextField label={LABELS.lightName} help={HELP.lightName} value={light.name} onValue={(name) => change({ name })} />
          <Select
            label={LABELS.lightType}
            help={HELP.lightType}
            value={light.kind}
            options={USER_LIGHT_KINDS.map((k) => ({ value: k, label: KIND_WORDS[k] }))}
            onValue={(kind) => change({ kind: kind as UserLightKind })}
          />
          {point('at', LABELS.position, HELP.positionInMetres)}
          {light.kind !== 'point' && point('target', LABELS.aim, HELP.thePointThatIt)}
          <div className="grid grid-cols-2 gap-x-3 gap-y-2">
            {light.kind === 'directional' ? (
              <>
                <NumberField
                  label={LABELS.illuminance}
                  help={HELP.illuminance}
                  value={directionalOf(light).lux}
                  unit="lx"
                  step={100}
                  decimals={0}
                  onValue={(lux) => change({ lux })}
                />
                <NumberField
                  label={LABELS.spread}
                  help={HELP.spread}
                  value={directionalOf(light).spread}
                  quantity="angle"
                  unit="°"
                  step={0.5}
                  decimals={2}
                  onValue={(spread) => change({ spread })}
                />
              </>
            ) : (
              <>
                <NumberField
                  label={LABELS.intensity}
                  help={HELP.intensity}
                  value={watts ? light.lumens / LUMENS_PER_WATT : light.lumens}
                  unit={watts ? 'W' : 'lm'}
                  step={watts ? 1 : 100}
                  decimals={watts ? 2 : 0}
                  onValue={(v) => change({ lumens: watts ? v * LUMENS_PER_WATT : v })}
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
            )}
            <NumberField
              label={LABELS.colour}
              help={HELP.colour}
              value={light.kelvin}
              unit="K"
              step={100}
              decimals={0}
              onValue={(kelvin) => change({ kelvin })}
            />
            {light.kind === 'spot' && (
              <NumberField
                label={LABELS.coneAngle}
                help={HELP.coneAngle}
                value={light.cone}
                quantity="angle"
                unit="°"
                step={5}
                decimals={1}
                onValue={(cone) => change({ cone })}
              />
            )}
            {(light.kind === 'rectangle' || light.kind === 'disc') && (
              <NumberField
                label={light.kind === 'disc' ? LABELS.diameter : LABELS.width}
                help={HELP.disc}
                value={light.width}
                quantity="length"
                unit="m"
                step={0.05}
                onValue={(width) => change({ width })}
              />
            )}
            {light.kind === 'rectangle' && (
              <NumberField
                label={LABELS.height}
                help={HELP.heightMetres}
                value={light.height}
                quantity="length"
                unit="m"
                step={0.05}
                onValue={(height) => change({ height })}
              />
            )}
          </div>
          <p className="num text-sm text-graphite">{LABELS.lxAtItsAim(luxAtTarget(light).toPrecision(3))}</p>
          {daylight !== undefined && luxAtTarget(light) < LOST * daylight && (
            <p className="text-sm text-ochre">{MESSAGES.hardlyVisibleDaylightGives(Math.round(daylight))}</p>
          )}
          <div className="flex gap-2">
            <Button className="!h-6 !px-2 text-xs" title={HELP.movesTheLightTo} onClick={() => change({ at: seen.eye, target: seen.target })}>
              {LABELS.moveToEye}
            </Button>
            <Button
              className="!h-6 !px-2 text-xs"
              onClick={() => {
                setChosen(null);
                onChange(lights.filter((l) => l.id !== light.id));
              }}
            >
              <Trash2 size={12} aria-hidden /> {LABELS.delete}
            </Button>
          </div>
        </div>
      )}
    </section>
  );
}
