/** Every command by its name, with the keys that do the same. */
import { type ReactNode, useEffect, useState } from 'react';
import { Command } from 'cmdk';
import { type Command as Offered, activeCommands } from './commands.js';
import { formatShortcut, nameOfWords, useKeys } from './keys.js';
import { usePreferences } from './preferences.js';
import { LABELS, MESSAGES } from './words.js';

export function CommandPalette(): ReactNode {
  const [open, setOpen] = useState(false);
  const [list, setList] = useState<Offered[]>([]);
  const { keys } = usePreferences();
  const show = (): void => {
    setList(activeCommands());
    setOpen(true);
  };
  useKeys({ '?': show });
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
  return (
    <Command.Dialog
      open={open}
      onOpenChange={setOpen}
      label={LABELS.commands}
      overlayClassName="fixed inset-0 z-40 bg-[#15202a]/40"
      contentClassName="fixed left-1/2 top-24 z-50 w-[520px] -translate-x-1/2 border border-graphite bg-chalk"
    >
      <Command.Input placeholder={LABELS.searchCommands} className="h-10 w-full border-b border-rule bg-transparent px-4 outline-none" />
      <Command.List className="max-h-80 overflow-auto py-1">
        <Command.Empty className="px-4 py-2 text-graphite">{MESSAGES.noCommandOfThat}</Command.Empty>
        {list.map((c) => (
          <Command.Item
            key={c.name}
            value={c.name}
            onSelect={() => {
              setOpen(false);
              c.run();
            }}
            className="flex cursor-default items-center justify-between px-4 py-1 data-[selected=true]:bg-paper"
          >
            <span>{c.name}</span>
            {c.keys && <kbd className="num text-xs text-graphite">{formatShortcut(keys[nameOfWords(c.keys)] ?? nameOfWords(c.keys))}</kbd>}
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
