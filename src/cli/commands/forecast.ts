/** `easel forecast`: how long a set takes on this machine, and how much room its files need. */
import { Option } from 'commander';
import { choicesFor } from '../../core/forecast/choices.js';
import { denoiseCost, type TriedFrame } from '../../core/forecast/cost.js';
import { forecastPlan } from '../../core/forecast/forecast.js';
import { type Learnt, NOTHING_LEARNT } from '../../core/forecast/learnt.js';
import { framesToLookAt, plannedWork } from '../../core/forecast/plannedWork.js';
import { secondsUntil } from '../../core/forecast/secondsUntil.js';
import { framesToMeasure } from '../../core/forecast/traits.js';
import { TRIAL_LIMITS, trialFrame } from '../../core/forecast/trial.js';
import { withFrame } from '../../core/frame/frame.js';
import { transformedBounds } from '../../core/model/modelTransform.js';
import type { SetFile } from '../../core/plan/set.js';
import { preflightPlan } from '../../core/preflight/preflight.js';
import { runTrial } from '../../engine/forecast/runTrial.js';
import { loadKernelModule } from '../../engine/node/assets.js';
import { startPool } from '../../engine/node/threads.js';
import { probePlan } from '../../engine/probes/checkPlan.js';
import { SceneProber } from '../../engine/probes/sceneProber.js';
import type { Prepared } from '../../engine/scene/prepare.js';
import { type Command, InputError, type Say } from '../command.js';
import { dataFolder, dataOption, type FolderOptions, loadMaintenance } from '../dataFolder.js';
import { readEnvironments, readSet } from '../input.js';
import { assetsOf, loadModelFor, planOf, type PlanOptions, planOptions } from '../planOf.js';

interface ForecastOptions extends PlanOptions, FolderOptions {
  by?: string;
}

interface Result {
  seconds: { low: number; likely: number; high: number };
  bytes: number;
  files: unknown;
  /** Earlier batches of this machine by which it is corrected. */
  learnt: number;
  /** What they multiply the seconds by; 1 without any. */
  correction: number;
  shots: { shot: string; frames: number; seconds: Result['seconds']; bytes: number }[];
  choices?: { label: string; seconds: Result['seconds']; meets: boolean }[];
}

const minutes = (seconds: number): string =>
  seconds < 90 ? `${seconds.toFixed(0)} s` : seconds < 5400 ? `${(seconds / 60).toFixed(0)} min` : `${(seconds / 3600).toFixed(1)} h`;
const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;

/** What the batches of the data folder taught. Where they cannot be read, a folder that was named is wrong input; another is passed over. */
async function learntFrom(options: FolderOptions, workers: number, say: Say): Promise<Learnt> {
  const { learntHere } = await loadMaintenance();
  return learntHere(dataFolder(options), workers).catch((e: Error) => {
    if (options.data !== undefined) throw new InputError(e.message);
    say(`${e.message} The forecast is not corrected.`);
    return NOTHING_LEARNT;
  });
}

async function foresee(
  set: SetFile,
  file: string,
  prepared: Prepared,
  within: number | undefined,
  options: FolderOptions,
  say: Say,
): Promise<Result> {
  const environments = await readEnvironments(set, file);
  const { summary } = prepared;
  const frames = planOf(set, prepared, environments);
  const assets = assetsOf(prepared, file, environments);
  const bounds = transformedBounds(set.transform, summary.bounds);
  const pool = startPool();
  try {
    const learnt = await learntFrom(options, pool.workers, say);
    const seen = await probePlan(
      preflightPlan(set, frames, { parts: summary.parts, bounds, scene: summary.hash }),
      new SceneProber(loadKernelModule()),
      assets,
      { only: framesToLookAt(frames) },
    );
    const plan = plannedWork(frames, (f) => seen.get(f));
    const tried: TriedFrame[] = [];
    for (const i of framesToMeasure(plan.frames, TRIAL_LIMITS))
      tried.push({ traits: plan.frames[i]!, trial: await runTrial(pool, assets, trialFrame(frames[i]!, summary.hash)) });
    const plain = frames.find((f) => f.sampling.mode === 'traced' && !f.sampling.denoise);
    let denoisePixel: number | undefined;
    if (plain && within !== undefined) {
      const [without, filtered] = [false, true].map((denoise) =>
        trialFrame(withFrame(plain, { sampling: { ...plain.sampling, denoise } }), summary.hash),
      );
      denoisePixel = denoiseCost(await runTrial(pool, assets, without!), await runTrial(pool, assets, filtered!));
    }
    const { forecast } = forecastPlan(plan, tried, pool.workers, learnt);
    const choices = within === undefined ? undefined : choicesFor({ set, plan, tried, workers: pool.workers, learnt, denoisePixel }, within);
    const shots = forecast.runs.map(({ run, ...rest }) => ({ shot: run, ...rest }));
    const { seconds, bytes, files } = forecast;
    return { seconds, bytes, files, learnt: learnt.batches, correction: learnt.seconds, shots, ...(choices && { choices }) };
  } finally {
    await pool.close();
  }
}

function table(set: SetFile, { seconds, bytes, learnt, correction, shots, choices }: Result, say: Say): void {
  const range = ({ low, likely, high }: Result['seconds']): string => `${minutes(likely)} (${minutes(low)} to ${minutes(high)})`;
  for (const s of shots) say(`${s.shot}: ${s.frames} frames, ${range(s.seconds)}, ${megabytes(s.bytes)}`);
  say(`${set.name}: ${range(seconds)}, ${megabytes(bytes)}`);
  const batches = learnt === 1 ? 'an earlier batch' : `${learnt} earlier batches`;
  if (learnt > 0) say(`corrected by ${batches} of this machine: ${correction.toFixed(2)} times as long`);
  for (const c of choices ?? []) say(`${c.meets ? 'in time' : 'not enough'}: ${c.label}, ${range(c.seconds)}`);
}

/** `easel forecast`. */
export const forecastCommand: Command<ForecastOptions> = {
  name: 'forecast',
  summary: 'say how long a set takes on this machine, and how much room its files need',
  argument: ['set', 'the set file'],
  options: [...planOptions(), dataOption(), new Option('--by <time>', 'offer changes so that it is done by this time of day, as 17:30')],
  async run(file, options, say) {
    const within = options.by === undefined ? undefined : secondsUntil(options.by, new Date());
    if (within === null) throw new InputError(`--by: "${options.by}" is no time of day; write it as 17:30.`);
    const set = readSet(file);
    const result = await foresee(set, file, await loadModelFor(set, options, say), within, options, say);
    table(set, result, say);
    return result;
  },
};
