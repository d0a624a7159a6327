/** What can be done with a batch as a whole. Each says itself what went wrong. */
import { mutate } from 'swr';
import type { BatchReply } from '../../../contract/batches.js';
import type { SetReply } from '../../../contract/contract.js';
import { send } from '../../state/api.js';
import { askOfBatch } from '../../state/askOfBatch.js';
import { batchLists } from '../../state/projectEvents.js';
import { toast } from '../../state/toast.js';
import { toastProblem } from '../../state/toastProblem.js';
import { MESSAGES as STATE_MESSAGES, STATE_LABELS } from '../../state/words.js';
import { MESSAGES } from './words.js';

/** Shows what went wrong with it, where something does. */
export const attempt = (act: Promise<unknown>): void => void act.catch((e: Error) => toastProblem(e.message));

const refresh = async (project: number): Promise<void> => {
  await Promise.all([...batchLists(project), '/batches?deleted'].map((key) => mutate(key)));
};

/** Pauses, resumes, stops or retries a batch. */
export const steer = (batch: BatchReply, what: 'pause' | 'resume' | 'stop' | 'retry'): void => askOfBatch(batch, what);

/** Where a batch comes: what is left out stays. */
export async function placeBatch(
  batch: BatchReply,
  place: { priority?: BatchReply['priority']; before?: number | null; startAt?: string | null },
): Promise<void> {
  await send('PUT', `/batches/${batch.id}/place`, place);
  await refresh(batch.projectId);
}

/** Undoes a deletion. */
export async function restoreBatch({ id, projectId }: BatchReply): Promise<void> {
  await send('POST', `/batches/${id}/restore`);
  await refresh(projectId);
}

/** Deletes a batch that is over, and offers to bring it back. */
export async function deleteBatch(batch: BatchReply): Promise<void> {
  await send('DELETE', `/batches/${batch.id}`);
  await refresh(batch.projectId);
  toast(STATE_MESSAGES.deleted(MESSAGES.deletedName(batch.number)), {
    duration: 15_000,
    action: { label: STATE_LABELS.undo, onClick: () => attempt(restoreBatch(batch)) },
  });
}

/** Makes a set of the plan as the batch had it. @returns the set. */
export async function planAgain(batch: BatchReply): Promise<SetReply> {
  const set = await send<SetReply>('POST', `/batches/${batch.id}/set`);
  await Promise.all([mutate('/projects'), mutate(`/projects/${batch.projectId}`)]);
  toast(MESSAGES.planned(set.file.name));
  return set;
}
