/** A button with three dots that opens what can be done with a thing. */
import type { ReactNode } from 'react';
import { Ellipsis } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { ActionItems, MENU_PANEL } from './ActionItems.js';
import type { MenuAction } from './contextMenu.js';

/** A button that opens a menu of actions. */
export function ActionsMenu({ label, actions }: { label: string; actions: readonly MenuAction[] }): ReactNode {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={label} className="shrink-0 p-3 text-graphite">
        <Ellipsis size={18} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className={MENU_PANEL}>
          <ActionItems actions={actions} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
