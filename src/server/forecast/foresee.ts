/** Foresees what plans cost: asks a thread what frames are like, and makes trials of some with the tracing threads. */
import { denoiseCost, type TriedFrame } from '../../core/forecast/cost.js';
import { forecastPlan } from '../../core/forecast/forecast.js';
import { learnFrom } from '../../core/forecast/learnt.js';
import type { Trial } from '../../core/forecast/trial.js';
import type { Frame } from '../../core/frame/frame.js';
import { runTrial } from '../../engine/forecast/runTrial.js';
import { preflightTask } from '../checkSet.js';
import type { ServerContext } from '../context.js';
import type { Revision } from '../db/models.js';
import type { PreflightTask } from '../planning/preflightTask.js';
import type { Foreseen } from './forecastCache.js';
import { pastBatches } from './pastBatches.js';
import { PRIORITY } from '../priorities.js';

/** Rejects with CheckStopped or AbortedError where the signal stops it, and with ServerError where the plan cannot be made. */
export async function foresee(
  context: ServerContext,
  revision: Revision,
  plan: PreflightTask['plan'],
  signal: AbortSignal,
  onProgress: (done: number, total: number) => void = () => {},
): Promise<Foreseen> {
  const { forecasts, pool, preflight, store } = context;
  const { plan: work, trials, denoised } = await preflight.run('work', await preflightTask(context, revision, plan), signal);
  const source = store.source(plan.context.scene);
  const attempt = (frame: Frame): Promise<Trial> => forecasts.trial(frame, () => runTrial(pool, source, frame, { priority: PRIORITY.trial, signal }));
  const tried: TriedFrame[] = [];
  for (const [i, { index, frame }] of trials.entries()) {
    tried.push({ traits: work.frames[index]!, trial: await attempt(frame) });
    onProgress(i + 1, trials.length);
  }
  const learnt = learnFrom(await pastBatches(context.database.sequelize, forecasts.machine));
  const foreseen: Foreseen = { ...forecastPlan(work, tried, pool.workers, learnt), plan: work, tried, learnt };
  if (denoised) {
    const plain = tried[trials.findIndex((t) => t.index === denoised.index)]!.trial;
    foreseen.denoisePixel = denoiseCost(plain, await attempt(denoised.frame));
  }
  forecasts.keepForecast(plan, foreseen);
  return foreseen;
}
