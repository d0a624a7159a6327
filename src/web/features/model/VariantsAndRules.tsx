import { type ReactNode, useMemo, useState } from 'react';
import type { PartReply } from '../../../contract/contract.js';
import type { MaterialAssignments } from '../../../core/materials/assignments.js';
import { NO_ASSIGNMENTS } from '../../../core/materials/editAssignments.js';
import { lazily } from '../../ui/lazily.js';
import type { MaterialEditor } from './useMaterials.js';
import { LABELS } from './words.js';

const RulesBar = lazily(() => import('./RulesBar.js').then((m) => m.RulesBar));
const VariantBar = lazily(() => import('./VariantBar.js').then((m) => m.VariantBar));

/** Variants and rules of the set's materials, folded until they are asked for. */
export function VariantsAndRules(props: {
  assignments: MaterialAssignments | undefined;
  parts: PartReply[] | undefined;
  /** Names of the materials that the model brings. */
  model: string[];
  onChange: MaterialEditor['change'];
}): ReactNode {
  const { assignments, parts, model, onChange } = props;
  const { variants, swaps, rules } = assignments ?? NO_ASSIGNMENTS;
  const [open, setOpen] = useState(false);
  const names = useMemo(() => parts?.map((p) => p.name) ?? [], [parts]);
  return (
    <details className="border-b border-rule px-4 py-2 text-sm" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-default font-head text-xs font-medium text-graphite">
        {LABELS.variantsAndRules}
        <span className="num"> {variants.length + swaps.length + rules.length || ''}</span>
      </summary>
      {open && <VariantBar materials={assignments} onChange={(next) => onChange(() => next)} />}
      {open && parts && (
        <RulesBar
          materials={assignments ?? NO_ASSIGNMENTS}
          names={names}
          model={model}
          onChange={(next) => onChange((d) => ({ ...d, rules: next }))}
        />
      )}
    </details>
  );
}
