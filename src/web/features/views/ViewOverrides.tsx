/** What a view shows otherwise than the set: variant, section, time. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode } from 'react';
import { X } from 'lucide-react';
import { clockSchema, dateSchema } from '../../../core/units/localTime.js';
import { type View } from '../../../core/camera/view.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button, Select, TextField } from '../../ui/controls.js';

/** No id is written like this. */
const NONE = '-';
const UNCUT = '--';

type ViewSettings = NonNullable<View['overrides']>;

export interface ViewOverridesProps {
  view: View;
  onChange: (values: Partial<View>) => string | null;
  /** Clicks in the viewport say which parts stay out. */
  picking: boolean;
  onPick: () => void;
}

export function ViewOverrides({ view, onChange, picking, onPick }: ViewOverridesProps): ReactNode {
  const { plan } = useWorkspace();
  const { materials: assignments, section, stage, stages = [], sections = [] } = plan!.file;
  const variants = assignments?.variants ?? [];
  const shows = view.overrides ?? {};
  const change = (values: Partial<ViewSettings>): string | null => {
    const next: ViewSettings = { ...shows, ...values };
    return onChange({ overrides: Object.values(next).every((v) => v === undefined) ? undefined : next });
  };
  const read = (schema: typeof dateSchema, text: string, put: (value: string | undefined) => Partial<ViewSettings>): string | null => {
    if (text.trim() === '') return change(put(undefined));
    const result = schema.safeParse(text.trim());
    return result.success ? change(put(result.data)) : fieldProblem(result.error);
  };
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label="Otherwise than the set">
      <h2 className="font-semibold">Otherwise than the set</h2>
      {variants.length > 0 && (
        <Select
          label="Variant"
          help="Worn in this view's pictures, whatever the set wears."
          value={shows.variant ?? NONE}
          options={[{ value: NONE, label: 'as the set' }, ...variants.map((v) => ({ value: v.id, label: v.name }))]}
          onValue={(v) => change({ variant: v === NONE ? undefined : v })}
        />
      )}
      {(section ?? sections[0]) && (
        <Select
          label="Section"
          help="What is cut away in this view's pictures."
          value={shows.section === false ? UNCUT : (shows.section ?? NONE)}
          options={[
            { value: NONE, label: 'as the set' },
            { value: UNCUT, label: 'nothing cut away' },
            ...sections.map((s) => ({ value: s.id, label: s.name })),
          ]}
          onValue={(v) => change({ section: v === NONE ? undefined : v === UNCUT ? false : v })}
        />
      )}
      {stages.length > 0 && (
        <Select
          label="Stage"
          help="In this view's pictures, unless the shot names another."
          value={shows.stage ?? NONE}
          options={[{ value: NONE, label: 'as the set' }, ...stages.map((s) => ({ value: s.id, label: s.name }))]}
          onValue={(v) => change({ stage: v === NONE ? undefined : v })}
        />
      )}
      {(shows.hiddenParts ?? []).map((path) => (
        <div key={path} className="flex items-center gap-2 text-sm">
          <span className="min-w-0 flex-1 truncate" title={path}>
            without {path.slice(path.lastIndexOf('/') + 1)}
          </span>
          <button
            type="button"
            aria-label={`Show ${path} again`}
            onClick={() => {
              const without = shows.hiddenParts!.filter((p) => p !== path);
              change({ hiddenParts: without.length > 0 ? without : undefined });
            }}
          >
            <X size={12} aria-hidden />
          </button>
        </div>
      ))}
      <Button className="!h-6 self-start !px-2 text-xs" aria-pressed={picking} onClick={onPick}>
        {picking ? 'Done' : 'Leave parts out'}
      </Button>
      {stage.daylight && (
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Own date"
            help="As 2026-12-21; the stage's date while nothing stands here."
            mono
            value={shows.date ?? ''}
            onValue={(text) => read(dateSchema, text, (date) => ({ date }))}
          />
          <TextField
            label="Own time"
            help="As 09:30; the stage's time while nothing stands here."
            mono
            value={shows.time ?? ''}
            onValue={(text) => read(clockSchema as typeof dateSchema, text, (time) => ({ time }))}
          />
        </div>
      )}
    </section>
  );
}
