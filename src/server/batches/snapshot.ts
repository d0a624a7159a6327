/** What is frozen when a batch starts, and what lists tell of it without reading that. */
import type { PassId } from '../../core/image/passes.js';
import { effectiveSettings } from '../../core/plan/formatSheet.js';
import { shotOutputs } from '../../core/plan/outputs.js';
import { parseSet, outputName } from '../../core/plan/set.js';
import { resolveSampling } from '../../core/frame/settings.js';
import { looksOfRuns } from './looks.js';
import type { Batch } from '../db/models.js';
import { ServerError } from '../errors.js';
import type { PlanSnapshot } from '../planning/tasks.js';

/** What lists of batches show, so that plans need not be parsed for it. */
export interface BatchDigest {
  name: string;
  quality: string;
  samples: number;
  rate: string;
  size: { width: number; height: number };
  /** Open faults that were accepted when it was started. */
  acceptedFaults?: string[];
  /** Renders of some shot have a clear backdrop. */
  alpha?: boolean;
  /** Shares of size and samples, of a draft. */
  draft?: { size: number; samples: number };
  /** Equal pictures are not taken over. */
  anew?: boolean;
  /** Id of the variant that was asked for. */
  variant?: string;
  /** Names of the runs of frames by their ids. */
  runs: Record<string, string>;
  /** Pixels of each run; absent of batches of earlier versions. */
  sizes?: Record<string, { width: number; height: number }>;
  /** Passes of each run; absent of batches of earlier versions. */
  passes?: Record<string, PassId[]>;
  /** Names of the grades of runs, and of views alone, where they are those of presets; see lookOf. */
  looks?: Record<string, string>;
  /** Content hash of the model. */
  scene: string;
  /** Why the plan cannot be read, of a batch of which that is so. */
  problem?: string;
}

/** The digest of a frozen plan. */
export function batchDigest({ set, context, variant, acceptedFaults, foreignModel, draft, anew, looks }: PlanSnapshot): BatchDigest {
  const asked = set.materials?.variants.find((v) => v.id === variant);
  const { quality, rate, size } = set.sheet;
  const outputs = set.shots.flatMap((s) => {
    const settings = effectiveSettings(set.sheet, s);
    return shotOutputs(settings, s).map((o) => ({ ...o, passes: settings.passes, shot: s }));
  });
  return {
    name: `${set.name}${asked ? `, ${asked.name}` : ''}${foreignModel ? ` on ${foreignModel}` : ''}${draft ? ', draft' : ''}`,
    quality: typeof quality === 'string' ? quality : 'own',
    samples: resolveSampling(quality).samples,
    rate,
    size,
    ...(acceptedFaults && { acceptedFaults }),
    ...(draft && { draft }),
    ...(anew && { anew }),
    ...(variant && { variant }),
    alpha: set.shots.some((s) => effectiveSettings(set.sheet, s).alpha),
    runs: Object.fromEntries(outputs.map(({ run }) => [run, outputName(set, run)])),
    passes: Object.fromEntries(outputs.map(({ run, passes }) => [run, passes])),
    sizes: Object.fromEntries(outputs.map(({ run, size: { width, height } }) => [run, { width, height }])),
    ...(looks && { looks: looksOfRuns(looks, outputs) }),
    scene: context.scene,
  };
}

/** The frozen plan of a batch. Throws ServerError with the reason where it cannot be read. */
export function planSnapshot(batch: Pick<Batch, 'number' | 'plan'>): PlanSnapshot {
  try {
    const plan = JSON.parse(batch.plan) as Omit<PlanSnapshot, 'set'> & { set: unknown };
    return { ...plan, set: parseSet(plan.set) };
  } catch (e) {
    const why = e instanceof SyntaxError ? 'It is not valid JSON.' : (e as Error).message;
    throw new ServerError(
      'unusable',
      `The plan of batch ${batch.number} cannot be read. ${why}\nFinished frames are kept; start a new batch for the rest.`,
    );
  }
}

/** The digest of a batch, made of its plan where an earlier version of the application did not keep one. */
export function digestOfBatch(batch: Pick<Batch, 'number' | 'plan' | 'digest'>): BatchDigest {
  try {
    return batch.digest ? (JSON.parse(batch.digest) as BatchDigest) : batchDigest(planSnapshot(batch));
  } catch (e) {
    return {
      name: 'unreadable plan',
      quality: 'own',
      samples: 0,
      rate: '24',
      size: { width: 16, height: 9 },
      runs: {},
      scene: '',
      problem: (e as Error).message,
    };
  }
}

/** The name of a run of frames, or its id where the plan does not say. */
export const nameOfRun = (digest: BatchDigest, run: string): string => digest.runs[run] ?? run;
