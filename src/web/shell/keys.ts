import { useEffect, useRef } from 'react';
import { preferences } from './preferences.js';

/** Runs the action of a key while no field has the focus; "ctrl+Enter" works in fields too. */
export function useKeys(actions: Record<string, (() => void) | undefined>): void {
  const current = useRef(actions);
  current.current = actions;
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      const name = `${e.ctrlKey || e.metaKey ? 'ctrl+' : ''}${e.shiftKey && e.key.length > 1 ? 'shift+' : ''}${e.key === ' ' ? 'space' : e.key}`;
      const target = e.target as HTMLElement;
      const typing = target.closest('input:not([type=checkbox]), textarea, [role=listbox], [role=option]') !== null;
      if (typing && name !== 'ctrl+Enter') return;
      if (!name.startsWith('ctrl+') && !preferences().singleKeys) return;
      // A focused button takes the space itself.
      if (name === 'space' && target.closest('button, [role=combobox], a')) return;
      const act = current.current[name];
      if (!act) return;
      e.preventDefault();
      act();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
