/** `?` lists every key, and lets the commands that have one take another. */
import { lazy, type ReactNode, Suspense, useState } from 'react';
import { useCommands } from './commands.js';
import { useKeys } from './keys.js';
import { LABELS } from './words.js';
import { loadCode } from '../state/loadCode.js';

const KeysTable = lazy(() => loadCode(() => import('./KeysTable.js')));

/** Opens the list of keys by key; the list is loaded when it is first used. */
export function KeysDialog(): ReactNode {
  const [open, setOpen] = useState(false);
  const [used, setUsed] = useState(false);
  const show = (): void => {
    setUsed(true);
    setOpen(true);
  };
  useKeys({ '?': show });
  useCommands([{ name: LABELS.changeShortcuts, keys: '?', run: show }]);
  if (!used) return null;
  return (
    <Suspense>
      <KeysTable open={open} onOpen={setOpen} />
    </Suspense>
  );
}
