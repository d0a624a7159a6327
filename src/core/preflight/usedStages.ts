/** The stages that the plan's shots stand on, each with the first output that shows it. */
import { type SetFile, stageOf } from '../plan/set.js';
import type { StageSettings } from '../stage/stage.js';
import type { PlannedOutput, PreflightPlan } from './finding.js';

/** A stage that shots are rendered on, with one of them. */
export interface UsedStage {
  /** Id of a further stage; undefined for the set's own. */
  id: string | undefined;
  stage: StageSettings;
  output: PlannedOutput;
}

/** The stages that planned frames use, each once. */
export function usedStages({ outputs, set }: Pick<PreflightPlan, 'outputs' | 'set'>): UsedStage[] {
  const first = new Map<string | undefined, PlannedOutput>();
  for (const output of outputs) if (output.frames.length > 0 && !first.has(output.shot.stage)) first.set(output.shot.stage, output);
  return [...first].map(([id, output]) => ({ id, stage: stageOf(set, id), output }));
}

/** The set with another stage in the place of that one. */
export function withUsedStage(set: SetFile, id: string | undefined, stage: StageSettings): SetFile {
  return id === undefined ? { ...set, stage } : { ...set, stages: set.stages?.map((s) => (s.id === id ? { ...s, stage } : s)) };
}
