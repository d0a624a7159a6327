/** Shows the menu that is open, wherever in the application it was asked for; its code is loaded with the first. */
import { type ReactNode, useSyncExternalStore } from 'react';
import { onMenu, openMenu } from '../ui/contextMenu.js';
import { lazily } from '../ui/lazily.js';

const ContextMenu = lazily(async () => (await import('../ui/ContextMenu.js')).ContextMenu);

/** Shows the context menu that is open. */
export function ContextMenuHost(): ReactNode {
  const menu = useSyncExternalStore(onMenu, openMenu);
  return menu && <ContextMenu key={`${menu.x} ${menu.y} ${menu.label}`} menu={menu} />;
}
