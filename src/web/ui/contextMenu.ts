/** Menus of a right click, of the context menu key and of Shift+F10: what can be done with the thing under them. */
import type { MouseEvent } from 'react';

/** Something that can be done, as menus and toolbars offer it. */
export interface MenuAction {
  label: string;
  run: () => void;
  disabled?: boolean;
}

/** A menu that is open at a place of the window, in CSS pixels. */
export interface OpenMenu {
  /** What it is about. */
  label: string;
  x: number;
  y: number;
  actions: readonly MenuAction[];
  /** What had the focus, and gets it back. */
  from: Element | null;
}

/** The button of a right click; keys come without it, and with Ctrl the first one counts as it. */
const SECONDARY = 2;

let open: OpenMenu | null = null;
const listeners = new Set<() => void>();

/** The menu that is open, or null. */
export const openMenu = (): OpenMenu | null => open;

/** For useSyncExternalStore. */
export function onMenu(listener: () => void): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

function show(menu: OpenMenu | null): void {
  open = menu;
  listeners.forEach((l) => l());
}

/** Closes it. */
export const closeMenu = (): void => show(null);

/**
 * A handler of `contextmenu` events that opens a menu. Fields keep the browser's own, which cuts and pastes, and so does Shift.
 * @param label what the menu is about.
 * @param actions made when it is opened; none opens nothing.
 */
export function menuOf(label: string, actions: () => readonly MenuAction[]): (e: MouseEvent) => void {
  return (e) => {
    if (e.shiftKey || (e.target as Element).closest('input, textarea, select')) return;
    const list = actions();
    if (list.length === 0) return;
    e.preventDefault();
    e.stopPropagation();
    // A key has no place: the menu then hangs below what it is about, of a list below its active row.
    const active = document.getElementById(e.currentTarget.getAttribute('aria-activedescendant') ?? '');
    const box = (active ?? e.currentTarget).getBoundingClientRect();
    const byKey = e.button !== SECONDARY && !e.ctrlKey;
    const [x, y] = byKey ? [box.left + 12, box.bottom] : [e.clientX, e.clientY];
    show({ label, x, y, actions: list, from: document.activeElement });
  };
}
