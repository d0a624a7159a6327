/** A material that is dragged from its swatch to a part. */
import type { DragEvent } from 'react';

const KIND = 'application/x-cold-easel-finish';

/** What a swatch spreads on itself to be dragged. */
export const dragMaterial = (name: string) => ({
  draggable: true,
  onDragStart: (e: DragEvent): void => {
    e.dataTransfer.setData(KIND, name);
    e.dataTransfer.effectAllowed = 'copy';
  },
});

/** Whether what is dragged is a material; its name is told only where it is dropped. */
export const hasDraggedMaterial = (e: DragEvent): boolean => e.dataTransfer.types.includes(KIND);

/** The material that was dropped; null where it was something else. */
export function droppedMaterial(e: DragEvent): string | null {
  return e.dataTransfer.getData(KIND) || null;
}
