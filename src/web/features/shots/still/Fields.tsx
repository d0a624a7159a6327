import type { ReactNode } from 'react';
import { X } from 'lucide-react';
import { Choices } from '../Choices.js';
import { clockSchema, dateSchema } from '../../../../core/units/localTime.js';
import { kindOf, type Shot } from '../../../../core/shots/kinds.js';
import { stageOf } from '../../../../core/plan/set.js';
import { parseRate } from '../../../../core/units/rate.js';
import { useWorkspace } from '../../../app/workspace.js';
import { TextField } from '../../../ui/controls.js';
import type { FieldsProps } from '../fieldsProps.js';
import { pluralize } from '../../../../core/base/pluralize.js';
import { HELP, LABELS, MESSAGES } from './words.js';

type StillShot = Extract<Shot, { kind: 'still' }>;

function Times({ shot, put }: FieldsProps<StillShot>): ReactNode {
  const times = shot.times ?? [];
  const set = (next: typeof times): string | null => put({ ...shot, times: next.length > 0 ? next : undefined });
  return (
    <fieldset>
      <legend className="font-head text-xs font-medium text-graphite">{LABELS.times}</legend>
      <ul>
        {times.map((t, i) => (
          <li key={`${t.date} ${t.time}`} className="num flex items-center gap-2 text-sm">
            {t.date} {t.time}
            <button
              type="button"
              aria-label={LABELS.delete(t.date, t.time)}
              className="text-graphite"
              onClick={() => set(times.filter((_, k) => k !== i))}
            >
              <X size={12} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <TextField
        key={times.length}
        label={LABELS.addTime}
        help={HELP.addTime}
        mono
        value=""
        onValue={(text) => {
          if (text.trim() === '') return null;
          const [day = '', clock = ''] = text.trim().split(/\s+/);
          const [date, time] = [dateSchema.safeParse(day), clockSchema.safeParse(clock)];
          if (!date.success || !time.success) return MESSAGES.writeItAs2026;
          return set([...times, { date: date.data, time: time.data }]);
        }}
      />
    </fieldset>
  );
}

/** Fields of a still. */
export function Still({ shot, put }: FieldsProps<StillShot>): ReactNode {
  const { plan } = useWorkspace();
  const { file } = plan!;
  const count = kindOf(shot).count(shot, { rate: parseRate(file.sheet.rate), views: file.views });
  const sizes = 1 + (shot.sizes ?? file.sheet.sizes ?? []).length;
  return (
    <>
      <Choices
        legend={LABELS.views}
        help={HELP.chosenView}
        options={file.views}
        chosen={shot.views}
        onChoose={(views) => {
          if (views.length > 0) put({ ...shot, views });
        }}
      />
      {stageOf(file, shot.stage).site && <Times shot={shot} put={put} />}
      <p className="num text-sm text-graphite">
        {MESSAGES.renders(
          pluralize(shot.views.length, 'view'),
          (shot.variants && LABELS.byVariants(shot.variants.length)) || '',
          (shot.times && LABELS.byTimes(shot.times.length)) || '',
          (sizes > 1 && LABELS.bySizes(sizes)) || '',
          count * sizes,
        )}
      </p>
    </>
  );
}
