/** Actions as rows of a menu. */
import type { ReactNode } from 'react';
import { DropdownMenu } from 'radix-ui';
import type { MenuAction } from './contextMenu.js';

/** Looks of a menu. */
export const MENU_PANEL = 'z-50 min-w-40 border border-graphite bg-chalk py-1';
/** Looks of its rows. */
export const MENU_ROW =
  'flex cursor-default items-center justify-between gap-6 px-3 py-1.5 data-[highlighted]:bg-paper data-[disabled]:text-graphite';

/** Actions as rows of a menu. */
export function ActionItems({ actions }: { actions: readonly MenuAction[] }): ReactNode {
  return actions.map(({ label, run, disabled }) => (
    <DropdownMenu.Item key={label} className={MENU_ROW} disabled={disabled} onSelect={run}>
      {label}
    </DropdownMenu.Item>
  ));
}
