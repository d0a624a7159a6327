/** What the planning thread is asked and answers: all that goes through very many frames. */
import type { Frame } from '../../core/frame/frame.js';
import type { CompiledAssignments } from '../../core/materials/assignments.js';
import type { PlanContext } from '../../core/planning/planFrames.js';
import type { SetFile } from '../../core/plan/set.js';
import type { ReadSet, SetTextKind } from '../setText.js';

/** What is frozen when a batch starts; the same frames are made of it at any time. */
export interface PlanSnapshot {
  set: SetFile;
  context: PlanContext;
  /** Frames that were chosen, in each run's own numbers; all where absent. */
  select?: string;
  /** Frames of each moving shot that are rendered first; DEFAULT_FIRST_FRAMES where absent. */
  firstFrames?: number;
  /** Id of the variant that was asked for when the batch started. */
  variant?: string;
  /** Frames from one to the next of the round that is rendered first; 1 or absent: by plan. */
  spread?: number;
  /** The set is already that of the draft; these are its shares. */
  draft?: { size: number; samples: number };
  /** Equal pictures are not taken over. */
  anew?: boolean;
  /** Open faults of the check before the run that were accepted when it was started. */
  acceptedFaults?: string[];
  /** Names of the grades of shots, and of views alone, where they are those of presets; see lookOf. */
  looks?: Record<string, string>;
  /** File of the model, where it is another project's. */
  foreignModel?: string;
}

/** What a batch's row of a frame holds of the plan, in the order in which the thread answers it. */
export const ROW_COLUMNS = [
  'shot',
  'number',
  'name',
  'identity',
  'kind',
  'view',
  'time',
  'date',
  'first',
  'sequence',
  'filesKey',
  'grounds',
  'masterKey',
] as const;

/** Rows that are asked for, and written, at once. */
export const ROWS_PER_QUERY = 2000;

/** Requests by name, each with its answer. Plans are told apart by the hash of their text, and kept for a while. */
export interface PlanningCalls {
  open: { ask: { key: string; plan: string }; answer: { total: number } };
  /** A list of lists by ROW_COLUMNS, as JSON: the database takes it as it is. */
  rows: { ask: { key: string; from: number; to: number }; answer: string };
  frames: { ask: { key: string; from: number; to: number }; answer: Frame[] };
  /** What parts are made of, once each way that some frame shows them. */
  assignments: { ask: { key: string }; answer: CompiledAssignments[] };
  /** A set out of a long text. */
  readSet: { ask: { kind: SetTextKind; text: string }; answer: ReadSet };
}

/** What the planner can be asked for. */
export type PlanningCall = keyof PlanningCalls;

/** `known` is false where the plan of that key is not held any more and must be opened again. */
export type PlanningReply = { id: number; answer: unknown } | { id: number; problem: string } | { id: number; unknown: true };

/** A question to the planner. */
export interface PlanningRequest {
  id: number;
  call: PlanningCall;
  ask: unknown;
}
