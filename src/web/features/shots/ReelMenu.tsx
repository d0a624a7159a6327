/** Reels: shots joined to one movie, in order, trimmed, faded and at their pace. */
import { type ReactNode, useRef, useState } from 'react';
import { Plus } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { fieldProblem } from '../../../core/base/issues.js';
import { readCut } from '../../../core/movie/lists.js';
import { type Reel, reelSchema } from '../../../core/plan/reel.js';
import { freeId, freeName } from '../../../core/edit/editSet.js';
import { kindOf } from '../../../core/shots/kinds.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button, Select, TextField } from '../../ui/controls.js';
import { toastProblem } from '../../state/toastProblem.js';
import { toast } from '../../state/toast.js';
import { HELP, LABELS, MESSAGES } from './fileWords.js';
import { FileInput } from '../../ui/FileInput.js';
import { ReelClips } from './ReelClips.js';

/** The set's reels, the one that is edited, and what can be done with them. */
function useReels() {
  const { plan, frames } = useWorkspace();
  const { file, edit } = plan!;
  const reels = file.reels ?? [];
  const [chosen, choose] = useState<string | null>(null);
  const reel = reels.find((r) => r.id === chosen) ?? reels[0];
  const put = (next: Reel): string | null => {
    const read = reelSchema.safeParse(next);
    if (!read.success) return fieldProblem(read.error);
    return edit((f) => ({ ...f, reels: reels.map((r) => (r.id === next.id ? read.data : r)) }));
  };
  const add = (): void => {
    const name = freeName(
      LABELS.reel,
      reels.map((r) => r.name),
    );
    const id = freeId(
      name,
      reels.map((r) => r.id),
    );
    const parts = file.shots.filter((s) => !s.off && kindOf(s).moving).map((s) => ({ shot: s.id }));
    const first = reelSchema.parse({ id, name, parts: parts.length > 0 ? parts : [{ shot: file.shots[0]!.id }] });
    const problem = edit((f) => ({ ...f, reels: [...reels, first] }));
    toastProblem(problem);
    if (!problem) choose(id);
  };
  const remove = (id: string): void => {
    const rest = reels.filter((r) => r.id !== id);
    toastProblem(edit((f) => ({ ...f, reels: rest.length > 0 ? rest : undefined })));
  };
  /** A reel out of a cut that another program wrote. */
  const bring = async (brought: File): Promise<void> => {
    try {
      const made = readCut(await brought.text(), file, frames);
      const problem = edit((f) => ({ ...f, reels: [...(f.reels ?? []), made] }));
      if (problem) throw new Error(problem);
      choose(made.id);
    } catch (e) {
      toast.error(MESSAGES.wasNotImported(brought.name, (e as Error).message));
    }
  };
  return { reels, reel, choose, put, add, bring, remove };
}

/** The set's reels, and a new one. */
export function ReelMenu({ className }: { className: string }): ReactNode {
  const { project, plan, frames } = useWorkspace();
  const { file } = plan!;
  const { reels, reel, choose, put, add, bring, remove } = useReels();
  const cut = useRef<HTMLInputElement>(null);
  return (
    <Dialog.Root>
      <Dialog.Trigger className={className} disabled={file.shots.length === 0}>
        {LABELS.reelsCount(reels.length > 0 ? ` ${reels.length}` : '')}
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-40 flex max-h-[88vh] w-[820px] -translate-x-1/2 -translate-y-1/2 flex-col overflow-auto border border-graphite bg-chalk p-5">
          <Dialog.Title className="text-lg font-semibold">{LABELS.reels}</Dialog.Title>
          <Dialog.Description className="mb-3 text-graphite">{HELP.shotsJoinedIntoOne}</Dialog.Description>
          <div className="flex items-end gap-4">
            {reel && (
              <div className="w-56">
                <Select
                  label={LABELS.reel}
                  help={HELP.reel}
                  value={reel.id}
                  options={reels.map((r) => ({ value: r.id, label: r.name }))}
                  onValue={choose}
                />
              </div>
            )}
            {reel && (
              <div className="w-56">
                <TextField label={LABELS.reelName} help={HELP.reelName} value={reel.name} onValue={(name) => put({ ...reel, name })} />
              </div>
            )}
            <Button onClick={add}>
              <Plus size={14} aria-hidden /> {LABELS.newReel}
            </Button>
            <Button title={HELP.makesAReelFrom} onClick={() => cut.current?.click()}>
              {LABELS.importEdit}
            </Button>
            <FileInput input={cut} accept=".otio,.edl,.json,.txt" label={LABELS.editFile} onFile={bring} />
            {reel && <Button onClick={() => remove(reel.id)}>{LABELS.delete}</Button>}
          </div>
          {reel && <ReelClips reel={reel} file={file} frames={frames} revisions={project.revisions.map((r) => r.letter)} put={put} />}
          <Dialog.Close className="absolute right-4 top-4 underline">{LABELS.close}</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
