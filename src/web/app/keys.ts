import { useEffect, useRef } from 'react';
import { preferences } from './preferences.js';

/** A pressed key by its name: "ctrl+Enter", "shift+ArrowUp", "f". */
export function keyName(e: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey'>): string {
  return `${e.ctrlKey || e.metaKey ? 'ctrl+' : ''}${e.shiftKey && e.key.length > 1 ? 'shift+' : ''}${e.key === ' ' ? 'space' : e.key}`;
}

/** What stands on keys that have no letter. */
const KEY_SIGNS: Readonly<Record<string, string>> = { space: 'Space', ArrowLeft: '←', ArrowRight: '→', ArrowUp: '↑', ArrowDown: '↓' };

/** As people read it: "Ctrl Enter", "F". */
export function formatShortcut(name: string): string {
  const key = name.replace(/^ctrl\+/, '').replace(/^shift\+/, '');
  const shown = KEY_SIGNS[key] ?? (key.length === 1 ? key.toUpperCase() : key);
  return `${name.startsWith('ctrl+') ? 'Ctrl ' : ''}${name.includes('shift+') ? 'Shift ' : ''}${shown}`;
}

/** The other way round. */
export function nameOfWords(words: string): string {
  const shown = words.replace(/^Ctrl /, '').replace(/^Shift /, '');
  const key = Object.keys(KEY_SIGNS).find((k) => KEY_SIGNS[k] === shown) ?? (shown.length === 1 ? shown.toLowerCase() : shown);
  return `${words.startsWith('Ctrl ') ? 'ctrl+' : ''}${words.includes('Shift ') ? 'shift+' : ''}${key}`;
}

/** The key that a command has by itself, where a person gave it another one; undefined where the key was given away. */
function meant(name: string): string | undefined {
  const { keys } = preferences();
  const own = Object.keys(keys).find((k) => keys[k] === name);
  return own ?? (keys[name] ? undefined : name);
}

/** What takes letters and digits itself. */
const TYPING =
  'input:not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable=true], [role=combobox], [role=listbox], [role=option], [role=menu]';
/** What takes the space bar itself. */
const PRESSED = 'button, summary, a, label, input, [role=button], [role=checkbox], [role=switch], [role=radio], [role=tab], [role=slider]';
/** What works in a field with nothing half typed in it. */
const IN_SETTLED_FIELDS = ['ctrl+z', 'ctrl+Z', 'ctrl+y'];

/** Whether what has the focus takes the key itself. */
export function isTakenByFocus(target: Element, pressed: string): boolean {
  if (pressed === 'space') return target.closest(`${PRESSED}, ${TYPING}`) !== null;
  if (target.closest(TYPING) === null || pressed === 'ctrl+Enter') return false;
  // A choice takes letters, and has nothing typed to undo.
  return !(IN_SETTLED_FIELDS.includes(pressed) && target.matches('[data-settled], button[role=combobox], select'));
}

/** Runs the action of a key unless what has the focus takes it; "ctrl+Enter" works in fields too. */
export function useKeys(actions: Record<string, (() => void) | undefined>): void {
  const current = useRef(actions);
  current.current = actions;
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      const pressed = keyName(e);
      const name = meant(pressed);
      if (name === undefined || e.defaultPrevented || isTakenByFocus(e.target as Element, pressed)) return;
      if (!pressed.startsWith('ctrl+') && !preferences().singleKeys) return;
      const act = current.current[name];
      if (!act) return;
      e.preventDefault();
      act();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
