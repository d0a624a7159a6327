/** A list whose entries are put in order by dragging or by the keyboard; what happens is said to screen readers. */
import type { ReactNode } from 'react';
import {
  type Announcements,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { HELP, MESSAGES } from './words.js';

interface SortableListProps<Id extends UniqueIdentifier> {
  /** The entries' ids in their order, as `useSortable` of each has it. */
  ids: readonly Id[];
  /** What an entry is called, for what is read out. */
  nameOf: (id: Id) => string;
  /** An entry was dropped at the place of another. */
  onMove: (id: Id, to: Id) => void;
  children: ReactNode;
}

/** Makes what is within it sortable; each entry calls `useSortable` with its id. */
export function SortableList<Id extends UniqueIdentifier>({ ids, nameOf, onMove, children }: SortableListProps<Id>): ReactNode {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const name = (of: { id: UniqueIdentifier }): string => nameOf(of.id as Id);
  const place = (of: { id: UniqueIdentifier }): number => ids.indexOf(of.id as Id) + 1;
  const announcements: Announcements = {
    onDragStart: ({ active }) => MESSAGES.moving(name(active)),
    onDragOver: ({ active, over }) => MESSAGES.atPlace(name(active), place(over ?? active), ids.length),
    onDragEnd: ({ active, over }) => MESSAGES.movedTo(name(active), place(over ?? active), ids.length),
    onDragCancel: ({ active }) => MESSAGES.notMoved(name(active), place(active), ids.length),
  };
  const drop = ({ active, over }: DragEndEvent): void => {
    if (over && active.id !== over.id) onMove(active.id as Id, over.id as Id);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={drop}
      accessibility={{ announcements, screenReaderInstructions: { draggable: HELP.moveByKeyboard } }}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}
