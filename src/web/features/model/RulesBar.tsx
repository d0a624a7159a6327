/** Materials by part name, in this revision and the next. */
import { type ReactNode, useMemo, useState } from 'react';
import { X } from 'lucide-react';
import { type MaterialAssignments, compileWildcard } from '../../../core/materials/assignments.js';
import { LIBRARY } from '../../../core/materials/library.js';
import { Button, TextField } from '../../ui/controls.js';
import { HELP, LABELS } from './materialWords.js';

interface RulesBarProps {
  materials: MaterialAssignments;
  /** Names of the parts, to say how many a pattern fits. */
  names: string[];
  /** Materials that the model brought. */
  model: string[];
  onChange: (rules: MaterialAssignments['rules']) => string | null;
}

/** Rules that give materials to parts by their names. */
export function RulesBar({ materials: assignments, names, model, onChange }: RulesBarProps): ReactNode {
  const [match, setMatch] = useState('*glass*');
  const [material, setFinish] = useState('clear glass, pane');
  const { rules, materials } = assignments;
  const known = [...new Set([...materials.map((f) => f.name), ...LIBRARY.map((l) => l.material.name), ...model])];
  // There may be tens of thousands of names.
  const counts = useMemo(
    () => [...rules.map((r) => r.match), match].map((pattern) => names.filter(compileWildcard(pattern)).length),
    [rules, match, names],
  );
  return (
    <div className="pt-1">
      <ul className="py-1">
        {rules.map((rule, i) => (
          <li key={i} className="flex items-center gap-2 text-xs">
            <span className="truncate">
              <span className="num">{rule.match}</span> → {rule.material}
            </span>
            <span className="num text-graphite">{counts[i]}</span>
            <button type="button" aria-label={LABELS.deleteRule(rule.match)} onClick={() => onChange(rules.filter((_, k) => k !== i))}>
              <X size={12} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <div className="grid grid-cols-[96px_minmax(0,1fr)_auto] items-end gap-2">
        <TextField
          label={LABELS.partNames(counts.at(-1) ?? 0)}
          help={HELP.matchesAnyTextNot}
          value={match}
          mono
          onValue={(v) => {
            setMatch(v);
            return null;
          }}
        />
        <label className="block min-w-0">
          <span className="block font-head text-xs font-medium text-graphite">{LABELS.have}</span>
          <select
            aria-label={LABELS.materialOfTheRule}
            title={HELP.ruleMaterial}
            className="h-7 w-full border-b border-graphite bg-transparent"
            value={material}
            onChange={(e) => setFinish(e.target.value)}
          >
            {known.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
        <Button disabled={match.trim() === ''} onClick={() => onChange([...rules, { match: match.trim(), material }])}>
          {LABELS.add}
        </Button>
      </div>
    </div>
  );
}
