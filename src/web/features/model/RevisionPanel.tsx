/** What became of the parts of the revision before: kept, moved, changed, renamed, new, gone; and what the plan names and is not there. */
import { type ReactNode, useMemo, useState } from 'react';
import type { PartReply } from '../../../contract/contract.js';
import { type ChangeKind, CHANGE_KINDS } from '../../../core/model/match.js';
import { missingPartPaths, movePartPath } from '../../../core/edit/remapParts.js';
import { toastProblem } from '../../state/toastProblem.js';
import { useMatch } from '../../state/queries.js';
import { Checkbox } from '../../ui/controls.js';
import { useWorkspace } from '../../app/workspace.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** What asks for attention first. */
const ORDER: ChangeKind[] = ['gone', 'renamed', 'changed', 'moved', 'new', 'kept'];

/** What the plan names and the revision has not: each is remapped to another part, or dropped. */
export function RemapLost({ parts }: { parts: PartReply[] }): ReactNode {
  const { plan } = useWorkspace();
  const { file, edit } = plan!;
  const paths = useMemo(() => new Set(parts.map((p) => p.path)), [parts]);
  const lost = useMemo(() => missingPartPaths(file, paths), [file, paths]);
  const handOn = (from: string, to: string): void => toastProblem(edit((f) => movePartPath(f, from, to || null)));
  if (lost.length === 0) return null;
  return (
    <div className="flex max-h-28 shrink-0 flex-col gap-1 overflow-auto border-b border-rule px-4 py-2 text-ochre" role="status">
      <p>{MESSAGES.thePlanUsesParts}</p>
      {lost.map((path) => (
        <label key={path} className="flex items-center gap-2">
          <span className="min-w-0 flex-1 truncate" title={path}>
            {path}
          </span>
          <select
            aria-label={LABELS.remap(path)}
            className="max-w-40 border-b border-graphite bg-transparent text-ink"
            value="?"
            onChange={(e) => handOn(path, e.target.value)}
          >
            <option value="?">{LABELS.remapTo}</option>
            <option value="">{LABELS.drop}</option>
            {parts.map((p) => (
              <option key={p.path} value={p.path}>
                {p.path}
              </option>
            ))}
          </select>
        </label>
      ))}
    </div>
  );
}

interface RevisionPanelProps {
  parts: PartReply[];
  onSelect: (path: string) => void;
  /** Whether the earlier revision is laid over this one in the viewport. */
  over: boolean;
  onOver: (over: boolean) => void;
}

/** What this revision has that the last had not, and the other way round. */
export function RevisionPanel({ parts, onSelect, over, onOver }: RevisionPanelProps): ReactNode {
  const { revision } = useWorkspace();
  const { data, error } = useMatch(revision?.id);
  const [fate, setFate] = useState<ChangeKind | null>(null);
  if (error) return <p className="p-4 text-sm text-ochre">{error.message}</p>;
  if (!data) return <p className="p-4 text-sm text-graphite">{MESSAGES.comparing}</p>;
  const count = (f: ChangeKind): number => data.matches.filter((m) => m.change === f).length;
  const rows = data.matches
    .filter((m) => (fate === null ? m.change !== 'kept' : m.change === fate))
    .sort((a, b) => ORDER.indexOf(a.change) - ORDER.indexOf(b.change));
  return (
    <div className="flex min-h-0 flex-1 flex-col text-sm">
      <div className="border-b border-rule px-4 py-1.5">
        <Checkbox label={LABELS.overlayRevision(data.with)} help={HELP.shownInTheViewport} checked={over} onChecked={onOver} />
      </div>
      <div className="flex flex-wrap gap-x-3 gap-y-1 border-b border-rule px-4 py-2" role="group" aria-label={LABELS.compared}>
        <span className="text-graphite">{LABELS.comparedWith(data.with)}</span>
        {CHANGE_KINDS.map((f) => (
          <button
            key={f}
            type="button"
            aria-pressed={fate === f}
            className={`${fate === f ? 'font-semibold underline' : ''} ${count(f) === 0 ? 'text-graphite' : ''}`}
            onClick={() => setFate(fate === f ? null : f)}
          >
            {f} <span className="num">{count(f)}</span>
          </button>
        ))}
      </div>
      <RemapLost parts={parts} />
      <ul className="min-h-0 flex-1 overflow-auto py-1" aria-label={LABELS.matches}>
        {rows.length === 0 && <li className="px-4 py-2 text-graphite">{MESSAGES.noPartHasChanged}</li>}
        {rows.map((m) => (
          <li key={`${m.from}→${m.to}`} className="flex gap-3 px-4 py-[3px]" style={{ contentVisibility: 'auto', containIntrinsicSize: '24px' }}>
            <span className={`w-16 shrink-0 ${m.change === 'gone' ? 'text-ochre' : 'text-graphite'}`}>{m.change}</span>
            {m.to === null ? (
              <span className="truncate">{m.from}</span>
            ) : (
              <button type="button" className="min-w-0 truncate text-left hover:underline" onClick={() => onSelect(m.to!)}>
                {m.to}
                {m.change === 'renamed' && <span className="text-graphite"> {LABELS.was(m.from ?? '')}</span>}
              </button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
