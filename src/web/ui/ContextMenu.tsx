/** The menu that a right click opened, at its place. */
import type { ReactNode } from 'react';
import { DropdownMenu } from 'radix-ui';
import { ActionItems, MENU_PANEL } from './ActionItems.js';
import { closeMenu, type OpenMenu } from './contextMenu.js';

/** The menu at the pointer. */
export function ContextMenu({ menu }: { menu: OpenMenu }): ReactNode {
  return (
    <DropdownMenu.Root open onOpenChange={(on) => !on && closeMenu()}>
      <DropdownMenu.Trigger tabIndex={-1} aria-hidden className="pointer-events-none fixed size-0" style={{ left: menu.x, top: menu.y }} />
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          aria-label={menu.label}
          align="start"
          sideOffset={2}
          className={MENU_PANEL}
          onContextMenu={(e) => e.preventDefault()}
          onCloseAutoFocus={(e) => {
            e.preventDefault();
            // What an action has put the focus on keeps it.
            if (document.activeElement === document.body) (menu.from as HTMLElement | null)?.focus();
          }}
        >
          <ActionItems actions={menu.actions} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
