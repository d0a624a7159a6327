/** Trials and forecasts that are kept: what was measured once is not measured again. */
import { hashOf } from '../../core/base/hash.js';
import type { TriedFrame } from '../../core/forecast/cost.js';
import type { PlanForecast, PlannedWork } from '../../core/forecast/forecast.js';
import type { Learnt } from '../../core/forecast/learnt.js';
import type { Trial } from '../../core/forecast/trial.js';
import type { Frame } from '../../core/frame/frame.js';
import type { PreflightTask } from '../planning/preflightTask.js';
import { machineOf } from './pastBatches.js';

/** All that is known of a plan's cost. */
export interface Foreseen extends PlanForecast {
  plan: PlannedWork;
  tried: TriedFrame[];
  learnt: Learnt;
  /** What denoising takes, seconds a pixel; absent where all is denoised. */
  denoisePixel?: number;
}

const MAX_TRIALS = 5000;
const MAX_FORECASTS = 24;

/** What of a plan makes its frames, whatever the batch is called. */
const keyOf = ({ set, context, select }: PreflightTask['plan']): string => hashOf({ set, scene: context.scene, select: select ?? '' });

/** Forgets the oldest of a list by key. */
function keep<T>(map: Map<string, T>, key: string, value: T, most: number): void {
  map.delete(key);
  map.set(key, value);
  if (map.size > most) map.delete(map.keys().next().value!);
}

/** Trials and forecasts that were made, so that only what changed is tried anew. */
export class ForecastCache {
  private readonly trials = new Map<string, Trial>();
  private readonly forecasts = new Map<string, Foreseen>();
  /** As machineOf has it. */
  readonly machine: string;

  constructor(workers: number) {
    this.machine = machineOf(workers);
  }

  /** The forecast of a plan that was made before, or null. */
  known(plan: PreflightTask['plan']): Foreseen | null {
    return this.forecasts.get(keyOf(plan)) ?? null;
  }

  keepForecast(plan: PreflightTask['plan'], foreseen: Foreseen): void {
    keep(this.forecasts, keyOf(plan), foreseen, MAX_FORECASTS);
  }

  /** The trial of a frame of trialFrame: one that is kept, or what `make` comes to. */
  async trial(frame: Frame, make: () => Promise<Trial>): Promise<Trial> {
    // What its files take is no part of the identity.
    const key = `${frame.identity} ${JSON.stringify(frame.files)}`;
    const trial = this.trials.get(key) ?? (await make());
    keep(this.trials, key, trial, MAX_TRIALS);
    return trial;
  }
}
