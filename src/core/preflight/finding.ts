/** What a finding is: one file that names what it needs of the plan and of probes, and judges. */
import type { Bounds } from '../math/bounds.js';
import type { Frame } from '../frame/frame.js';
import type { SetFile } from '../plan/set.js';
import type { Shot } from '../shots/kinds.js';
import type { Cells } from './cells.js';
import type { Patch } from './patch.js';
import type { Box, FrameProbe } from './probe.js';

/** Fault: the run is wasted. Doubt: look at it. Note: worth knowing. The worst first. */
export const SEVERITIES = ['fault', 'doubt', 'note'] as const;
/** One of {@link SEVERITIES}. */
export type Severity = (typeof SEVERITIES)[number];

/** Columns of the table of findings. */
export const AREAS = ['image', 'movement', 'light', 'section', 'model', 'format'] as const;
/** One of {@link AREAS}. */
export type Area = (typeof AREAS)[number];

/** What a finding reads: the plan alone, rays of each frame, or the estimated light of some frames. */
export type Need = 'plan' | 'rays' | 'light';

/** A part of the model as findings read it. */
export interface PlanPart {
  path: string;
  /** As the file and the set have it: shown in renders, and in the viewport. */
  renderVisible: boolean;
  viewportVisible: boolean;
  isContext: boolean;
  /** Consists of lines alone. */
  isLines: boolean;
  /** Without faces it shows nothing. */
  triangles: number;
  /** Its faces do not close, so that a section of it has nothing to cap. */
  isOpen: boolean;
  /** Of the part alone, in the model; null where nobody said. */
  bounds: Bounds | null;
}

/** One run of frames: a shot in one size and variant. */
export interface PlannedOutput {
  /** Frame.shot. */
  run: string;
  shot: Shot;
  /** As people call it. */
  name: string;
  frames: Frame[];
  /** Frames a second. */
  rate: number;
  /** Paths of the parts that it is to show whole, each with all below; null where it has no subject. */
  subject: readonly string[] | null;
}

/** Where files are to go. */
export interface OutputPlace {
  /** As people are told it. */
  folder: string;
  writable: boolean;
  /** Bytes that may be written there. */
  free: number;
  /** Bytes of all files as foreseen; null where nobody foresaw them. */
  needed: number | null;
}

/** All that is known before a run. */
export interface PreflightPlan {
  set: SetFile;
  outputs: PlannedOutput[];
  parts: PlanPart[];
  /** Bounds of the model as the set puts it, metres. */
  bounds: Bounds;
  /** Content hash of the model. */
  scene: string;
  /** Files of images that the set names and nobody has. */
  missingFiles: string[];
  /** Absent where nothing is known of it. */
  output?: OutputPlace;
}

/** What is drawn on a frame to show a finding. */
export type Overlay =
  /** Strips along the frame's sides, of these shares of its width and height. */
  | { kind: 'sides'; left: number; top: number; right: number; bottom: number }
  /** A rectangle, in shares of the frame. */
  | { kind: 'box'; box: Box }
  /** Pixels of the probe. */
  | { kind: 'cells'; cells: Cells };

/** The overlay of what is marked, where anything is. */
export const overCells = (cells: Cells | undefined): { overlay?: Overlay } =>
  cells && cells.runs.length > 0 ? { overlay: { kind: 'cells', cells } } : {};

/** The overlay of a box, where the frame shows it. */
export const overBox = (box: Box | undefined): { overlay?: Overlay } => (box ? { overlay: { kind: 'box', box } } : {});

/** An ordinary edit of the set that mends a finding. */
export interface Fix {
  /** What it does, as on a button. */
  label: string;
  patch: Patch;
}

/** A value a frame, of the frames of the finding's run. */
export interface FindingCurve {
  label: string;
  unit: string;
  values: number[];
}

/** What a finding says once. */
export interface Found {
  severity: Severity;
  /** Run of frames (Frame.shot); absent where it is the set's. */
  run?: string;
  /** Numbers of the frames that it is about; absent where it is all of them. */
  frames?: number[];
  /** Number of the frame that shows it best. */
  worst?: number;
  /** What, where and by how much. */
  message: string;
  overlay?: Overlay;
  fix?: Fix;
  curve?: FindingCurve;
  /** What a waiver of it depends on, beside the frames themselves: where this changes, the waiver ends. */
  about?: unknown;
}

/** What a frame's probe saw; undefined where it was not probed. */
export type ProbeOf = (frame: Frame) => FrameProbe | undefined;

/** One thing that can be wrong with a plan, and how it is found. */
export interface Finding {
  id: string;
  title: string;
  area: Area;
  needs: Need;
  inspect(plan: PreflightPlan, probe: ProbeOf): Found[];
}

/** Frames of an output with their probes; those that were not probed are left out. */
export function probed(output: PlannedOutput, probe: ProbeOf): { frame: Frame; probe: FrameProbe }[] {
  return output.frames.flatMap((frame) => {
    const answer = probe(frame);
    return answer ? [{ frame, probe: answer }] : [];
  });
}

/** Judges one run of frames after another; what is found is told of that run. */
export const eachOutput =
  (inspect: (output: PlannedOutput, plan: PreflightPlan, probe: ProbeOf) => Found[]): Finding['inspect'] =>
  (plan, probe) =>
    plan.outputs.flatMap((output) => inspect(output, plan, probe).map((found) => ({ run: output.run, ...found })));
