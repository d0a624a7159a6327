import type { ReactNode } from 'react';
import { Checkbox } from '../../ui/controls.js';

/** A choice of several, in their own order. */
export function Choices({
  legend,
  help,
  options,
  chosen,
  onChoose,
}: {
  legend: string;
  /** What one that is chosen does. */
  help: string;
  options: { id: string; name: string }[];
  chosen: string[];
  onChoose: (ids: string[]) => void;
}): ReactNode {
  return (
    <fieldset>
      <legend className="font-head text-xs font-medium text-graphite">{legend}</legend>
      {options.map((o) => (
        <Checkbox
          key={o.id}
          label={o.name}
          help={help}
          checked={chosen.includes(o.id)}
          onChecked={(on) => onChoose(options.map((x) => x.id).filter((id) => (id === o.id ? on : chosen.includes(id))))}
        />
      ))}
    </fieldset>
  );
}
