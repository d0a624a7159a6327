/** Plans and answers of probes for tests of findings: clean unless a test says otherwise. */
import { parseSet, type SetFile } from '../../src/core/plan/set.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import type { Bounds } from '../../src/core/math/bounds.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { type ModelPart, preflightPlan, type ReportedFinding, runPreflight } from '../../src/core/preflight/preflight.js';
import type { FrameProbe, LightSummary, SubjectSummary } from '../../src/core/preflight/probe.js';
import type { OutputPlace, PreflightPlan } from '../../src/core/preflight/finding.js';

/** Bounds of the model that plans are made on. */
export const BOUNDS: Bounds = { min: [-1, 0, -1], max: [1, 2, 1] };
/** Its parts. */
export const PARTS: ModelPart[] = [
  { path: 'House', renderVisible: true, isContext: false, triangles: 12 },
  { path: 'Tree', renderVisible: true, isContext: true, triangles: 12 },
];

const VIEW = { id: 'front', name: 'Front', eye: [0, 1, 6], target: [0, 1, 0], focalLength: 35 };

/** A set of one still in one view, with what a test changes. */
export function setOf(changes: Record<string, unknown> = {}): SetFile {
  return parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    views: [VIEW],
    shots: [{ id: 'still', kind: 'still', views: ['front'] }],
    ...changes,
  });
}

/** Changes that make a set one turntable with these values. */
export const turntableOf = (values: Record<string, unknown> = {}): Record<string, unknown> => ({
  shots: [{ id: 'spin', kind: 'turntable', view: 'front', frames: 240, ...values }],
});

/** The plan of a set on that model. */
export function planOf(
  set: SetFile,
  { parts = PARTS, bounds = BOUNDS, ...more }: { parts?: ModelPart[]; bounds?: Bounds; missingFiles?: string[]; output?: OutputPlace } = {},
): PreflightPlan {
  return preflightPlan(set, planFrames(set, { bounds, scene: 'scene' }), { parts, bounds, scene: 'scene' }, more);
}

/** A subject that is shown well. */
export const SUBJECT: SubjectSummary = {
  outside: 0,
  over: { left: 0, top: 0, right: 0, bottom: 0 },
  box: [0.2, 0.2, 0.8, 0.8],
  area: 0.3,
  hidden: 0,
  isBehind: false,
  reach: [],
};

/** A frame that is exposed well. */
export const LIGHT: LightSummary = { black: 0, burnt: 0, wanted: 0, mean: 0.5, spread: 0.2 };

/** A frame that nothing is to be said of. */
export const CLEAN: FrameProbe = {
  covered: 0.4,
  subject: SUBJECT,
  nearest: 4,
  nearestPart: 'House',
  enclosed: 0,
  nearestInFrame: 4,
  beyondDepth: 0,
  interfaces: 0,
  glass: 0,
  closed: 0.5,
  floor: null,
  lights: null,
  light: LIGHT,
  marks: {},
};

/** What a probe answers where a test changes something of the subject or the light as well. */
export const answer = ({
  subject,
  light,
  ...rest
}: Omit<Partial<FrameProbe>, 'subject' | 'light'> & { subject?: Partial<SubjectSummary>; light?: Partial<LightSummary> } = {}): FrameProbe => ({
  ...CLEAN,
  ...rest,
  subject: { ...SUBJECT, ...subject },
  light: { ...LIGHT, ...light },
});

/** Findings of one kind, of a plan whose frames are answered so. */
export function findingsOf(check: string, plan: PreflightPlan, probe: (frame: Frame) => FrameProbe = () => CLEAN): ReportedFinding[] {
  return runPreflight(plan, probe).findings.filter((f) => f.check === check);
}

/** Severities alone: short to compare. */
export const severities = (...args: Parameters<typeof findingsOf>): string[] => findingsOf(...args).map((f) => f.severity);
