/** Opens the table of what is different; its code is loaded then. */
import { type ReactNode, useState } from 'react';
import { Dialog } from 'radix-ui';
import { lazily } from '../../ui/lazily.js';
import { PLAIN_BUTTON } from '../../ui/controls.js';
import type { RowChange, RowPair } from './changesRun.js';
import { HELP, LABELS } from './words.js';

const ChangesTable = lazily(async () => (await import('./ChangesTable.js')).ChangesTable);

interface Props {
  setId: number;
  setName: string;
  columns: { key: string; label: string }[];
  pairsOf: (first: string, second: string) => RowPair[];
  onOpen: (row: RowChange) => void;
}

/** Opens the table of what changed. */
export function ChangesMenu({ onOpen, columns, ...props }: Props): ReactNode {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger
        className={`${PLAIN_BUTTON} disabled:cursor-not-allowed disabled:opacity-50`}
        disabled={columns.length < 2}
        title={HELP.whatChanged}
      >
        {LABELS.whatChanged}
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-50 w-[980px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 border border-graphite bg-chalk p-5">
          <ChangesTable
            {...props}
            columns={columns}
            onOpen={(row) => {
              setOpen(false);
              onOpen(row);
            }}
          />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
