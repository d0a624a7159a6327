/** What there is to judge of a set: of each shot, or each view of a still, what each batch rendered. */
import * as z from 'zod';
import { PASS_IDS } from '../core/image/passes.js';
import { DEFAULT_THRESHOLD, MAX_THRESHOLD, MIN_THRESHOLD } from '../core/review/threshold.js';
import { DECISIONS, draftSchema, newDecision } from './batches.js';
import { SHEET_TYPES } from './packages.js';

/** A run of frames that was rendered, as a cell of the wall shows it. */
export const resultReply = z.object({
  batch: z.int(),
  /** Of the batch. */
  number: z.int(),
  revisionId: z.int(),
  revision: z.string(),
  /** Id of the variant that the batch was started for. */
  variant: z.string().optional(),
  draft: draftSchema.optional(),
  /** When the batch was made, ISO 8601. */
  created: z.string(),
  /** Run of frames (Frame.shot), and its name in the batch's plan. */
  run: z.string(),
  name: z.string(),
  kind: z.string(),
  /** View of a still, and which frame of that view it is, from 1; a moving shot is one result of all its frames: '' and 0. */
  view: z.string(),
  nth: z.int(),
  /** Frames of the batch. */
  total: z.int(),
  done: z.int(),
  failed: z.int(),
  accepted: z.int(),
  redo: z.int(),
  /** The frame that stands for it, and its samples. */
  cover: z.int(),
  coverSamples: z.int().nullable(),
  /** Pixels; absent where the batch is of an earlier version. */
  size: z.object({ width: z.int(), height: z.int() }).optional(),
  /** Passes that its frames have; absent where the batch is of an earlier version. */
  passes: z.array(z.enum(PASS_IDS)).optional(),
});
/** What {@link resultReply} reads. */
export type ResultReply = z.infer<typeof resultReply>;

/** Against which revision and variant results are held. */
export const staleQuery = z.object({ revision: z.coerce.number().int().positive(), variant: z.string().max(64).optional() });

/** Results of one revision and variant that the set of today would render otherwise. */
export const staleReply = z.array(
  z.object({
    batch: z.int(),
    run: z.string(),
    /** Frames that would come out otherwise, and that are no longer planned. */
    stale: z.int(),
    unplanned: z.int(),
    /** What changed, in words; empty where that is not known. */
    grounds: z.array(z.string()),
    /** Ids of the stale frames of a still; absent of a moving shot. */
    frames: z.array(z.int()).optional(),
  }),
);
/** What {@link staleReply} reads. */
export type StaleReply = z.infer<typeof staleReply>;

/** Frames of one run of a batch. */
export const runQuery = z.object({ run: z.string().max(200).optional() });

/** A decision on all finished frames of a run. */
export const newRunDecision = newDecision.extend({ run: z.string().min(1).max(200) });

/** A line of a set's decision log. */
export const decisionReply = z.object({
  /** ISO 8601. */
  time: z.string(),
  author: z.string(),
  /** Number of the batch, and letter of its revision. */
  batch: z.int(),
  revision: z.string(),
  shot: z.string(),
  number: z.int(),
  /** Name of the file, without its ending. */
  frame: z.string(),
  identity: z.string(),
  /** Null where it was withdrawn. */
  decision: z.enum(DECISIONS).nullable(),
  reason: z.string(),
});
/** What {@link decisionReply} reads. */
export type DecisionReply = z.infer<typeof decisionReply>;

/** Two finished frames, by their ids. */
export const compareQuery = z.object({
  first: z.coerce.number().int().positive(),
  second: z.coerce.number().int().positive(),
  threshold: z.coerce.number().min(MIN_THRESHOLD).max(MAX_THRESHOLD).default(DEFAULT_THRESHOLD),
});

/** What changed in a set, to be put on paper: pairs of finished frames in their order. */
export const newChangesSheet = z.strictObject({
  /** What the two sides are called. */
  sides: z.tuple([z.string().min(1).max(120), z.string().min(1).max(120)]),
  threshold: z.number().min(MIN_THRESHOLD).max(MAX_THRESHOLD).default(DEFAULT_THRESHOLD),
  /** Of PNG several pages come as a ZIP. */
  type: z.enum(SHEET_TYPES).default('pdf'),
  shots: z
    .array(z.strictObject({ name: z.string().min(1).max(200), first: z.int().positive(), second: z.int().positive() }))
    .min(1)
    .max(1000),
});

/** What two renders differ by. */
export const comparisonReply = z.object({
  /** Pixels at which they were compared. */
  width: z.int(),
  height: z.int(),
  /** Share of the pixels that changed, 0..1. */
  changed: z.number(),
  ssim: z.number(),
  /** Largest CIEDE2000 of a changed pixel. */
  largest: z.number(),
  areas: z.int(),
  /** Changed parts, most first; the share is of the picture. */
  parts: z.array(z.object({ path: z.string(), share: z.number(), presence: z.enum(['both', 'first', 'second']) })),
});
/** What {@link comparisonReply} reads. */
export type ComparisonReply = z.infer<typeof comparisonReply>;

/** Of the light of a finished frame. */
export const linearQuery = z.object({
  /** Whether noise is filtered; as it was rendered where absent. */
  denoise: z
    .enum(['true', 'false'])
    .optional()
    .transform((text) => (text === undefined ? undefined : text === 'true')),
  /** Passes that are sent beside it: `diffuse,depth`. */
  mix: z
    .string()
    .max(80)
    .optional()
    .transform((text) => PASS_IDS.filter((id) => text?.split(',').includes(id))),
});

/** What {@link linearQuery} reads. */
export type LinearQuery = z.infer<typeof linearQuery>;

/** Which pass of a finished frame is shown. */
export const shownQuery = z
  .object({
    pass: z.enum(PASS_IDS).default('beauty'),
    /** Metres that are white and nearly black, of depth; the least and most of the render where absent. */
    near: z.coerce.number().min(0).max(1e6).optional(),
    far: z.coerce.number().min(0).max(1e6).optional(),
  })
  .refine((q) => (q.near === undefined) === (q.far === undefined), 'Give both near and far, or neither.')
  .refine((q) => q.near === undefined || q.far === undefined || q.near < q.far, 'Near is less than far.');

/** Of what a map of names is asked. */
export const matteQuery = z.object({ of: z.enum(['parts', 'materials']).default('parts') });
/** Which part or material stands in each pixel, at any size with the render's proportions. */
export const matteReply = z.object({
  width: z.int(),
  height: z.int(),
  /** Paths of parts, or names of materials. */
  parts: z.array(z.string()),
  /** Place in the list and 1, or 0, as 16-bit numbers in base64. */
  map: z.string(),
});
/** What {@link matteReply} reads. */
export type MatteReply = z.infer<typeof matteReply>;
