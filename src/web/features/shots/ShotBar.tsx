/** What is done with the shots of a set: added, copied, put in order, switched off, taken out. */
import type { ReactNode } from 'react';
import { ArrowDown, ArrowUp, Copy, Plus, Power, Trash2 } from 'lucide-react';
import { type Shot, SHOT_KINDS, shotName } from '../../../core/shots/kinds.js';
import { type EditShots, shotActions } from './shotActions.js';
import { HELP, LABELS } from './words.js';

/** The list of shots, and what can be done with it. */
export interface ShotBarProps {
  shots: Shot[];
  selected: Shot | undefined;
  /** Only shots with this word are listed. */
  filter: string;
  onFilter: (word: string) => void;
  onAdd: (kind: Shot['kind']) => void;
  onEdit: EditShots;
}

const look = 'inline-flex items-center gap-1 whitespace-nowrap text-sm disabled:opacity-40';

/** Filters, adds and changes shots. */
export function ShotBar({ shots, selected, filter, onFilter, onAdd, onEdit }: ShotBarProps): ReactNode {
  const actions = selected && shotActions(shots, selected, onEdit);
  return (
    <div
      className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule px-[18px] py-1.5"
      role="toolbar"
      aria-label={LABELS.shots}
    >
      <span className="font-head text-xs font-medium text-graphite">{LABELS.add}</span>
      {Object.values(SHOT_KINDS).map((k) => (
        <button key={k.kind} type="button" className={`${look} font-medium`} onClick={() => onAdd(k.kind as Shot['kind'])}>
          <Plus size={14} aria-hidden /> {k.label[0]!.toUpperCase() + k.label.slice(1)}
        </button>
      ))}
      <input
        type="search"
        aria-label={LABELS.findShots}
        title={HELP.findShots}
        placeholder={LABELS.find}
        value={filter}
        onChange={(e) => onFilter(e.target.value)}
        className="h-6 w-24 border-b border-graphite bg-transparent text-sm"
      />
      {selected && actions && (
        <div className="ml-auto flex gap-4 text-graphite">
          <button type="button" className={look} onClick={actions.duplicate.run}>
            <Copy size={14} aria-hidden /> {actions.duplicate.label}
          </button>
          <button type="button" className={look} disabled={actions.up.disabled} onClick={actions.up.run}>
            <ArrowUp size={14} aria-hidden /> {LABELS.moveUp}
          </button>
          <button type="button" className={look} disabled={actions.down.disabled} onClick={actions.down.run}>
            <ArrowDown size={14} aria-hidden /> {LABELS.moveDown}
          </button>
          <button type="button" className={look} title={HELP.aShotThatIs} onClick={actions.switch.run}>
            <Power size={14} aria-hidden /> {actions.switch.label}
          </button>
          <button type="button" className={look} aria-label={LABELS.deleteShot(shotName(selected))} onClick={actions.remove.run}>
            <Trash2 size={14} aria-hidden /> {actions.remove.label}
          </button>
        </div>
      )}
    </div>
  );
}
