/** Requests and replies of batches, their frames and their movies. Times in seconds. */
import * as z from 'zod';
import { dateSchema } from '../core/units/localTime.js';
import { MAX_FIRST_FRAMES } from '../core/plan/firstFrames.js';
import { MAX_SPREAD } from '../core/plan/frameOrder.js';
import { reelSchema } from '../core/plan/reel.js';
import { CODECS, movieOptionsSchema } from '../core/movie/movieOptions.js';
import { hexSchema } from '../core/units/colour.js';

/** Levels of priority, the first one first; what they are called is the interface's. */
export const PRIORITIES = ['ahead', 'inTurn', 'last'] as const;
/** One of {@link PRIORITIES}. */
export type Priority = (typeof PRIORITIES)[number];

/** A share of the size and of the samples, each above 0 and up to 1. */
export const draftSchema = z.strictObject({ size: z.number().min(0.05).max(1), samples: z.number().min(0.01).max(1) });

/** A batch to be started. */
export const newBatch = z.strictObject({
  revision: z.int(),
  shots: z.array(z.string()).optional(),
  /** Frames in each shot's own numbers: `1-20, 35, first every 5`; all where absent. */
  select: z.string().max(1000).optional(),
  /** Id of the set's variant that is rendered instead of the one that the set shows. */
  variant: z.string().max(64).optional(),
  /** Faults of the check before the run with which somebody started it all the same, as they were told. */
  acceptedFaults: z.array(z.string().min(1).max(1000)).max(500).optional(),
  /** Frames of each moving shot that are rendered before the rest and checked; of a still every view. 3 where absent, 0 none. */
  firstFrames: z.int().min(0).max(MAX_FIRST_FRAMES).optional(),
  /** Once they are done the batch waits for somebody to resume it, also where they are clean. */
  holdAfterFirst: z.boolean().optional(),
  priority: z.enum(PRIORITIES).optional(),
  /** It is not begun before; at once where absent. */
  startAt: z.iso.datetime({ offset: true }).optional(),
  /** Every so-many-th frame of each moving shot is rendered first, then those half as far apart, and so on; 1 by plan. */
  spread: z.int().min(1).max(MAX_SPREAD).optional(),
  /** Renders the same plan smaller and with fewer samples, in files of its own. */
  draft: draftSchema.optional(),
  /** Renders also what an equal picture is there of. */
  anew: z.boolean().optional(),
});

/** Where a batch comes in the queue. `before` names the batch that it is put in front of; null puts it at the end. */
export const moveBatch = z.strictObject({
  priority: z.enum(PRIORITIES).optional(),
  before: z.int().nullable().optional(),
  startAt: z.iso.datetime({ offset: true }).nullable().optional(),
});

/** States of a batch. */
export const BATCH_STATES = ['queued', 'running', 'paused', 'held', 'stopped', 'done'] as const;
/** What a person says of a picture. */
export const DECISIONS = ['accepted', 'redo'] as const;
/** A decision on frames; null withdraws it. */
export const newDecision = z.strictObject({
  decision: z.enum(DECISIONS).nullable(),
  /** Why, in words. */
  reason: z.string().trim().min(1).max(500).optional(),
  /** Name of whoever decided. */
  author: z.string().trim().min(1).max(80).optional(),
});
/** States of a frame of a batch. */
export const FRAME_STATES = ['waiting', 'rendering', 'done', 'failed'] as const;

/** A movie of a batch. */
export const clipReply = z.object({
  id: z.int(),
  shot: z.string(),
  state: z.enum(['making', 'ready', 'failed']),
  fileName: z.string(),
  message: z.string().nullable(),
  bytes: z.int(),
  codec: z.enum(CODECS),
  /** How much of it is encoded, 0..1, while it is being made; absent while it waits for others. */
  share: z.number().optional(),
  /** Its sound, and how that is fitted. */
  sound: z.object({ file: z.string(), fit: z.enum(['cut', 'loop']) }).optional(),
});

/** What was foreseen of a batch when it was started. */
export const batchForecast = z.object({
  seconds: z.object({ low: z.number(), likely: z.number(), high: z.number() }),
  bytes: z.number(),
});
/** What {@link batchForecast} reads. */
export type BatchForecast = z.infer<typeof batchForecast>;

/** A batch with its progress. */
export const batchReply = z.object({
  id: z.int(),
  projectId: z.int(),
  setId: z.int(),
  number: z.int(),
  name: z.string(),
  revision: z.string(),
  quality: z.string(),
  samples: z.int(),
  rate: z.string(),
  size: z.object({ width: z.int(), height: z.int() }),
  /** Renders of some shot have a clear backdrop, so that a movie of them needs one. */
  alpha: z.boolean(),
  state: z.enum(BATCH_STATES),
  /** Open faults with which it was started on purpose; absent where there were none. */
  acceptedFaults: z.array(z.string()).optional(),
  /** It is held since its first frames are to be looked at. */
  atGate: z.boolean().optional(),
  /** Why it is held, or null. */
  reason: z.string().nullable(),
  folder: z.string(),
  total: z.int(),
  done: z.int(),
  failed: z.int(),
  /** Done frames whose files were taken over from equal ones. */
  takenOver: z.int(),
  /** Done frames whose files were developed of masters. */
  developed: z.int(),
  priority: z.enum(PRIORITIES),
  /** Place in the queue among those of its priority: less comes first. */
  rank: z.number(),
  /** When it may begin, ISO 8601; null where that is at once. */
  startAt: z.string().nullable(),
  /** It is a draft: shares of the size and the samples that were planned. */
  draft: draftSchema.optional(),
  /** Done frames whose files are gone or not as they were written. */
  damaged: z.int(),
  /** Seconds in which it ran. */
  elapsed: z.number(),
  /** Expected seconds to go; null before anything is known. */
  remaining: z.number().nullable(),
  /** The 10th and the 90th percentile of `remaining`; absent where that is 0 or null. */
  remainingRange: z.object({ low: z.number(), high: z.number() }).optional(),
  /** What was foreseen of the whole batch; absent where nobody foresaw it. */
  forecast: batchForecast.optional(),
  lastFrameSeconds: z.number().nullable(),
  /** The frame that is being traced, and the share of it that is done. */
  current: z
    .object({
      /** Of the frame. */
      id: z.int(),
      shot: z.string(),
      number: z.int(),
      share: z.number(),
      /** Samples a pixel that are taken, and that are planned. */
      samples: z.int(),
      ofSamples: z.int(),
      /** Whether it may be ended early. */
      still: z.boolean(),
    })
    .nullable(),
  /** Share of the workers' time in which they did not trace, 0..1; null before anything was measured. */
  idle: z.number().nullable(),
  workers: z.int(),
  created: z.string(),
  /** When it was done or stopped, ISO 8601; null before. */
  ended: z.string().nullable(),
  clips: z.array(clipReply),
});

/** A frame of a batch. */
export const frameReply = z.object({
  id: z.int(),
  position: z.int(),
  shot: z.string(),
  shotName: z.string(),
  kind: z.string(),
  view: z.string(),
  number: z.int(),
  name: z.string(),
  time: z.number(),
  /** Civil day of the sun in it. */
  date: z.string().optional(),
  state: z.enum(FRAME_STATES),
  seconds: z.number().nullable(),
  samples: z.int().nullable(),
  /** What ended its sampling, where it is done. */
  ended: z.enum(['samples', 'time', 'hand']).nullable(),
  message: z.string().nullable(),
  /** What became of its files since they were written. */
  damage: z.enum(['missing', 'changed']).optional(),
  /** Its files are those of an equal frame that was there. */
  takenOver: z.boolean().optional(),
  /** Its files are of a master: as if rendered for them, or with the filter put on or off afterwards. */
  developed: z.enum(['exact', 'refiltered']).optional(),
  /** Name of the preset that its grade is. */
  look: z.string().optional(),
  decision: z.enum(DECISIONS).optional(),
  /** Why it was decided so. */
  decisionReason: z.string().optional(),
  files: z.array(z.string()),
});

/** Colour behind renders with a clear backdrop, which a movie cannot have. */
const background = hexSchema.optional();
/** A movie to be made: of a shot, or of a reel. */
export const newClip = z.union([
  z.strictObject({ shot: z.string().min(1), date: dateSchema.optional(), background, options: movieOptionsSchema.optional() }),
  z.strictObject({ reel: reelSchema, background }),
]);

/** How large a movie will be: bytes, and frames with its slate. */
export const movieForecastReply = z.object({ bytes: z.int(), frames: z.int() });
/** What {@link movieForecastReply} reads. */
export type MovieForecastReply = z.infer<typeof movieForecastReply>;
/** What {@link batchReply} reads. */
export type BatchReply = z.infer<typeof batchReply>;
/** What {@link frameReply} reads. */
export type FrameReply = z.infer<typeof frameReply>;
/** What {@link clipReply} reads. */
export type ClipReply = z.infer<typeof clipReply>;
