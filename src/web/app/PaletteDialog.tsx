/** The list of the palette, loaded when it is first opened. */
import type { ReactNode } from 'react';
import { Command } from 'cmdk';
import type { Command as Offered } from './commands.js';
import { formatShortcut, nameOfWords } from './keys.js';
import { usePreferences } from './preferences.js';
import { LABELS, MESSAGES } from './words.js';

/** What the palette offers, and whether it is shown. */
export interface PaletteDialogProps {
  open: boolean;
  onOpen: (open: boolean) => void;
  list: Offered[];
}

/** Commands to be found by typing. */
export default function PaletteDialog({ open, onOpen, list }: PaletteDialogProps): ReactNode {
  const { keys } = usePreferences();
  return (
    <Command.Dialog
      open={open}
      onOpenChange={onOpen}
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
              onOpen(false);
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
