/** Runs the checks before a run: asks the kernel what the findings want to know, and lets them judge. */
import type { Frame } from '../../core/frame/frame.js';
import type { PreflightPlan } from '../../core/preflight/finding.js';
import { type PreflightReport, runPreflight, wantedProbes } from '../../core/preflight/preflight.js';
import type { FrameProbe } from '../../core/preflight/probe.js';
import type { AssetProvider } from '../scene/resolveScene.js';
import type { SceneProber } from './sceneProber.js';

/** Milliseconds after which others get their turn. */
const TURN_MS = 20;

/** What the checks of a plan say, and how much of it was looked at. */
export interface CheckedPlan extends PreflightReport {
  /** Frames of the plan, and how many of them were looked at. */
  frames: number;
  probed: number;
}

/** Answers by WantedProbe.key; whoever checks a plan again and again keeps one. */
export type ProbeCache = Map<string, FrameProbe>;

/** Probes frames elsewhere meanwhile: answers for indices of the plan's wanted probes, in their order. */
export type ProbeHelper = (indices: number[]) => Promise<FrameProbe[]>;

/** How checks are watched and stopped. */
export interface CheckOptions {
  cache?: ProbeCache;
  onProgress?: (done: number, total: number) => void;
  signal?: AbortSignal;
  /** Frames that are looked at; of others only what is known is told. All where it is absent. */
  only?: ReadonlySet<Frame>;
  /** Takes a share of the frames, where there are many. */
  helper?: ProbeHelper;
}

/** Lets what else waits in this thread go first. */
const nextTurn = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/** Frames that a helper takes at once, and how many such shares it has before it, so that it never waits. */
const SHARE = 8;
const SHARES_AHEAD = 2;

/** Frames that are still to be probed: both sides take from it until it is empty. */
class Remaining {
  private readonly places: number[];
  private next = 0;

  constructor(places: number[]) {
    this.places = places;
  }

  take(most: number): number[] {
    const taken = this.places.slice(this.next, this.next + most);
    this.next += taken.length;
    return taken;
  }

  giveBack(places: number[]): void {
    this.places.push(...places);
  }

  /** Where nobody waits any more. */
  clear(): void {
    this.next = this.places.length;
  }
}

/**
 * What rays meet of the frames that findings want to know of. Rejects with the signal's reason where that stops it, and
 * where the scene of a frame cannot be loaded. Frames of which the same was asked before are not asked again.
 */
export async function probePlan(
  plan: PreflightPlan,
  prober: SceneProber,
  source: AssetProvider,
  { cache = new Map(), onProgress, signal, only, helper }: CheckOptions = {},
): Promise<Map<Frame, FrameProbe>> {
  // Without its images no scene can be loaded; what needs none is said all the same.
  const wanted = plan.missingFiles.length > 0 ? [] : wantedProbes(plan);
  const unknown = [...wanted.keys()].filter((i) => !cache.has(wanted[i]!.key) && (only?.has(wanted[i]!.frame) ?? true));
  const remaining = new Remaining(unknown);
  let done = wanted.length - unknown.length;
  const keep = (i: number, answer: FrameProbe): void => {
    cache.set(wanted[i]!.key, answer);
    done++;
  };
  const helped = async (): Promise<void> => {
    for (let share = remaining.take(SHARE); share.length > 0; share = remaining.take(SHARE)) {
      try {
        (await helper!(share)).forEach((answer, k) => keep(share[k]!, answer));
      } catch {
        // What keeps it from the frames will be met here too, and said.
        remaining.giveBack(share);
        return;
      }
    }
  };
  const own = async (): Promise<void> => {
    let turn = performance.now();
    for (let [i] = remaining.take(1); i !== undefined; [i] = remaining.take(1)) {
      keep(i, await prober.probe(wanted[i]!, source));
      if (performance.now() - turn < TURN_MS) continue;
      onProgress?.(done, wanted.length);
      await nextTurn();
      signal?.throwIfAborted();
      turn = performance.now();
    }
  };
  const others = helper && unknown.length > SHARE * (SHARES_AHEAD + 1) ? Array.from({ length: SHARES_AHEAD }, helped) : [];
  try {
    await own();
    await Promise.all(others);
    // What a helper that broke down gave back.
    await own();
  } finally {
    remaining.clear();
  }
  return new Map(
    wanted.flatMap(({ frame, key }) => {
      const answer = cache.get(key);
      return answer ? [[frame, answer]] : [];
    }),
  );
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
