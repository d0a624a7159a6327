import type { ReactNode } from 'react';
import { TextField } from './controls.js';
import { LABELS } from './words.js';

interface ColourFieldProps {
  label: string;
  help: string;
  /** As #rrggbb. */
  value: string;
  /** Returns what is wrong, or null. */
  onValue: (value: string) => string | null;
}

/** A colour by the browser's own chooser, or written as #rrggbb. */
export function ColourField({ label, help, value, onValue }: ColourFieldProps): ReactNode {
  return (
    <div className="flex items-end gap-2">
      <input
        type="color"
        aria-label={LABELS.choose(label)}
        value={value.toLowerCase()}
        className="mb-0.5 h-7 w-9 shrink-0 border border-graphite bg-chalk p-0.5"
        onChange={(e) => onValue(e.target.value)}
      />
      <div className="min-w-0 flex-1">
        <TextField label={label} help={help} value={value} mono onValue={onValue} />
      </div>
    </div>
  );
}
