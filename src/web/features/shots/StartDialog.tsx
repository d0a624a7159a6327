/** Asks before a batch is started whose plan has open faults. */
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { pluralize } from '../../../core/base/pluralize.js';
import { Button } from '../../ui/controls.js';
import { LABELS, MESSAGES } from './startWords.js';

/** @param faults what is open, a sentence each. */
export function StartDialog({
  faults,
  onStart,
  onLook,
  onCancel,
}: {
  faults: string[];
  onStart: () => void;
  onLook: () => void;
  onCancel: () => void;
}): ReactNode {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onCancel()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-50 w-[560px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 border border-graphite bg-chalk p-5">
          <Dialog.Title className="text-lg font-semibold">{LABELS.startHeading}</Dialog.Title>
          <Dialog.Description className="mt-1 text-graphite">{MESSAGES.startWith(pluralize(faults.length, 'fault'))}</Dialog.Description>
          <ul className="my-4 max-h-[40vh] list-disc overflow-auto pl-5">
            {faults.map((f) => (
              <li key={f} className="py-0.5">
                {f}
              </li>
            ))}
          </ul>
          <div className="flex justify-end gap-3">
            <Button onClick={onCancel}>{LABELS.cancel}</Button>
            <Button onClick={onStart}>{LABELS.startAnyway}</Button>
            <Button primary autoFocus onClick={onLook}>
              {LABELS.showFindings}
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
