/** Added lights: a list, and the fields of the one that is chosen. */
import { fieldProblem } from '../../../core/base/issues.js';
import type { ReactNode } from 'react';
import { Plus, Trash2 } from 'lucide-react';
import type { Vec3 } from '../../../core/math/bounds.js';
import { freeId, freeName } from '../../../core/edit/editSet.js';
import { directionalOf, type UserLight, userLightSchema } from '../../../core/stage/userLight.js';
import { Button } from '../../ui/controls.js';
import { OneLight } from './OneLight.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** The lights that were added, and how they are changed. */
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

/** The lights that were added to the stage. */
export function LightFields({ lights, chosen, daylight, seen, onChoose, onChange }: LightFieldsProps): ReactNode {
  const setChosen = onChoose;
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
          <OneLight light={light} daylight={daylight} change={change} />
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
