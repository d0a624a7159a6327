/** Opens the table of sets, models and variants; its code is loaded then. */
import { type ReactNode, useState } from 'react';
import { Dialog } from 'radix-ui';
import { lazily } from '../../ui/lazily.js';
import { LABELS } from './severalWords.js';

const SeveralBatches = lazily(async () => (await import('./SeveralBatches.js')).SeveralBatches);

/** @param select frames to render of the set that is edited; all where absent. */
export function SeveralBatchesMenu({ className, select }: { className: string; select: string | undefined }): ReactNode {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className={className}>{LABELS.several}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-50 w-[860px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 border border-graphite bg-chalk p-5">
          <SeveralBatches select={select} onDone={() => setOpen(false)} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
