/** What a view shows otherwise than the set: variant, section, time. */
import { type ReactNode } from 'react';
import { clockSchema, dateSchema } from '../../../core/stage/civil.js';
import { type View } from '../../../core/view/camera.js';
import { useDesk } from '../../shell/desk.js';
import { Select, TextField, Tick } from '../../ui/controls.js';

/** No id is written like this. */
const NONE = '-';

type Shows = NonNullable<View['shows']>;

export function ViewShows({ view, onChange }: { view: View; onChange: (values: Partial<View>) => string | null }): ReactNode {
  const { plan } = useDesk();
  const { dressing, section, stage } = plan!.file;
  const variants = dressing?.variants ?? [];
  const shows = view.shows ?? {};
  const change = (values: Partial<Shows>): string | null => {
    const next: Shows = { ...shows, ...values };
    return onChange({ shows: Object.values(next).every((v) => v === undefined) ? undefined : next });
  };
  const read = (schema: typeof dateSchema, text: string, put: (value: string | undefined) => Partial<Shows>): string | null => {
    if (text.trim() === '') return change(put(undefined));
    const result = schema.safeParse(text.trim());
    return result.success ? change(put(result.data)) : result.error.issues[0]!.message;
  };
  if (variants.length === 0 && !section && !stage.daylight && !view.shows) return null;
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
      {section && (
        <Tick
          label="Nothing cut away"
          help="The set's section does not go for this view."
          checked={shows.section === false}
          onChecked={(on) => change({ section: on ? false : undefined })}
        />
      )}
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
