/** Which batches come first. */
import type { ReactNode } from 'react';
import type { Priority } from '../../../contract/batches.js';
import { Select } from '../../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** When a batch has its turn. */
export function PrioritySelect({ value, onValue }: { value: Priority; onValue: (priority: Priority) => void }): ReactNode {
  return (
    <Select
      label={LABELS.priority}
      help={HELP.priority}
      value={value}
      options={[
        { value: 'ahead', label: LABELS.ahead },
        { value: 'inTurn', label: LABELS.inTurn },
        { value: 'last', label: LABELS.last },
      ]}
      onValue={(priority) => onValue(priority as Priority)}
    />
  );
}
