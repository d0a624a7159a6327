/** Finding shots in the register, and changing several of them at once. */
import { type ReactNode } from 'react';
import { Power, Trash2, X } from 'lucide-react';
import { QUALITY_LEVELS, type QualityLevel } from '../../../core/frame/settings.js';
import { type Shot } from '../../../core/shots/kinds.js';
import { Select, TextField } from '../../ui/controls.js';

export interface BulkEditBarProps {
  /** Shots that are changed together. */
  marked: Shot[];
  onEach: (change: (shot: Shot) => Shot) => void;
  onTakeOut: () => void;
  onDone: () => void;
}

const SHEET = '-';

export function BulkEditBar({ marked, onEach, onTakeOut, onDone }: BulkEditBarProps): ReactNode {
  const off = marked.every((s) => s.off);
  const groups = new Set(marked.map((s) => s.group ?? ''));
  return (
    <div className="flex shrink-0 items-end gap-5 border-b border-rule bg-chalk px-[18px] py-1.5 text-sm" role="toolbar" aria-label="Marked shots">
      <p className="pb-1 font-medium">{marked.length} shots together</p>
      <div className="w-36">
        <TextField
          label="Group"
          help="Word under which they stand together in the register."
          value={groups.size === 1 ? [...groups][0]! : ''}
          onValue={(text) => {
            onEach((s) => ({ ...s, group: text.trim().slice(0, 40) || undefined }));
            return null;
          }}
        />
      </div>
      <div className="w-36">
        <Select
          label="Quality of all"
          help="Of these shots alone, or as the format sheet has it."
          value=""
          options={[{ value: SHEET, label: 'as the sheet' }, ...Object.keys(QUALITY_LEVELS).map((q) => ({ value: q, label: q }))]}
          onValue={(q) => onEach((s) => ({ ...s, overrides: { ...s.overrides, quality: q === SHEET ? undefined : (q as QualityLevel) } }))}
        />
      </div>
      <button type="button" className="inline-flex items-center gap-1 pb-1" onClick={() => onEach((s) => ({ ...s, off: off ? undefined : true }))}>
        <Power size={14} aria-hidden /> Switch {off ? 'on' : 'off'}
      </button>
      <button type="button" className="inline-flex items-center gap-1 pb-1" onClick={() => onEach((s) => ({ ...s, overrides: undefined }))}>
        Take deviations back
      </button>
      <button type="button" className="inline-flex items-center gap-1 pb-1" onClick={onTakeOut}>
        <Trash2 size={14} aria-hidden /> Take out
      </button>
      <button type="button" className="ml-auto inline-flex items-center gap-1 pb-1" onClick={onDone}>
        <X size={14} aria-hidden /> Done
      </button>
    </div>
  );
}
