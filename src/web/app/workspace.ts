/** What every step works on: project, set, revision, the computed frames, the batches. */
import { createContext, useContext } from 'react';
import type { BatchReply } from '../../contract/batches.js';
import type { ProjectReply, RevisionReply } from '../../contract/contract.js';
import type { Frame } from '../../core/frame/frame.js';
import type { ImportProgress } from '../state/projectEvents.js';
import type { PreflightState } from '../state/preflight.js';
import type { PlanStore } from '../state/planSession.js';
import { MESSAGES } from './words.js';

/** What all steps of a set share. */
export interface Workspace {
  project: ProjectReply;
  setId: number;
  /** The revision that is worked on; undefined before a model is there. */
  revision: RevisionReply | undefined;
  plan: PlanStore | null;
  frames: Frame[];
  /** Why there are no frames, or null. */
  planProblem: string | null;
  /** What is to be said of the plan before it runs. */
  preflight: PreflightState;
  batches: BatchReply[];
  importing: ImportProgress | null;
}

/** Gives it to the steps; null outside of a project. */
export const WorkspaceContext = createContext<Workspace | null>(null);

/** The workspace. @throws outside of a project's frame. */
export function useWorkspace(): Workspace {
  const desk = useContext(WorkspaceContext);
  if (!desk) throw new Error(MESSAGES.stepOutsideShell);
  return desk;
}
