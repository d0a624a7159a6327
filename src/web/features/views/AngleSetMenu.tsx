/** Makes the views of an angle set in one move, all to one scale. */
import { type ReactNode, useState } from 'react';
import { Trash2 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { freeId } from '../../../core/edit/editSet.js';
import { ANGLES, type AngleSetOptions } from '../../../core/camera/angleSet.js';
import { Button, NumberField, PLAIN_BUTTON, Select, TextField, Checkbox } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { HELP, LABELS, MESSAGES } from './toolWords.js';

const FIRST: AngleSetOptions = { kind: 'parallel', angles: ['front', 'right', 'back', 'left', 'top', 'front-right'], focalLength: 70, margin: 0.08 };

/** Makes views from several sides at one scale. */
export function AngleSetMenu({ onMake }: { onMake: (options: AngleSetOptions, group: string) => void }): ReactNode {
  const [open, setOpen] = useState(false);
  const [options, setOptions] = useState(FIRST);
  const [group, setGroup] = useState('Angles');
  const [own, put] = useState({ azimuth: 30, altitude: 15 });
  const setOwn = (next: typeof own): null => {
    put(next);
    return null;
  };
  const addOwn = (): void => {
    const name = LABELS.azimuthAltitude(own.azimuth, own.altitude);
    const id = freeId(`r${own.azimuth}-u${own.altitude}`, [...options.angles, ...(options.own ?? []).map((a) => a.id)]);
    change({ own: [...(options.own ?? []), { id, name, ...own }], angles: [...options.angles, id] });
  };
  const change = (values: Partial<AngleSetOptions>): null => {
    setOptions({ ...options, ...values });
    return null;
  };
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={PLAIN_BUTTON}>{LABELS.angleSet}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} className="z-40 flex w-72 flex-col gap-2 border border-graphite bg-chalk p-3">
          <fieldset>
            <legend className="font-head text-xs font-medium text-graphite">{LABELS.directions}</legend>
            <div className="grid grid-cols-2">
              {ANGLES.map((a) => (
                <Checkbox
                  key={a.id}
                  label={a.name}
                  checked={options.angles.includes(a.id)}
                  onChecked={(on) =>
                    change({
                      angles: [...ANGLES, ...(options.own ?? [])].map((x) => x.id).filter((id) => (id === a.id ? on : options.angles.includes(id))),
                    })
                  }
                />
              ))}
            </div>
          </fieldset>
          <Select
            label={LABELS.projection}
            help={HELP.projection}
            value={options.kind}
            options={[
              { value: 'parallel', label: LABELS.parallel },
              { value: 'perspective', label: LABELS.perspective },
            ]}
            onValue={(kind) => change({ kind: kind as AngleSetOptions['kind'] })}
          />
          <div className="grid grid-cols-2 gap-3">
            <NumberField
              label={LABELS.margin}
              help={HELP.margin}
              value={options.margin * 100}
              unit="%"
              decimals={1}
              onValue={(v) => (v < 0 || v > 40 ? MESSAGES.from0To40 : change({ margin: v / 100 }))}
            />
            {options.kind === 'perspective' && (
              <NumberField
                label={LABELS.focalLength}
                help={HELP.focalLength}
                value={options.focalLength}
                quantity="focal"
                unit="mm"
                decimals={1}
                onValue={(v) => (v < 8 || v > 1200 ? MESSAGES.from8To1200 : change({ focalLength: v }))}
              />
            )}
          </div>
          <div className="flex flex-col gap-1">
            {(options.own ?? []).map((a) => (
              <div key={a.id} className="flex items-center gap-2 text-sm">
                <span className="flex-1 truncate">{a.name}</span>
                <span className="num text-graphite">{LABELS.direction(a.azimuth, a.altitude)}</span>
                <button
                  type="button"
                  aria-label={LABELS.delete(a.name)}
                  onClick={() => change({ own: options.own!.filter((x) => x.id !== a.id), angles: options.angles.filter((id) => id !== a.id) })}
                >
                  <Trash2 size={14} aria-hidden />
                </button>
              </div>
            ))}
            <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-2">
              <NumberField
                label={LABELS.customAzimuth}
                help={HELP.customAzimuth}
                value={own.azimuth}
                quantity="angle"
                unit="°"
                decimals={1}
                onValue={(azimuth) => (Math.abs(azimuth) > 360 ? MESSAGES.from360To360 : setOwn({ ...own, azimuth }))}
              />
              <NumberField
                label={LABELS.customAltitude}
                help={HELP.customAltitude}
                value={own.altitude}
                quantity="angle"
                unit="°"
                decimals={1}
                onValue={(altitude) => (Math.abs(altitude) > 90 ? MESSAGES.from90To90 : setOwn({ ...own, altitude }))}
              />
              <Button onClick={addOwn}>{LABELS.add}</Button>
            </div>
          </div>
          <p className="text-sm">
            {MESSAGES.savedAngleSets}{' '}
            <PresetMenu
              kind="angles"
              what="angle set"
              {...(options.angles.length > 0 && { body: options })}
              onUse={(body, name) => {
                setOptions(body);
                setGroup(name.slice(0, 40));
                return null;
              }}
            />
          </p>
          <TextField
            label={LABELS.group}
            help={HELP.group}
            value={group}
            onValue={(v) => {
              setGroup(v.trim().slice(0, 40) || LABELS.angles);
              return null;
            }}
          />
          <Button
            primary
            disabled={options.angles.length === 0}
            onClick={() => {
              onMake(options, group);
              setOpen(false);
            }}
          >
            {LABELS.addViews(options.angles.length)}
          </Button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
