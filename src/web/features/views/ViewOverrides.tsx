/** What a view overrides of the set: variant, section, time. */
import { fieldProblem } from '../../../core/base/issues.js';
import type { ReactNode } from 'react';
import { X } from 'lucide-react';
import { clockSchema, dateSchema } from '../../../core/units/localTime.js';
import type { View } from '../../../core/camera/view.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button, Select, TextField } from '../../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** No id is written like this. */
const NONE = '-';
const UNCUT = '--';

type ViewSettings = NonNullable<View['overrides']>;

/** A view, and its overrides. */
export interface ViewOverridesProps {
  view: View;
  onChange: (values: Partial<View>) => string | null;
  /** Clicks in the viewport say which parts stay out. */
  picking: boolean;
  onPick: () => void;
}

/** Parts that a view leaves out, and its own variant. */
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
    <section className="flex flex-col gap-2 border-t border-rule pt-3" aria-label={LABELS.overrides}>
      <h2 className="font-semibold">{LABELS.overrides}</h2>
      {variants.length > 0 && (
        <Select
          label={LABELS.variant}
          help={HELP.variant}
          value={shows.variant ?? NONE}
          options={[{ value: NONE, label: LABELS.asTheSet }, ...variants.map((v) => ({ value: v.id, label: v.name }))]}
          onValue={(v) => change({ variant: v === NONE ? undefined : v })}
        />
      )}
      {(section ?? sections[0]) && (
        <Select
          label={LABELS.section}
          help={HELP.section}
          value={shows.section === false ? UNCUT : (shows.section ?? NONE)}
          options={[
            { value: NONE, label: LABELS.asTheSet },
            { value: UNCUT, label: LABELS.noSection },
            ...sections.map((s) => ({ value: s.id, label: s.name })),
          ]}
          onValue={(v) => change({ section: v === NONE ? undefined : v === UNCUT ? false : v })}
        />
      )}
      {stages.length > 0 && (
        <Select
          label={LABELS.stage}
          help={HELP.stage}
          value={shows.stage ?? NONE}
          options={[{ value: NONE, label: LABELS.asTheSet }, ...stages.map((s) => ({ value: s.id, label: s.name }))]}
          onValue={(v) => change({ stage: v === NONE ? undefined : v })}
        />
      )}
      {(shows.hiddenParts ?? []).map((path) => (
        <div key={path} className="flex items-center gap-2 text-sm">
          <span className="min-w-0 flex-1 truncate" title={path}>
            {LABELS.hidden(path.slice(path.lastIndexOf('/') + 1))}
          </span>
          <button
            type="button"
            aria-label={LABELS.show(path)}
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
        {picking ? LABELS.done : LABELS.hideParts}
      </Button>
      {stage.daylight && (
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label={LABELS.date}
            help={HELP.date}
            mono
            value={shows.date ?? ''}
            onValue={(text) => read(dateSchema, text, (date) => ({ date }))}
          />
          <TextField
            label={LABELS.time}
            help={HELP.time}
            mono
            value={shows.time ?? ''}
            onValue={(text) => read(clockSchema as typeof dateSchema, text, (time) => ({ time }))}
          />
        </div>
      )}
    </section>
  );
}
