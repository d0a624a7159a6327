/** The keys of the present step, which can be changed, and those that are the same everywhere. Loaded when first opened. */
import { Fragment, type KeyboardEvent, type ReactNode, useState } from 'react';
import { Dialog } from 'radix-ui';
import { activeCommands } from './commands.js';
import { keyName, formatShortcut, nameOfWords } from './keys.js';
import { setPreferences, usePreferences } from './preferences.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Keys that cannot be changed, and what they do. */
const FIXED_KEYS = [
  [LABELS.ctrlK, HELP.ctrlK],
  [LABELS.upAndDown, HELP.upAndDown],
  [LABELS.escape, HELP.escape],
  [LABELS.arrowsAndSpace, HELP.arrowsAndSpace],
  [LABELS.vAndR, HELP.vAndR],
  [LABELS.shiftF10, HELP.shiftF10],
] as const;

/** All keys, each of which can be changed. */
export default function KeysTable({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }): ReactNode {
  const [waiting, setWaiting] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { keys } = usePreferences();
  const list = open ? activeCommands().filter((c) => c.keys) : [];
  const take = (e: KeyboardEvent, from: string): void => {
    if (['Shift', 'Control', 'Alt', 'Meta'].includes(e.key)) return;
    e.preventDefault();
    e.stopPropagation();
    if (e.key === 'Escape') {
      setWaiting(null);
      return;
    }
    const next = keyName(e.nativeEvent);
    const other = list.find((c) => nameOfWords(c.keys!) !== from && (keys[nameOfWords(c.keys!)] ?? nameOfWords(c.keys!)) === next);
    if (other) {
      setProblem(MESSAGES.isAlreadyTheShortcut(formatShortcut(next), other.name));
      return;
    }
    setProblem(null);
    const { [from]: _, ...rest } = keys;
    setPreferences({ keys: next === from ? rest : { ...rest, [from]: next } });
    setWaiting(null);
  };
  return (
    <Dialog.Root open={open} onOpenChange={onOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-50 max-h-[80vh] w-[520px] -translate-x-1/2 -translate-y-1/2 overflow-auto border border-graphite bg-chalk p-5">
          <Dialog.Title className="text-lg font-semibold">{LABELS.keyboardShortcuts}</Dialog.Title>
          <Dialog.Description className="mb-3 text-graphite">{HELP.shortcutsOfThisStep}</Dialog.Description>
          {problem && (
            <p role="alert" className="mb-2 text-ochre">
              {problem}
            </p>
          )}
          <table className="w-full text-sm">
            <tbody>
              {list.map((c) => {
                const from = nameOfWords(c.keys!);
                return (
                  <tr key={c.name} className="border-t border-rule">
                    <td className="py-1">{c.name}</td>
                    <td className="w-40 text-right">
                      <button
                        type="button"
                        className="num min-w-20 border border-graphite px-2"
                        aria-label={LABELS.shortcutOf(c.name)}
                        onClick={() => setWaiting(from)}
                        onKeyDown={(e) => waiting === from && take(e, from)}
                      >
                        {waiting === from ? LABELS.pressAKey : formatShortcut(keys[from] ?? from)}
                      </button>
                    </td>
                    <td className="w-20 pl-3">
                      {keys[from] && (
                        <button
                          type="button"
                          className="underline"
                          onClick={() => {
                            const { [from]: _, ...rest } = keys;
                            setPreferences({ keys: rest });
                          }}
                        >
                          {LABELS.reset}
                        </button>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <h2 className="mt-4 font-medium">{LABELS.everywhere}</h2>
          <dl className="grid grid-cols-[180px_minmax(0,1fr)] text-sm">
            {FIXED_KEYS.map(([fixed, does]) => (
              <Fragment key={fixed}>
                <dt className="num border-t border-rule py-1">{fixed}</dt>
                <dd className="border-t border-rule py-1">{does}</dd>
              </Fragment>
            ))}
          </dl>
          <Dialog.Close className="absolute right-4 top-4 underline">{LABELS.close}</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
