/** Further sizes in which every shot is made, each with the rule by which it is framed. */
import { type ReactNode } from 'react';
import { Trash2 } from 'lucide-react';
import { freeId } from '../../../core/edit/editSet.js';
import { type ExtraSize, type FormatSheet } from '../../../core/plan/formatSheet.js';
import { type Framing, FRAMINGS } from '../../../core/camera/framing.js';
import { NAMED_SIZES, readSizes } from '../../../core/plan/sizes.js';
import { Select, TextField } from '../../ui/controls.js';

export const FRAMING_WORDS: Record<Framing, string> = {
  keepWidth: 'same width',
  keepHeight: 'same height',
  fitSubject: 'subject alike',
};

export function ExtraSizes({ sheet, put }: { sheet: FormatSheet; put: (values: Partial<FormatSheet>) => string | null }): ReactNode {
  const sizes = sheet.sizes ?? [];
  const set = (next: ExtraSize[]): string | null => put({ sizes: next.length > 0 ? next : undefined });
  return (
    <section className="border-t border-rule pt-2" aria-label="Further sizes">
      <p className="font-head text-xs font-medium text-graphite">Every shot in these sizes too</p>
      {sizes.map((s) => (
        <div key={s.id} className="grid grid-cols-[96px_minmax(0,1fr)_auto] items-end gap-2">
          <span className="num whitespace-nowrap pb-1 text-sm">
            {s.width} × {s.height}
          </span>
          <Select
            label={`Framing of ${s.width}x${s.height}`}
            help="The eye stays. What lies across or upright is kept as in the sheet's own size, or the subject fills the frame as it fills that one."
            value={s.framing}
            options={FRAMINGS.map((f) => ({ value: f, label: FRAMING_WORDS[f] }))}
            onValue={(framing) => set(sizes.map((x) => (x.id === s.id ? { ...x, framing: framing as Framing } : x)))}
          />
          <button
            type="button"
            className="mb-1"
            aria-label={`Take out ${s.width}x${s.height}`}
            onClick={() => set(sizes.filter((x) => x.id !== s.id))}
          >
            <Trash2 size={14} aria-hidden />
          </button>
        </div>
      ))}
      <TextField
        key={sizes.length}
        label="Another size"
        help={`As 1080x1080, or by name: ${NAMED_SIZES.map((s) => s.name).join(', ')}.`}
        mono
        value=""
        onValue={(text) => {
          if (text.trim() === '') return null;
          const named = NAMED_SIZES.find((s) => s.name.toLowerCase() === text.trim().toLowerCase());
          const read = named ? [named] : readSizes(text);
          if (typeof read === 'string') return read;
          const added = read.map(({ width, height }): ExtraSize => ({ id: '', width, height, framing: 'fitSubject' }));
          const taken = sizes.map((s) => s.id);
          for (const size of added) taken.push((size.id = freeId(named?.name ?? `${size.width}x${size.height}`, taken)));
          return set([...sizes, ...added]);
        }}
      />
    </section>
  );
}
