/** What the thread that checks plans is asked and answers. */
import type { CheckedPlan } from '../../engine/probes/checkPlan.js';
import type { PlanSnapshot } from './tasks.js';

/** Everything that a check reads, by path: the thread asks nobody. */
export interface PreflightTask {
  plan: Pick<PlanSnapshot, 'set' | 'context' | 'select'>;
  /** Parts of the revision as JSON (PartSummary[]). */
  parts: string;
  /** Compiled scene. */
  scene: string;
  /** Images by the names that the set gives them: textures as files, environment images as texels. */
  textures: Record<string, string>;
  environments: Record<string, string>;
  missingFiles: string[];
}

export type ToPreflight = { id: number; task: PreflightTask } | { id: number; stop: true };

export type FromPreflight =
  | { id: number; done: number; total: number }
  | { id: number; report: CheckedPlan }
  /** It was stopped, or cannot be done; the message says why. */
  | { id: number; stopped: true }
  | { id: number; problem: string };
