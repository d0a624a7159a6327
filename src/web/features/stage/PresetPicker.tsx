/** Which of the set's stages is on the desk, and what is done with it. */
import type { ReactNode } from 'react';
import { Copy, Trash2 } from 'lucide-react';
import { withNewStage, withoutStage, withStage } from '../../../core/edit/editSet.js';
import { stageOf } from '../../../core/plan/set.js';
import { useWorkspace } from '../../app/workspace.js';
import { Select, TextField } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { HELP, LABELS, MESSAGES } from './words.js';
import { toast } from '../../state/toast.js';

/** No id is written like this. */
const FIRST = '-';

/** The stage whose preset is chosen. */
export interface PresetPickerProps {
  /** Id of a further stage; the set's own where absent. */
  chosen: string | undefined;
  onChoose: (id: string | undefined) => void;
}

/** Stages that ship, each with its thumbnail. */
export function PresetPicker({ chosen, onChoose }: PresetPickerProps): ReactNode {
  const { plan } = useWorkspace();
  const { file, edit } = plan!;
  const stages = file.stages ?? [];
  const current = stages.find((s) => s.id === chosen);
  const add = (name: string, stage: Parameters<typeof withNewStage>[2]): void => {
    let id = '';
    const problem = edit((f) => {
      const made = withNewStage(f, name, stage);
      id = made.id;
      return made.set;
    });
    if (problem) toast.error(problem);
    else onChoose(id);
  };
  const remove = (): void => {
    try {
      const without = withoutStage(file, current!.id);
      edit(() => without);
      onChoose(undefined);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  return (
    <section className="flex flex-col gap-2" aria-label={LABELS.stages}>
      <div className="flex items-end gap-2">
        <div className="min-w-0 flex-1">
          <Select
            label={LABELS.stage}
            help={HELP.stage}
            value={current?.id ?? FIRST}
            options={[{ value: FIRST, label: LABELS.stageOfTheSet }, ...stages.map((s) => ({ value: s.id, label: s.name }))]}
            onValue={(id) => onChoose(id === FIRST ? undefined : id)}
          />
        </div>
        <button
          type="button"
          className="mb-1 p-1"
          title={HELP.addsAStageWith}
          aria-label={LABELS.duplicateStage}
          onClick={() => add(LABELS.stage, stageOf(file, current?.id))}
        >
          <Copy size={14} aria-hidden />
        </button>
        {current && (
          <button type="button" className="mb-1 p-1" aria-label={LABELS.deleteStage(current.name)} onClick={remove}>
            <Trash2 size={14} aria-hidden />
          </button>
        )}
      </div>
      {current && (
        <TextField
          label={LABELS.stageName}
          help={HELP.stageName}
          value={current.name}
          onValue={(name) => edit((f) => ({ ...f, stages: f.stages?.map((s) => (s.id === current.id ? { ...s, name } : s)) }))}
        />
      )}
      <p className="text-sm">
        {MESSAGES.savedStages}{' '}
        <PresetMenu kind="stage" what="stage" body={stageOf(file, current?.id)} onUse={(stage) => edit((f) => withStage(f, current?.id, stage))} />
      </p>
    </section>
  );
}
