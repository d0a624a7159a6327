/** Finding shots in the register, and changing several of them at once. */
import type { ReactNode } from 'react';
import { Power, Trash2, X } from 'lucide-react';
import { QUALITY_LEVELS, type QualityLevel } from '../../../core/frame/settings.js';
import type { Shot } from '../../../core/shots/kinds.js';
import { Select, TextField } from '../../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** Shots that are changed together. */
export interface BulkEditBarProps {
  /** Shots that are changed together. */
  marked: Shot[];
  onEach: (change: (shot: Shot) => Shot) => void;
  onDelete: () => void;
  onDone: () => void;
}

const SHEET = '-';

/** Changes all marked shots at once. */
export function BulkEditBar({ marked, onEach, onDelete, onDone }: BulkEditBarProps): ReactNode {
  const off = marked.every((s) => s.off);
  const groups = new Set(marked.map((s) => s.group ?? ''));
  return (
    <div
      className="flex shrink-0 items-end gap-5 border-b border-rule bg-chalk px-[18px] py-1.5 text-sm"
      role="toolbar"
      aria-label={LABELS.selectedShots}
    >
      <p className="pb-1 font-medium">{LABELS.shotsSelected(marked.length)}</p>
      <div className="w-36">
        <TextField
          label={LABELS.group}
          help={HELP.group}
          value={groups.size === 1 ? [...groups][0]! : ''}
          onValue={(text) => {
            onEach((s) => ({ ...s, group: text.trim().slice(0, 40) || undefined }));
            return null;
          }}
        />
      </div>
      <div className="w-36">
        <Select
          label={LABELS.quality}
          help={HELP.quality}
          value=""
          options={[{ value: SHEET, label: LABELS.asTheFormatSheet }, ...Object.keys(QUALITY_LEVELS).map((q) => ({ value: q, label: q }))]}
          onValue={(q) => onEach((s) => ({ ...s, overrides: { ...s.overrides, quality: q === SHEET ? undefined : (q as QualityLevel) } }))}
        />
      </div>
      <button type="button" className="inline-flex items-center gap-1 pb-1" onClick={() => onEach((s) => ({ ...s, off: off ? undefined : true }))}>
        <Power size={14} aria-hidden /> {LABELS.switch(off ? 'on' : 'off')}
      </button>
      <button type="button" className="inline-flex items-center gap-1 pb-1" onClick={() => onEach((s) => ({ ...s, overrides: undefined }))}>
        {LABELS.clearOverrides}
      </button>
      <button type="button" className="inline-flex items-center gap-1 pb-1" onClick={onDelete}>
        <Trash2 size={14} aria-hidden /> {LABELS.delete}
      </button>
      <button type="button" className="ml-auto inline-flex items-center gap-1 pb-1" onClick={onDone}>
        <X size={14} aria-hidden /> {LABELS.done}
      </button>
    </div>
  );
}
