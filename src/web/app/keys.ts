import { useEffect, useRef } from 'react';
import { preferences } from './preferences.js';

/** A pressed key by its name: "ctrl+Enter", "shift+ArrowUp", "f". */
export function keyName(e: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'shiftKey'>): string {
  return `${e.ctrlKey || e.metaKey ? 'ctrl+' : ''}${e.shiftKey && e.key.length > 1 ? 'shift+' : ''}${e.key === ' ' ? 'space' : e.key}`;
}

/** As people read it: "Ctrl Enter", "F". */
export function formatShortcut(name: string): string {
  const key = name.replace(/^ctrl\+/, '');
  return (name.startsWith('ctrl+') ? 'Ctrl ' : '') + (key.length === 1 ? key.toUpperCase() : key);
}

/** The other way round. */
export function nameOfWords(words: string): string {
  const key = words.replace(/^Ctrl /, '');
  return (words.startsWith('Ctrl ') ? 'ctrl+' : '') + (key.length === 1 ? key.toLowerCase() : key);
}

/** The key that a command has by itself, where a person gave it another one; undefined where the key was given away. */
function meant(name: string): string | undefined {
  const { keys } = preferences();
  const own = Object.keys(keys).find((k) => keys[k] === name);
  return own ?? (keys[name] ? undefined : name);
}

/** Runs the action of a key while no field has the focus; "ctrl+Enter" works in fields too. */
export function useKeys(actions: Record<string, (() => void) | undefined>): void {
  const current = useRef(actions);
  current.current = actions;
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      const pressed = keyName(e);
      const name = meant(pressed);
      if (name === undefined) return;
      const target = e.target as HTMLElement;
      const typing = target.closest('input:not([type=checkbox]), textarea, [role=listbox], [role=option]') !== null;
      if (typing && (name !== 'ctrl+Enter' || !pressed.startsWith('ctrl+'))) return;
      if (!pressed.startsWith('ctrl+') && !preferences().singleKeys) return;
      // A focused button takes the space itself.
      if (pressed === 'space' && target.closest('button, [role=combobox], a')) return;
      const act = current.current[name];
      if (!act) return;
      e.preventDefault();
      act();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
