/** What the thread that looks at plans before they run is asked and answers. */
import type { PlannedWork } from '../../core/forecast/forecast.js';
import type { Frame } from '../../core/frame/frame.js';
import type { FrameProbe } from '../../core/preflight/probe.js';
import type { OutputPlace } from '../../core/preflight/finding.js';
import type { CheckedPlan } from '../../engine/probes/checkPlan.js';
import type { PlanSnapshot } from './tasks.js';

/** What a forecast begins with. */
export interface WorkReply {
  plan: PlannedWork;
  /** Frames to try, each as a trial renders it and with its index in the plan. */
  trials: { index: number; frame: Frame }[];
  /** The first of them that is not denoised, and the same denoised: what that takes. Absent where all are. */
  denoised?: { index: number; frame: Frame };
}

/** Requests by name, each with its answer. */
export interface PreflightCalls {
  check: { ask: PreflightTask; answer: CheckedPlan };
  work: { ask: PreflightTask; answer: WorkReply };
}
/** What the worker can be asked for. */
export type PreflightCall = keyof PreflightCalls;

/** A share of the frames of a task: the thread beside it keeps the task under its number. */
export interface ProbeShare {
  serial: number;
  /** With the first share. */
  task?: PreflightTask;
  /** Places among the plan's wanted probes. */
  indices: number[];
}

/** Between the thread and the one beside it. */
export type ToProbeHelper = ProbeShare & { id: number };
/** What a helper that probes answers. */
export type FromProbeHelper = { id: number; answers: FrameProbe[] } | { id: number; problem: string };

/** Everything that is read for it, by path: the thread asks nobody. */
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
  output: OutputPlace;
}

/** All that the worker is told. */
export type ToPreflight =
  | { [C in PreflightCall]: { id: number; call: C; ask: PreflightCalls[C]['ask'] } }[PreflightCall]
  | { id: number; stop: true };

/** All that the worker says. */
export type FromPreflight =
  | { id: number; done: number; total: number }
  | { id: number; answer: unknown }
  /** It was stopped, or cannot be done; the message says why. */
  | { id: number; stopped: true }
  | { id: number; problem: string };
