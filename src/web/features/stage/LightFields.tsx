/** Lamps of one's own: a list, and the fields of the one that is chosen. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useState } from 'react';
import { Plus, Trash2 } from 'lucide-react';
import { type Vec3 } from '../../../core/math/bounds.js';
import { freeId, freeName } from '../../../core/edit/editSet.js';
import {
  USER_LIGHT_KINDS,
  type UserLightKind,
  LUMENS_PER_WATT,
  luxAtTarget,
  type UserLight,
  userLightSchema,
} from '../../../core/stage/userLight.js';
import { Button, NumberField, Select, TextField } from '../../ui/controls.js';

const KIND_WORDS: Record<UserLightKind, string> = { point: 'point, all round', spot: 'spot', rectangle: 'rectangle', disc: 'disc' };
const AXES = ['x', 'y', 'z'] as const;

/** A lamp that gives so small a share of the daylight changes nothing that is seen. */
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
      'Lamp',
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
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label="Lamps">
      <div className="flex items-center justify-between">
        <h2 className="font-semibold">Lamps</h2>
        <button type="button" className="inline-flex items-center gap-1 text-sm" onClick={add}>
          <Plus size={14} aria-hidden /> Add a lamp
        </button>
      </div>
      {lights.length > 0 && (
        <ul>
          {lights.map((l) => (
            <li key={l.id} className={`flex items-center gap-2 ${l.id === chosen ? 'bg-paper' : ''}`}>
              <input
                type="checkbox"
                className="size-4 accent-madder"
                aria-label={`${l.name} is on`}
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
                {Math.round(l.lumens)} lm · {Math.round(l.kelvin)} K
              </span>
            </li>
          ))}
        </ul>
      )}
      {light && (
        <div className="flex flex-col gap-2">
          <TextField label="Lamp's name" help="How the lamp is called here." value={light.name} onValue={(name) => change({ name })} />
          <Select
            label="Lamp's kind"
            help="A point and a spot throw sharp shadows; a rectangle and a disc the softer ones the larger they are."
            value={light.kind}
            options={USER_LIGHT_KINDS.map((k) => ({ value: k, label: KIND_WORDS[k] }))}
            onValue={(kind) => change({ kind: kind as UserLightKind })}
          />
          {point('at', 'At', 'Where the lamp is, in metres.')}
          {light.kind !== 'point' && point('target', 'Aim', 'What it shines at, in metres.')}
          <div className="grid grid-cols-2 gap-x-3 gap-y-2">
            <NumberField
              label="Light"
              help="Lumens: a candle has 12, a lamp in a room 800, a studio light 5000 and more."
              value={watts ? light.lumens / LUMENS_PER_WATT : light.lumens}
              unit={watts ? 'W' : 'lm'}
              step={watts ? 1 : 100}
              decimals={watts ? 2 : 0}
              onValue={(v) => change({ lumens: watts ? v * LUMENS_PER_WATT : v })}
            />
            <Select
              label="Light in"
              help={`Lumens, or watts of visible light: ${LUMENS_PER_WATT} lm each. What a lamp draws from the mains is more.`}
              value={watts ? 'W' : 'lm'}
              options={[
                { value: 'lm', label: 'lumens' },
                { value: 'W', label: 'watts of light' },
              ]}
              onValue={(unit) => setWatts(unit === 'W')}
            />
            <NumberField
              label="Colour"
              help="Kelvin: 2700 is warm, 4000 neutral, 6500 as a cloudy day."
              value={light.kelvin}
              unit="K"
              step={100}
              decimals={0}
              onValue={(kelvin) => change({ kelvin })}
            />
            {light.kind === 'spot' && (
              <NumberField
                label="Cone"
                help="Degrees across."
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
                label={light.kind === 'disc' ? 'Across' : 'Broad'}
                help="Metres. The larger, the softer its shadows."
                value={light.width}
                quantity="length"
                unit="m"
                step={0.05}
                onValue={(width) => change({ width })}
              />
            )}
            {light.kind === 'rectangle' && (
              <NumberField
                label="High"
                help="Metres."
                value={light.height}
                quantity="length"
                unit="m"
                step={0.05}
                onValue={(height) => change({ height })}
              />
            )}
          </div>
          <p className="num text-sm text-graphite">{luxAtTarget(light).toPrecision(3)} lx at its aim</p>
          {daylight !== undefined && luxAtTarget(light) < LOST * daylight && (
            <p className="text-sm text-ochre">
              Hardly an effect: daylight gives {Math.round(daylight)} lx here. Give it more light, bring it nearer, or choose a later hour.
            </p>
          )}
          <div className="flex gap-2">
            <Button
              className="!h-6 !px-2 text-xs"
              title="Puts the lamp where the view looks from"
              onClick={() => change({ at: seen.eye, target: seen.target })}
            >
              Put it at the eye
            </Button>
            <Button
              className="!h-6 !px-2 text-xs"
              onClick={() => {
                setChosen(null);
                onChange(lights.filter((l) => l.id !== light.id));
              }}
            >
              <Trash2 size={12} aria-hidden /> Take it out
            </Button>
          </div>
        </div>
      )}
    </section>
  );
}
