import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { defaultView } from '../../../core/camera/defaultView.js';
import { type View, viewProblem } from '../../../core/camera/view.js';
import { withStage } from '../../../core/edit/editSet.js';
import type { Bounds, Vec3 } from '../../../core/math/bounds.js';
import { type SetFile, stageOf } from '../../../core/plan/set.js';
import { subjectBounds } from '../../../core/planning/planFrames.js';
import type { StageSettings } from '../../../core/stage/stage.js';
import { useWorkspace } from '../../app/workspace.js';
import { toast } from '../../state/toast.js';

/** What is changed on the Stage step, and from where it is looked at. */
export interface StageEditor {
  /** The further stage that is changed; undefined for the set's own. */
  further: NonNullable<SetFile['stages']>[number] | undefined;
  /** @param id undefined for the set's own. */
  chooseStage(id: string | undefined): void;
  stage: StageSettings;
  /** @returns what is wrong with it, which is said too; null where it was taken. */
  change(values: Partial<StageSettings>): string | null;
  /** Of the subject; undefined without a model. */
  bounds: Bounds | undefined;
  /** The view of the set that is looked from. */
  kept: View | undefined;
  chooseView(id: string): void;
  /** Where it is looked from now; null without a model. */
  view: View | null;
  move(pose: { eye: Vec3; target: Vec3 }): void;
}

/** The stage that the address names, and the view it is looked at from. */
export function useStageEditor(): StageEditor {
  const { revision, plan } = useWorkspace();
  const { file, edit } = plan!;
  const { sheet } = file;
  const [query, setQuery] = useSearchParams();
  const further = file.stages?.find((s) => s.id === query.get('stage'));
  const bounds = revision && subjectBounds(file, revision.bounds);
  const [chosen, setChosen] = useState<string | null>(null);
  const [moved, setMoved] = useState<{ eye: Vec3; target: Vec3 } | null>(null);
  const kept = file.views.find((v) => v.id === chosen) ?? file.views[0];
  const base: View | null = kept ?? (bounds ? defaultView(bounds, sheet.size, sheet.pixelAspect) : null);
  return {
    further,
    chooseStage: (id) => setQuery(id ? { stage: id } : {}),
    stage: stageOf(file, further?.id),
    change: (values) => {
      const problem = edit((f) => withStage(f, further?.id, { ...stageOf(f, further?.id), ...values }));
      if (problem) toast.error(problem);
      return problem;
    },
    bounds,
    kept,
    chooseView: (id) => {
      setChosen(id);
      setMoved(null);
    },
    view: base && moved ? { ...base, ...moved, keepVerticals: base.keepVerticals && viewProblem({ ...base, ...moved }) === null } : base,
    move: setMoved,
  };
}
