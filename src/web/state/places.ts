/** Projects and sets as wholes: renamed, duplicated, deleted and brought back. Each rejects with the server's reason. */
import { mutate } from 'swr';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import type { SetFile } from '../../core/plan/set.js';
import { send } from './api.js';
import { toast } from './toast.js';
import { toastProblem } from './toastProblem.js';
import { MESSAGES, STATE_LABELS } from './words.js';

const refresh = async (project: number): Promise<void> => {
  await Promise.all([mutate('/projects'), mutate('/projects?deleted'), mutate(`/projects/${project}`)]);
};

/** Says that something was deleted, and offers to bring it back. */
function offerUndo(name: string, restore: () => Promise<void>): void {
  toast(MESSAGES.deleted(name), {
    duration: 15_000,
    action: { label: STATE_LABELS.undo, onClick: () => void restore().catch((e: Error) => toastProblem(e.message)) },
  });
}

/** Gives the project another name. */
export async function renameProject(id: number, name: string): Promise<void> {
  await send('PUT', `/projects/${id}`, { name });
  await refresh(id);
}

/** @returns the copy. */
export async function duplicateProject(id: number): Promise<ProjectReply> {
  const copy = await send<ProjectReply>('POST', `/projects/${id}/duplicate`);
  await refresh(copy.id);
  return copy;
}

/** Undoes a deletion. */
export async function restoreProject(id: number): Promise<void> {
  await send('POST', `/projects/${id}/restore`);
  await refresh(id);
}

/** Deletes the project; a toast offers to undo it. */
export async function deleteProject({ id, name }: Pick<ProjectReply, 'id' | 'name'>): Promise<void> {
  await send('DELETE', `/projects/${id}`);
  await refresh(id);
  offerUndo(name, () => restoreProject(id));
}

/** @returns the number of the copy. */
export async function duplicateSet(project: number, file: SetFile): Promise<number> {
  const copy = await send<SetReply>('POST', `/projects/${project}/sets`, { file: { ...file, name: MESSAGES.copyOf(file.name).slice(0, 80) } });
  await refresh(project);
  return copy.id;
}

/** Deletes the set; a toast offers to undo it. */
export async function deleteSet(project: number, { id, name }: { id: number; name: string }): Promise<void> {
  await send('DELETE', `/sets/${id}`);
  await refresh(project);
  offerUndo(name, async () => {
    await send('POST', `/sets/${id}/restore`);
    await refresh(project);
  });
}

/** Undoes a deletion. */
export async function restoreRevision(project: number, id: number): Promise<void> {
  await send('POST', `/revisions/${id}/restore`);
  await refresh(project);
}

/** Deletes the revision; a toast offers to undo it. */
export async function deleteRevision(project: number, { id, letter }: { id: number; letter: string }): Promise<void> {
  await send('DELETE', `/revisions/${id}`);
  await refresh(project);
  offerUndo(MESSAGES.revision(letter), () => restoreRevision(project, id));
}
