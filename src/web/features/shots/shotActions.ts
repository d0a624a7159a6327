/** What can be done with a shot of the list, in the toolbar and by a right click. */
import { copyOf, moveItem } from '../../../core/edit/editSet.js';
import type { Shot } from '../../../core/shots/kinds.js';
import type { MenuAction } from '../../ui/contextMenu.js';
import { LABELS } from './words.js';

/** Changes the list; `next` is to be selected then. */
export type EditShots = (change: (shots: Shot[]) => Shot[], next?: string) => void;

/** What can be done with a shot. */
export interface ShotActions {
  duplicate: MenuAction;
  up: MenuAction;
  down: MenuAction;
  switch: MenuAction;
  remove: MenuAction;
}

/** The actions on that shot of the list. */
export function shotActions(shots: readonly Shot[], shot: Shot, onEdit: EditShots): ShotActions {
  const at = shots.indexOf(shot);
  return {
    duplicate: {
      label: LABELS.duplicate,
      run: () => {
        const copy = copyOf([...shots], shot);
        onEdit((list) => list.toSpliced(at + 1, 0, copy), copy.id);
      },
    },
    up: { label: LABELS.moveUp, disabled: at <= 0, run: () => onEdit((list) => moveItem(list, at, -1)) },
    down: { label: LABELS.moveDown, disabled: at === shots.length - 1, run: () => onEdit((list) => moveItem(list, at, 1)) },
    switch: {
      label: LABELS.switch(shot.off ? 'on' : 'off'),
      run: () => onEdit((list) => list.map((s) => (s.id === shot.id ? { ...s, off: s.off ? undefined : true } : s))),
    },
    remove: { label: LABELS.delete, run: () => onEdit((list) => list.filter((s) => s.id !== shot.id)) },
  };
}
