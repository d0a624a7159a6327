/** Further sizes in which every shot is made, each with the rule by which it is framed. */
import type { ReactNode } from 'react';
import { Trash2 } from 'lucide-react';
import { freeId } from '../../../core/edit/editSet.js';
import type { ExtraSize, FormatSheet } from '../../../core/plan/formatSheet.js';
import { type Framing, FRAMINGS } from '../../../core/camera/framing.js';
import { NAMED_SIZES, readSizes } from '../../../core/plan/sizes.js';
import { Select, TextField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './sheetWords.js';

/** What stays the same from size to size. */
export const FRAMING_WORDS: Record<Framing, string> = {
  keepWidth: LABELS.sameWidth,
  keepHeight: LABELS.sameHeight,
  fitSubject: LABELS.sameSubjectSize,
};

/** Further sizes that every shot is rendered in. */
export function ExtraSizes({ sheet, put }: { sheet: FormatSheet; put: (values: Partial<FormatSheet>) => string | null }): ReactNode {
  const sizes = sheet.sizes ?? [];
  const set = (next: ExtraSize[]): string | null => put({ sizes: next.length > 0 ? next : undefined });
  return (
    <section className="border-t border-rule pt-2" aria-label={LABELS.extraSizes}>
      <p className="font-head text-xs font-medium text-graphite">{MESSAGES.renderEveryShotIn}</p>
      {sizes.map((s) => (
        <div key={s.id} className="grid grid-cols-[96px_minmax(0,1fr)_auto] items-end gap-2">
          <span className="num whitespace-nowrap pb-1 text-sm">
            {s.width} × {s.height}
          </span>
          <Select
            label={LABELS.framingOfX(s.width, s.height)}
            help={HELP.theEyeStaysKeeps}
            value={s.framing}
            options={FRAMINGS.map((f) => ({ value: f, label: FRAMING_WORDS[f] }))}
            onValue={(framing) => set(sizes.map((x) => (x.id === s.id ? { ...x, framing: framing as Framing } : x)))}
          />
          <button
            type="button"
            className="mb-1"
            aria-label={LABELS.deleteX(s.width, s.height)}
            onClick={() => set(sizes.filter((x) => x.id !== s.id))}
          >
            <Trash2 size={14} aria-hidden />
          </button>
        </div>
      ))}
      <TextField
        key={sizes.length}
        label={LABELS.addSize}
        help={HELP.addSize(NAMED_SIZES.map((s) => s.name).join(', '))}
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
