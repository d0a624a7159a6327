/** Every request, reply and event of the HTTP interface. Lengths in metres, times in seconds. */
import { z } from 'zod';
import { CHANGE_KINDS } from '../core/model/match.js';
import { dateSchema } from '../core/units/localTime.js';
import { MAX_FIRST_FRAMES } from '../core/plan/firstFrames.js';
import { MAX_SPREAD } from '../core/plan/frameOrder.js';
import { reelSchema } from '../core/plan/reel.js';
import { setSchema } from '../core/plan/set.js';
import { STAGE_PRESETS } from '../core/stage/stage.js';
import { hexSchema } from '../core/units/colour.js';
import { LENGTH_UNITS } from '../core/units/length.js';
import { pointSchema } from '../core/camera/view.js';

const name = z
  .string()
  .trim()
  .min(1, 'Give it a name.')
  .max(80, 'A name has at most 80 letters.')
  // Control characters, and marks that turn the direction of text so that a name reads as another.
  .regex(/^[^\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069]*$/u, 'A name has no control characters.');
const bounds = z.object({ min: pointSchema, max: pointSchema });

export const newProject = z.strictObject({ name });
export const importOptions = z.strictObject({
  unit: z.enum(LENGTH_UNITS as [string, ...string[]]).default('m'),
  up: z.enum(['y', 'z']).default('y'),
  faces: z.enum(['together', 'apart']).default('together'),
});

/** A view that a file's camera stands for. */
export const offeredView = z.object({
  name: z.string(),
  kind: z.enum(['perspective', 'parallel']),
  eye: pointSchema,
  target: pointSchema,
  focalLength: z.number(),
  keepVerticals: z.boolean(),
  width: z.number().optional(),
});

export const partReply = z.object({
  name: z.string(),
  path: z.string(),
  parent: z.int(),
  triangles: z.int(),
  /** Pieces, where the part is lines: these come out with drawn lines alone. */
  lines: z.int().optional(),
  materials: z.array(z.string()),
  /** Square metres of each; absent of revisions that were brought in by an earlier version. */
  areas: z.array(z.number()).optional(),
  /** Of the part alone, in the world; of one without triangles all 0. */
  bounds: bounds.optional(),
  /** Its faces do not close, so that a section of it has nothing to cap; absent of closed ones. */
  open: z.boolean().optional(),
  renderVisible: z.boolean(),
  isContext: z.boolean(),
});

export const revisionReply = z.object({
  id: z.int(),
  letter: z.string(),
  fileName: z.string(),
  unit: z.string(),
  up: z.string(),
  triangles: z.int(),
  /** Triangles of the lighter form that the viewport shows; absent where it shows the whole. */
  reduced: z.int().optional(),
  /** Faces of solids were kept apart, so that each can have its own material. */
  facesApart: z.literal(true).optional(),
  partCount: z.int(),
  materials: z.array(z.string()),
  textures: z.int(),
  lights: z.int(),
  /** Paths of the parts that they hang on; absent of revisions that were imported by an earlier version. */
  lightPaths: z.array(z.string()).optional(),
  cameras: z.array(offeredView),
  bounds,
  warnings: z.array(z.string()),
  hash: z.string(),
  /** Files as they were uploaded; empty where they were not kept. */
  originals: z.array(z.object({ name: z.string(), bytes: z.int() })),
  /** Why the revision cannot be read; absent of one that can. */
  problem: z.string().optional(),
});

export const projectReply = z.object({
  id: z.int(),
  name: z.string(),
  revisions: z.array(revisionReply),
  sets: z.array(
    z.object({
      id: z.int(),
      name: z.string(),
      frames: z.int(),
      /** Why the set cannot be read; absent of one that can. */
      problem: z.string().optional(),
    }),
  ),
  batches: z.int(),
});

/** Stops that suit a view. */
export const meterReply = z.object({ exposure: z.number() });

/** A picture on a material, as the material names it. */
export const textureReply = z.object({ file: z.string(), width: z.int(), height: z.int() });

/** An environment image, as a stage names it. */
export const environmentReply = z.object({ file: z.string(), width: z.int(), height: z.int() });

/** Parts of a revision beside those of an earlier one. */
export const matchReply = z.object({
  /** Letter of the earlier. */
  with: z.string(),
  matches: z.array(z.object({ change: z.enum(CHANGE_KINDS), from: z.string().nullable(), to: z.string().nullable() })),
});

export const newSet = z.strictObject({ file: setSchema });
export const saveSet = z.strictObject({ file: setSchema, version: z.int() });
export const setReply = z.object({ id: z.int(), projectId: z.int(), version: z.int(), content: z.string(), file: setSchema });

/** A page of a list. */
export const pageQuery = z.object({
  from: z.coerce.number().int().min(0).max(1_000_000).default(0),
  limit: z.coerce.number().int().min(1).max(5000).default(1000),
});

/** What reading a batch's files again found. */
export const verifyReply = z.object({ files: z.int(), missing: z.int(), changed: z.int() });

/** Levels of priority, the first one first; what they are called is the interface's. */
export const PRIORITIES = ['ahead', 'inTurn', 'last'] as const;
export type Priority = (typeof PRIORITIES)[number];

/** A share of the size and of the samples, each above 0 and up to 1. */
export const draftSchema = z.strictObject({ size: z.number().min(0.05).max(1), samples: z.number().min(0.01).max(1) });

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

export const BATCH_STATES = ['queued', 'running', 'paused', 'held', 'stopped', 'done'] as const;
/** What a person says of a picture. */
export const DECISIONS = ['accepted', 'redo'] as const;
export const newDecision = z.strictObject({ decision: z.enum(DECISIONS).nullable() });
export const FRAME_STATES = ['waiting', 'rendering', 'done', 'failed'] as const;

export const clipReply = z.object({
  id: z.int(),
  shot: z.string(),
  state: z.enum(['making', 'ready', 'failed']),
  fileName: z.string(),
  message: z.string().nullable(),
  bytes: z.int(),
});

/** What was foreseen of a batch when it was started. */
export const batchForecast = z.object({
  seconds: z.object({ low: z.number(), likely: z.number(), high: z.number() }),
  bytes: z.number(),
});
export type BatchForecast = z.infer<typeof batchForecast>;

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
  decision: z.enum(DECISIONS).optional(),
  files: z.array(z.string()),
});

/** Colour behind renders with a clear backdrop, which a movie cannot have. */
const background = hexSchema.optional();
export const newClip = z.union([
  z.strictObject({ shot: z.string().min(1), date: dateSchema.optional(), background }),
  z.strictObject({ reel: reelSchema, background }),
]);

export const eventSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('batch'), batch: batchReply }),
  z.object({ type: z.literal('frame'), batchId: z.int(), frame: frameReply }),
  /** More was missed than is kept: everything is to be asked for anew. */
  z.object({ type: z.literal('resync') }),
  /** A set was saved; its content is asked for by whoever shows it. */
  z.object({ type: z.literal('set'), setId: z.int(), version: z.int() }),
  /** Frames of a set that a check before the run has looked at. */
  z.object({ type: z.literal('preflight'), setId: z.int(), done: z.int(), total: z.int() }),
  /** How far a test frame is, told by the token that it was asked with. */
  z.object({ type: z.literal('testFrame'), token: z.string(), share: z.number() }),
  /** How many trials of its forecast are made. */
  z.object({ type: z.literal('forecast'), setId: z.int(), done: z.int(), total: z.int() }),
  z.object({ type: z.literal('import'), projectId: z.int(), share: z.number(), what: z.string() }),
]);

/** RFC 9457, with the code of the error for programs and what to do about it for people. */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string(),
  code: z.string(),
  remedy: z.string(),
});

export type PartReply = z.infer<typeof partReply>;
/** What a small frame shows: a view, in another stage preset where that is asked for; a drawing to scale; a frame of a shot. */
export const smallQuery = z.union([
  z.object({ view: z.string(), stage: z.enum(STAGE_PRESETS).optional(), v: z.string().optional() }),
  z.object({ drawing: z.enum(['plan', 'elevation']), cut: z.coerce.number().min(-1e5).max(1e5).optional(), v: z.string().optional() }),
  z.object({ shot: z.string(), index: z.coerce.number().int().min(0).default(0), v: z.string().optional() }),
]);

export type RevisionReply = z.infer<typeof revisionReply>;
export type ProjectReply = z.infer<typeof projectReply>;
export type MatchReply = z.infer<typeof matchReply>;
export type OfferedViewReply = z.infer<typeof offeredView>;
export type MeterReply = z.infer<typeof meterReply>;
export type TextureReply = z.infer<typeof textureReply>;
export type EnvironmentReply = z.infer<typeof environmentReply>;
export type SetReply = z.infer<typeof setReply>;
export type BatchReply = z.infer<typeof batchReply>;
export type FrameReply = z.infer<typeof frameReply>;
export type ClipReply = z.infer<typeof clipReply>;
export type VerifyReply = z.infer<typeof verifyReply>;
export type ServerEvent = z.infer<typeof eventSchema>;
export type Problem = z.infer<typeof problemSchema>;
