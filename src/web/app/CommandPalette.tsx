/** Every command by its name, with the keys that do the same. */
import { lazy, type ReactNode, Suspense, useEffect, useState } from 'react';
import { type Command as Offered, activeCommands } from './commands.js';
import { loadCode } from '../state/loadCode.js';

const PaletteDialog = lazy(() => loadCode(() => import('./PaletteDialog.js')));

/** Opens the list of commands by key; the list is loaded when it is first used. */
export function CommandPalette(): ReactNode {
  const [open, setOpen] = useState(false);
  const [used, setUsed] = useState(false);
  const [list, setList] = useState<Offered[]>([]);
  const show = (): void => {
    setList(activeCommands());
    setUsed(true);
    setOpen(true);
  };
  // In a field too: a palette that cannot be reached while one writes is none.
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (!(e.ctrlKey || e.metaKey) || e.key !== 'k' || e.defaultPrevented) return;
      e.preventDefault();
      show();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, []);
  if (!used) return null;
  return (
    <Suspense>
      <PaletteDialog open={open} onOpen={setOpen} list={list} />
    </Suspense>
  );
}
