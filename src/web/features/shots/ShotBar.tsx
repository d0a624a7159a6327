/** What is done with the shots of a set: added, copied, put in order, switched off, taken out. */
import type { ReactNode } from 'react';
import { ArrowDown, ArrowUp, Copy, Plus, Power, Trash2 } from 'lucide-react';
import { copyOf, moveItem } from '../../../core/edit/editSet.js';
import { type Shot, SHOT_KINDS, shotName } from '../../../core/shots/kinds.js';
import { HELP, LABELS } from './words.js';

export interface ShotBarProps {
  shots: Shot[];
  selected: Shot | undefined;
  /** Only shots with this word are listed. */
  filter: string;
  onFilter: (word: string) => void;
  onAdd: (kind: Shot['kind']) => void;
  /** Changes the list; `next` is to be selected then. */
  onEdit: (change: (shots: Shot[]) => Shot[], next?: string) => void;
}

const look = 'inline-flex items-center gap-1 whitespace-nowrap text-sm disabled:opacity-40';

export function ShotBar({ shots, selected, filter, onFilter, onAdd, onEdit }: ShotBarProps): ReactNode {
  const at = selected ? shots.indexOf(selected) : -1;
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
      {selected && (
        <div className="ml-auto flex gap-4 text-graphite">
          <button
            type="button"
            className={look}
            onClick={() => {
              const copy = copyOf(shots, selected);
              onEdit((list) => list.toSpliced(at + 1, 0, copy), copy.id);
            }}
          >
            <Copy size={14} aria-hidden /> {LABELS.duplicate}
          </button>
          <button type="button" className={look} disabled={at <= 0} onClick={() => onEdit((list) => moveItem(list, at, -1))}>
            <ArrowUp size={14} aria-hidden /> {LABELS.moveUp}
          </button>
          <button type="button" className={look} disabled={at === shots.length - 1} onClick={() => onEdit((list) => moveItem(list, at, 1))}>
            <ArrowDown size={14} aria-hidden /> {LABELS.moveDown}
          </button>
          <button
            type="button"
            className={look}
            title={HELP.aShotThatIs}
            onClick={() => onEdit((list) => list.map((s) => (s.id === selected.id ? { ...s, off: s.off ? undefined : true } : s)))}
          >
            <Power size={14} aria-hidden /> {LABELS.switch(selected.off ? 'on' : 'off')}
          </button>
          <button type="button" className={look} onClick={() => onEdit((list) => list.filter((s) => s.id !== selected.id))}>
            <Trash2 size={14} aria-hidden /> {LABELS.deleteShot(shotName(selected))}
          </button>
        </div>
      )}
    </div>
  );
}
