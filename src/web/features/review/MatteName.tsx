/** A name beside the pointer. */
import type { ReactNode } from 'react';
import type { Placed } from './useZoom.js';

/** Names what is under the pointer in a matte. */
export function MatteName({ name, placed, at }: { name: string | null; placed: Placed; at: { x: number; y: number } | null }): ReactNode {
  if (name === null || at === null) return null;
  return (
    <span
      className="plate pointer-events-none absolute whitespace-nowrap px-1.5 text-sm"
      data-testid="matte-name"
      style={{ left: placed.left + at.x * placed.width + 14, top: placed.top + at.y * placed.height + 14 }}
    >
      {name}
    </span>
  );
}
