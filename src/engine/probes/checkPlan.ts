/** Runs the checks before a run: asks the kernel what the findings want to know, and lets them judge. */
import type { Frame } from '../../core/frame/frame.js';
import type { PreflightPlan } from '../../core/preflight/finding.js';
import { type PreflightReport, runPreflight, wantedProbes } from '../../core/preflight/preflight.js';
import type { FrameProbe } from '../../core/preflight/probe.js';
import type { AssetProvider } from '../scene/resolveScene.js';
import type { SceneProber } from './sceneProber.js';

/** Frames of a plan that are probed at most; of a longer one every so many. */
export const MAX_PROBED_FRAMES = 3000;
/** Milliseconds after which others get their turn. */
const TURN_MS = 20;

export interface CheckedPlan extends PreflightReport {
  /** Frames of the plan, and how many of them were looked at. */
  frames: number;
  probed: number;
}

/** Answers by WantedProbe.key; whoever checks a plan again and again keeps one. */
export type ProbeCache = Map<string, FrameProbe>;

export interface CheckOptions {
  cache?: ProbeCache;
  onProgress?: (done: number, total: number) => void;
  signal?: AbortSignal;
}

/** Lets what else waits in this thread go first. */
const nextTurn = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/**
 * What rays meet of the frames that findings want to know of. Rejects with the signal's reason where that stops it, and
 * where the scene of a frame cannot be loaded. Frames that were asked before, by identity, are not asked again.
 */
export async function probePlan(
  plan: PreflightPlan,
  prober: SceneProber,
  source: AssetProvider,
  options: CheckOptions = {},
): Promise<Map<Frame, FrameProbe>> {
  const { cache = new Map(), onProgress, signal } = options;
  // Without its images no scene can be loaded; what needs none is said all the same.
  const all = plan.missingFiles.length > 0 ? [] : wantedProbes(plan);
  const every = Math.max(1, Math.ceil(all.length / MAX_PROBED_FRAMES));
  const wanted = all.filter((_, i) => i % every === 0);
  const answers = new Map<Frame, FrameProbe>();
  let turn = performance.now();
  for (const [i, { frame, request, key }] of wanted.entries()) {
    let answer = cache.get(key);
    if (!answer) {
      answer = await prober.probe(frame, request, source);
      cache.set(key, answer);
    }
    answers.set(frame, answer);
    if (performance.now() - turn < TURN_MS) continue;
    onProgress?.(i + 1, wanted.length);
    await nextTurn();
    signal?.throwIfAborted();
    turn = performance.now();
  }
  return answers;
}

/** The whole check; rejects as probePlan does. */
export async function checkPlan(plan: PreflightPlan, prober: SceneProber, source: AssetProvider, options: CheckOptions = {}): Promise<CheckedPlan> {
  const answers = await probePlan(plan, prober, source, options);
  return {
    ...runPreflight(plan, (frame) => answers.get(frame)),
    frames: plan.outputs.reduce((n, o) => n + o.frames.length, 0),
    probed: answers.size,
  };
}
