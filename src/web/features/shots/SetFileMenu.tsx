import { type ReactNode, useRef } from 'react';
import { Popover } from 'radix-ui';
import { mutate } from 'swr';
import type { ProjectReply, SetReply } from '../../../contract/contract.js';
import { PLAN_LISTS, type PlanList } from '../../../core/movie/lists.js';
import { groupByShotOutput } from '../../../core/frame/frame.js';
import { slugify } from '../../../core/plan/fileNames.js';
import { importShotList, importSunTable } from '../../../core/edit/importTables.js';
import { parseSet } from '../../../core/plan/set.js';
import { send } from '../../state/api.js';
import { toast } from '../../state/toast.js';
import { useWorkspace } from '../../app/workspace.js';
import { PLAIN_BUTTON, TextField } from '../../ui/controls.js';
import { saveText } from '../../ui/saveText.js';
import { SavedPlanLink } from '../../ui/SavedPlanLink.js';
import { HELP, LABELS, MESSAGES } from './fileWords.js';
import { FileInput } from '../../ui/FileInput.js';

/** Export and import of the set as an open file, and the model that goes with it. */
export function SetFileMenu({
  setId,
  project,
  revision,
  onImported,
}: {
  setId: number;
  project: ProjectReply;
  revision: number;
  onImported: (id: number) => void;
}): ReactNode {
  const { plan, frames } = useWorkspace();
  const { file, edit } = plan!;
  const input = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLInputElement>(null);
  const bring = async (brought: File): Promise<void> => {
    try {
      const reply = await send<SetReply>('POST', `/projects/${project.id}/sets`, { file: parseSet(JSON.parse(await brought.text())) });
      await mutate(`/projects/${project.id}`);
      onImported(reply.id);
    } catch (e) {
      toast.error(MESSAGES.wasNotImported(brought.name, (e as Error).message));
    }
  };
  /** Takes a table that another program changed back into this set; one step of undo. */
  const takeList = async (brought: File): Promise<void> => {
    try {
      const text = await brought.text();
      const runs = groupByShotOutput(frames);
      const sun = /^[^\r\n]*\bdate\b/i.test(text);
      const taken = sun
        ? importSunTable(file, text, (shot) => (runs.get(shot) ?? []).map((f) => f.sun ?? {}))
        : importShotList(file, text, new Set(frames.map((f) => f.shot)));
      const problem = taken.changes.length > 0 ? edit(() => taken.set) : null;
      if (problem) throw new Error(problem);
      toast(taken.changes.length > 0 ? taken.changes.join(' ') : MESSAGES.matchesTheSetNothing(brought.name));
    } catch (e) {
      toast.error(MESSAGES.wasNotImported(brought.name, (e as Error).message));
    }
  };
  return (
    <Popover.Root>
      <Popover.Trigger className={PLAIN_BUTTON}>{LABELS.setFile}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} className="z-40 flex w-64 flex-col gap-1 border border-graphite bg-chalk p-3">
          <TextField
            label={LABELS.author}
            help={HELP.author}
            value={file.author ?? ''}
            onValue={(author) => edit((f) => ({ ...f, author: author.trim() || undefined }))}
          />
          <SavedPlanLink href={`/api/sets/${setId}/export`}>{LABELS.exportSetFile}</SavedPlanLink>
          <SavedPlanLink href={`/api/sets/${setId}/plan.glb?revision=${revision}`}>{LABELS.exportPlanAsGlb}</SavedPlanLink>
          {(Object.keys(PLAN_LISTS) as PlanList[]).map((ending) => (
            <button
              key={ending}
              type="button"
              className="text-left underline"
              onClick={() => saveText(`${slugify(file.name)}.${ending}`, PLAN_LISTS[ending].make(file, frames))}
            >
              {PLAN_LISTS[ending].label}
            </button>
          ))}
          <a className="underline" href={`/api/revisions/${revision}/model.glb?download`} download>
            {LABELS.exportModelAsGlb}
          </a>
          <button type="button" className="text-left underline" onClick={() => input.current?.click()}>
            {LABELS.importSetFile}
          </button>
          <FileInput input={input} accept=".json" label={LABELS.setFile} onFile={bring} />
          <button type="button" className="text-left underline" title={HELP.readsOrderNamesAnd} onClick={() => list.current?.click()}>
            {LABELS.importChangedCsv}
          </button>
          <FileInput input={list} accept=".csv,.tsv,.txt" label={LABELS.changedCsv} onFile={takeList} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
