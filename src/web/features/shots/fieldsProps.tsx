/** What the fields of every kind of shot share. */
import type { ReactNode } from 'react';
import type { Shot } from '../../../core/shots/kinds.js';
import { useWorkspace } from '../../app/workspace.js';
import { Select } from '../../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** What the fields of a kind of shot are given. */
export interface FieldsProps<S extends Shot> {
  shot: S;
  /** Puts the changed shot into the set; returns what is wrong, or null. */
  put: (shot: Shot) => string | null;
}

/** The view that a shot looks through. */
export function ViewField({ view, onView }: { view: string; onView: (view: string) => void }): ReactNode {
  const { plan } = useWorkspace();
  return (
    <Select
      label={LABELS.view}
      help={HELP.view}
      value={view}
      options={plan!.file.views.map((v) => ({ value: v.id, label: v.name }))}
      onValue={onView}
    />
  );
}
