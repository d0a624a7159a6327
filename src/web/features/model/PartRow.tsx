/** A row of the part tree. */
import { type MouseEvent, type ReactNode, useState } from 'react';
import { droppedMaterial, hasDraggedMaterial } from '../../ui/dragMaterial.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import type { TreeRow } from './usePartRows.js';
import { LABELS } from './words.js';

/** Height of a row, in CSS pixels. */
export const ROW = 24;

interface SwitchProps {
  word: string;
  on: boolean;
  name: string;
  onChange: (on: boolean) => void;
}

/** A labelled square: filled where it is on. */
function Square({ word, on, name, onChange }: SwitchProps): ReactNode {
  return (
    <button
      type="button"
      tabIndex={-1}
      role="switch"
      aria-checked={on}
      aria-label={`${name}: ${word}`}
      className={`shrink-0 rounded-sm border px-1 text-xs leading-[15px] ${on ? 'border-graphite bg-graphite text-chalk' : 'border-rule text-graphite line-through'}`}
      onClick={(e) => {
        e.stopPropagation();
        onChange(!on);
      }}
    >
      {word}
    </button>
  );
}

interface PartRowProps {
  id: string;
  row: TreeRow;
  /** Its place among the rows that are listed, from 0, and how many there are. */
  at: number;
  of: number;
  selected: boolean;
  /** Whether keys act on it. */
  here: boolean;
  /** CSS pixels from the top of the list and from its left. */
  top: number;
  indent: number;
  onClick(e: MouseEvent): void;
  actions(): MenuAction[];
  onSwitch: (path: string, which: 'viewportVisible' | 'renderVisible', on: boolean) => void;
  onDrop: (path: string, material: string) => void;
}

/** A part: its name, what it wears, and where it shows. */
export function PartRow({ id, row, at, of, selected, here, top, indent, onClick, actions, onSwitch, onDrop }: PartRowProps): ReactNode {
  const { part, depth, effective } = row;
  const [under, setUnder] = useState(false);
  return (
    <div
      id={id}
      role="treeitem"
      aria-level={depth + 1}
      aria-selected={selected}
      aria-setsize={of}
      aria-posinset={at + 1}
      className={`absolute inset-x-0 flex cursor-default items-center gap-1.5 border-l-[3px] pr-3 ${selected ? 'border-madder bg-paper font-medium' : 'border-transparent'} ${under ? 'outline outline-2 -outline-offset-2 outline-cobalt' : ''} ${here ? 'group-focus-visible:outline group-focus-visible:outline-2 group-focus-visible:-outline-offset-2 group-focus-visible:outline-madder' : ''}`}
      style={{ top, height: ROW, paddingLeft: indent }}
      title={part.path}
      onClick={onClick}
      onContextMenu={menuOf(part.name, actions)}
      onDragOver={(e) => {
        if (!hasDraggedMaterial(e)) return;
        e.preventDefault();
        setUnder(true);
      }}
      onDragLeave={() => setUnder(false)}
      onDrop={(e) => {
        e.preventDefault();
        setUnder(false);
        const material = droppedMaterial(e);
        if (material) onDrop(part.path, material);
      }}
    >
      <span className={`truncate ${part.triangles === 0 ? 'font-medium' : ''}`}>{part.name}</span>
      <span className="min-w-0 flex-1 truncate text-xs text-graphite">
        {part.lines
          ? LABELS.lineSegments(part.lines.toLocaleString('en'))
          : [...new Set(part.materials.map((own, k) => effective.materials[k] ?? own))].join(', ')}
      </span>
      {effective.renderVisible !== effective.viewportVisible && part.triangles > 0 && (
        <span className="shrink-0 text-xs text-ochre">{LABELS.mixed}</span>
      )}
      <Square
        word={LABELS.viewportSwitch}
        name={part.name}
        on={effective.viewportVisible}
        onChange={(on) => onSwitch(part.path, 'viewportVisible', on)}
      />
      <Square word={LABELS.renderSwitch} name={part.name} on={effective.renderVisible} onChange={(on) => onSwitch(part.path, 'renderVisible', on)} />
    </div>
  );
}
