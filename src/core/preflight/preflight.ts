/**
 * Checks a plan before it runs: says what is wanted of which frames, and judges the answers. Pure; whoever calls it asks
 * the engine in between.
 */
import { hashOf } from '../base/hash.js';
import type { Bounds } from '../math/bounds.js';
import { type Frame, groupByShotOutput, shotIdOfOutput } from '../frame/frame.js';
import { type SharedTexts, viewKeyOf } from '../frame/identity.js';
import { resolveMaterials } from '../materials/assignments.js';
import { effectiveSettings } from '../plan/formatSheet.js';
import { outputName, type SetFile } from '../plan/set.js';
import type { Waiver } from '../plan/waiver.js';
import { kindOf, type Shot } from '../shots/kinds.js';
import { parseRate, rateValue } from '../units/rate.js';
import type { Area, Finding, Found, OutputPlace, PlannedOutput, PlanPart, PreflightPlan, ProbeOf, Severity } from './finding.js';
import { FINDINGS } from './findings.js';
import { momentHash } from './moment.js';
import { LIGHT_BOUNCES, type ProbeRequest } from './probe.js';

/** A part as the model's file has it. */
export interface ModelPart {
  path: string;
  renderVisible: boolean;
  isContext: boolean;
  triangles: number;
  /** Its faces do not close. */
  open?: boolean | undefined;
  /** Of the part alone, in the model; absent of revisions of earlier versions. */
  bounds?: Bounds | undefined;
  /** Pieces of line, of a part that is lines. */
  lines?: number | undefined;
}

/** The plan as findings read it. */
export function preflightPlan(
  set: SetFile,
  frames: readonly Frame[],
  model: { parts: readonly ModelPart[]; bounds: Bounds; scene: string },
  { missingFiles = [], output }: { missingFiles?: string[]; output?: OutputPlace } = {},
): PreflightPlan {
  const { parts: choices = [] } = set.materials ?? {};
  const resolved = resolveMaterials(
    model.parts.map((p) => ({ ...p, materials: [] })),
    { parts: choices, rules: [], swaps: [] },
  );
  const parts = model.parts.map((p, i): PlanPart => {
    const { renderVisible, viewportVisible, isContext } = resolved[i]!;
    return {
      path: p.path,
      renderVisible,
      viewportVisible,
      isContext,
      isLines: p.lines !== undefined,
      triangles: p.triangles,
      isOpen: p.open ?? false,
      bounds: p.bounds ?? null,
    };
  });
  const whole = parts.filter((p) => p.triangles > 0 && p.renderVisible && !p.isContext).map((p) => p.path);
  const outputs = [...groupByShotOutput(frames)].map(([run, own]): PlannedOutput => {
    const shot = set.shots.find((s) => s.id === shotIdOfOutput(run))!;
    return {
      run,
      shot,
      name: outputName(set, run),
      frames: own,
      rate: rateValue(parseRate(effectiveSettings(set.sheet, shot).rate)),
      subject: subjectOf(shot, whole),
    };
  });
  return { set, outputs, parts, bounds: model.bounds, scene: model.scene, missingFiles, ...(output && { output }) };
}

function subjectOf(shot: Shot, whole: readonly string[]): readonly string[] | null {
  const wanted = shot.subject ?? (kindOf(shot).movesThrough ? 'none' : 'model');
  if (wanted === 'none' || (wanted === 'model' && whole.length === 0)) return null;
  return wanted === 'model' ? whole : wanted;
}

/** Frames of a run whose light is estimated, at most: evenly over it, with both ends. */
const LIT_FRAMES = 5;
/** The same where the sun moves. */
const SUNLIT_FRAMES = 24;

/** Which of a run's frames have their light estimated. */
function litFrames(frames: readonly Frame[], isStill: boolean): Set<Frame> {
  const moves = new Set(frames.map((f) => f.sun && `${f.sun.azimuth} ${f.sun.altitude}`)).size > 1;
  const most = isStill || moves ? SUNLIT_FRAMES : LIT_FRAMES;
  if (frames.length <= most) return new Set(frames);
  return new Set(Array.from({ length: most }, (_, i) => frames[Math.round((i * (frames.length - 1)) / (most - 1))]!));
}

/** A frame to be probed, and what is wanted of it. */
export interface WantedProbe {
  frame: Frame;
  request: ProbeRequest;
  /** Equal for frames of which rays meet the same: how finely they are rendered, and what is written of it, does not count. */
  view: string;
  /** Tells equal questions apart from others. */
  key: string;
}

/** Rays of a probe have a sampling of their own; this much of the frame's is left of it. */
const probedSampling = ({ bounces, refractionDepth, fireflyClamp, caustics, filter }: Frame['sampling']): Partial<Frame['sampling']> => ({
  bounces: Math.min(bounces, LIGHT_BOUNCES),
  refractionDepth,
  fireflyClamp,
  caustics,
  filter,
});

/** What the findings want to know, frame by frame in the order of the plan. */
export function wantedProbes({ outputs, scene }: PreflightPlan): WantedProbe[] {
  const texts: SharedTexts = new WeakMap();
  return outputs.flatMap(({ frames, shot, subject }) => {
    const lit = litFrames(frames, !kindOf(shot).moving);
    const about = subject && hashOf(subject);
    return frames.map((frame, i): WantedProbe => {
      const request = { subject, light: lit.has(frame), floor: i === 0 && frame.stage.base !== null, lights: i === 0 };
      const view = viewKeyOf(frame, scene, probedSampling(frame.sampling), texts);
      // The grade is no part of it, and decides what comes out black.
      const key = [view, about ?? '', request.light ? hashOf(frame.grade) : '', request.floor ? 'floor' : '', request.lights ? 'lights' : ''].join(
        ' ',
      );
      return { frame, request, view, key };
    });
  });
}

/** A finding as it is reported. */
export interface ReportedFinding extends Omit<Found, 'about'> {
  /** Id of its kind, and one of its own in this report. */
  check: string;
  key: string;
  title: string;
  area: Area;
  /** What its run is called; absent where it is the set's. */
  shotName?: string;
  /** What a waiver of it must be about: of this run, of the whole set, and of the worst frame alone, where a frame can be waived. */
  about: { shot: string; set: string; frame?: string };
  /** Why it was accepted. */
  waived?: string;
  /** While it stands there is no plan at all, so it cannot be waived. */
  blocks?: true;
}

/** What the checks of a plan say. */
export interface PreflightReport {
  findings: ReportedFinding[];
  /** Waivers of the set, and whether what each is about is unchanged. */
  waivers: (Waiver & { holds: boolean })[];
}

/** Faults and doubts that nobody waived. */
export function openFindings({ findings }: Pick<PreflightReport, 'findings'>, severity: Severity): ReportedFinding[] {
  return findings.filter((f) => f.severity === severity && f.waived === undefined);
}

/** Says what a waiver is about, in few characters. */
export const shortHash = (value: unknown): string => hashOf(value).slice(0, 32);

/** What a finding of a run is about: its frames as they are seen, and what else it depends on. */
function aboutOf(found: Found, output: PlannedOutput | undefined, plan: PreflightPlan): string {
  const chosen = found.frames && new Set(found.frames);
  const frames = found.about === undefined && output ? output.frames.filter((f) => !chosen || chosen.has(f.number)) : [];
  return shortHash({ run: found.run, about: found.about, frames: frames.map((f) => momentHash(f, plan.scene)), severity: found.severity });
}

interface Inspected {
  found: Found;
  about: string;
}

function report(
  finding: Finding,
  { found, about }: Inspected,
  index: number,
  set: string,
  plan: PreflightPlan,
  waivers: readonly Waiver[],
): ReportedFinding {
  const output = plan.outputs.find((o) => o.run === found.run);
  const worst = found.worst === undefined ? undefined : output?.frames.find((f) => f.number === found.worst);
  const { about: _, ...said } = found;
  const waived = waivers.find(
    (w) => w.finding === finding.id && w.frame === undefined && (w.shot === undefined ? w.about === set : w.shot === found.run && w.about === about),
  );
  return {
    check: finding.id,
    key: `${finding.id} ${found.run ?? ''} ${index}`,
    title: finding.title,
    area: finding.area,
    ...said,
    ...(found.run !== undefined && { shotName: outputName(plan.set, found.run) }),
    about: {
      shot: about,
      set,
      ...(finding.needs !== 'plan' && worst && found.frames && { frame: momentHash(worst, plan.scene) }),
    },
    ...(waived && { waived: waived.reason }),
  };
}

/** Judges the plan by what the engine answered. */
export function runPreflight(plan: PreflightPlan, probe: ProbeOf, findings: readonly Finding[] = FINDINGS): PreflightReport {
  const waivers = plan.set.waivers ?? [];
  const held = new Set<Waiver>();
  const reported = findings.flatMap((finding) => {
    const own = waivers.filter((w) => w.finding === finding.id);
    // A waived frame is left out before judging, so that what is said counts for the rest.
    const left = new Set<Frame>();
    for (const w of own) {
      if (w.frame === undefined) continue;
      const frame = plan.outputs.find((o) => o.run === w.shot)?.frames.find((f) => f.number === w.frame);
      if (!frame || momentHash(frame, plan.scene) !== w.about) continue;
      left.add(frame);
      held.add(w);
    }
    const all = finding
      .inspect(plan, (frame) => (left.has(frame) ? undefined : probe(frame)))
      .map((found): Inspected => ({
        found,
        about: aboutOf(
          found,
          plan.outputs.find((o) => o.run === found.run),
          plan,
        ),
      }));
    const set = shortHash(all.map((i) => i.about));
    for (const w of own)
      if (
        w.frame === undefined &&
        (w.shot === undefined ? all.length > 0 && w.about === set : all.some((i) => i.found.run === w.shot && i.about === w.about))
      )
        held.add(w);
    return all.map((inspected, i) => report(finding, inspected, i, set, plan, own));
  });
  return { findings: reported, waivers: waivers.map((w) => ({ ...w, holds: held.has(w) })) };
}
