/** Which variant is active, and new ones. */
import { type ReactNode, useState } from 'react';
import { X } from 'lucide-react';
import { freeId } from '../../../core/edit/editSet.js';
import type { MaterialAssignments } from '../../../core/materials/assignments.js';
import { NO_ASSIGNMENTS } from '../../../core/materials/editAssignments.js';
import { Select } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './materialWords.js';

const NONE = '-';
const NEW = '+';

interface VariantBarProps {
  materials: MaterialAssignments | undefined;
  onChange: (assignments: MaterialAssignments) => void;
}

/** Variants of materials, to be chosen and named. */
export function VariantBar({ materials: assignments = NO_ASSIGNMENTS, onChange }: VariantBarProps): ReactNode {
  const [naming, setNaming] = useState<string | null>(null);
  const { variants, variant } = assignments;
  const active = variants.find((v) => v.id === variant);
  const make = (): void => {
    const name = naming?.trim();
    setNaming(null);
    if (!name) return;
    const id = freeId(
      name,
      variants.map((v) => v.id),
    );
    onChange({ ...assignments, variants: [...variants, { id, name, swaps: [] }], variant: id });
  };
  return (
    <div className="flex flex-col gap-1 py-1 text-sm">
      {naming === null ? (
        <Select
          label={LABELS.variant}
          help={HELP.variant}
          value={variant ?? NONE}
          options={[
            { value: NONE, label: LABELS.asPlanned },
            ...variants.map((v) => ({ value: v.id, label: v.name })),
            { value: NEW, label: LABELS.newVariant },
          ]}
          onValue={(v) => {
            if (v === NEW) setNaming('');
            else onChange({ ...assignments, variant: v === NONE ? undefined : v });
          }}
        />
      ) : (
        <input
          aria-label={LABELS.variantName}
          // The field appears because its name was asked for.
          autoFocus
          className="border-b border-graphite bg-transparent py-1"
          placeholder={LABELS.nameThenEnter}
          value={naming}
          onChange={(e) => setNaming(e.target.value)}
          onBlur={make}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') make();
            if (e.key === 'Escape') setNaming(null);
          }}
        />
      )}
      {active && active.swaps.length === 0 && <p className="text-xs text-graphite">{MESSAGES.nothingIsSwappedYet}</p>}
      {(active?.swaps ?? assignments.swaps).map(({ from, to }) => (
        <p key={from} className="flex items-center gap-2 text-xs">
          <span className="truncate">
            {from} → {to}
          </span>
          <button
            type="button"
            aria-label={LABELS.deleteSwapOf(from)}
            onClick={() => {
              const less = (swaps: MaterialAssignments['swaps']) => swaps.filter((s) => s.from !== from);
              onChange(
                active
                  ? { ...assignments, variants: variants.map((v) => (v === active ? { ...v, swaps: less(v.swaps) } : v)) }
                  : { ...assignments, swaps: less(assignments.swaps) },
              );
            }}
          >
            <X size={12} aria-hidden />
          </button>
        </p>
      ))}
    </div>
  );
}
