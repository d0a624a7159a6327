/** Says what goes before a batch is deleted. */
import type { ReactNode } from 'react';
import { Dialog } from 'radix-ui';
import useSWR from 'swr';
import type { BatchReply } from '../../../contract/batches.js';
import type { BatchContents } from '../../../contract/queue.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { fileSize } from '../../app/format.js';
import { get } from '../../state/api.js';
import { Button } from '../../ui/controls.js';
import { attempt, deleteBatch } from './batchActions.js';
import { LABELS, MESSAGES } from './words.js';

/** Asks before a batch is deleted, and says what goes with it. */
export function DeleteDialog({ batch, onDone }: { batch: BatchReply; onDone: () => void }): ReactNode {
  const { data } = useSWR<BatchContents, Error>(`/batches/${batch.id}/contents`, get, { revalidateOnMount: true });
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-50 w-[480px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 border border-graphite bg-chalk p-5">
          <Dialog.Title className="text-lg font-semibold">{MESSAGES.deleteAsk(batch.number)}</Dialog.Title>
          <Dialog.Description className="mt-1 text-graphite">
            {data
              ? MESSAGES.deleteContents(
                  pluralize(data.frames, 'frame'),
                  pluralize(data.files, 'file'),
                  pluralize(data.movies, 'movie'),
                  fileSize(data.bytes),
                )
              : MESSAGES.loading}
          </Dialog.Description>
          {data && data.accepted > 0 && (
            <p className="mt-2 text-ochre">
              {data.accepted === 1 ? MESSAGES.deleteAccepted('1') : MESSAGES.deleteAcceptedSome(String(data.accepted))}
            </p>
          )}
          {data && <p className="mt-2 text-graphite">{MESSAGES.deleteDays(data.days)}</p>}
          <div className="mt-4 flex justify-end gap-3">
            <Button autoFocus onClick={onDone}>
              {LABELS.cancel}
            </Button>
            <Button
              primary
              disabled={!data}
              onClick={() => {
                onDone();
                attempt(deleteBatch(batch));
              }}
            >
              {LABELS.delete}
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
