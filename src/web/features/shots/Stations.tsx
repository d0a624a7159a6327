/** A list of stations: what each has, added and taken out. */
import type { ReactNode } from 'react';
import { Plus, X } from 'lucide-react';
import { LABELS } from './words.js';

/** A list of places that are added and removed. */
export function Stations({
  count,
  least,
  onAdd,
  onRemove,
  children,
}: {
  count: number;
  least: number;
  onAdd: () => void;
  onRemove: (index: number) => void;
  children: (index: number) => ReactNode;
}): ReactNode {
  return (
    <fieldset>
      <legend className="font-head text-xs font-medium text-graphite">{LABELS.stations}</legend>
      <ol>
        {Array.from({ length: count }, (_, i) => (
          <li key={i} className="flex gap-2 border-t border-rule py-1.5">
            <span className="num w-5 shrink-0 pt-4 text-graphite">{i + 1}</span>
            <div className="min-w-0 flex-1">{children(i)}</div>
            {count > least && (
              <button type="button" aria-label={LABELS.deleteStation(i + 1)} className="self-start pt-4 text-graphite" onClick={() => onRemove(i)}>
                <X size={13} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ol>
      <button type="button" className="inline-flex items-center gap-1 border-t border-rule pt-1 text-sm text-graphite" onClick={onAdd}>
        <Plus size={14} aria-hidden /> {LABELS.addStation}
      </button>
    </fieldset>
  );
}
