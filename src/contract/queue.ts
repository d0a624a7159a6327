/** What the queue and the history of batches tell beside the batches themselves. */
import * as z from 'zod';
import { draftSchema } from './batches.js';

/** How much disk masters take, in bytes; of `bytes`, `acceptedBytes` are those of accepted renders. */
export const mastersReply = z.object({ count: z.int(), bytes: z.number(), budget: z.number(), acceptedBytes: z.number() });
/** What {@link mastersReply} reads. */
export type MastersReply = z.infer<typeof mastersReply>;

/** Width in pixels that the picture of a frame in work has at most. */
export const soFarQuery = z.object({ width: z.coerce.number().int().min(16).max(8192).default(640) });

/** A frame's size, and where in it each worker is at this moment, in pixels from its top left corner; workers are counted from 1. */
export const tilesReply = z.object({
  width: z.int(),
  height: z.int(),
  tiles: z.array(z.object({ worker: z.int(), x: z.int(), y: z.int(), width: z.int(), height: z.int() })),
});
/** What {@link tilesReply} reads. */
export type TilesReply = z.infer<typeof tilesReply>;

/** What goes where a batch is deleted. */
export const batchContents = z.object({
  /** Finished frames, and how many of them somebody accepted. */
  frames: z.int(),
  accepted: z.int(),
  files: z.int(),
  movies: z.int(),
  bytes: z.int(),
  /** Days for which it can be brought back. */
  days: z.int(),
});
/** What {@link batchContents} reads. */
export type BatchContents = z.infer<typeof batchContents>;

/** A batch as it was: how it was asked, on what it ran, and what became of every frame. */
export const batchReport = z.object({
  application: z.string(),
  engine: z.string(),
  /** Processor and number of workers. */
  machine: z.string(),
  batch: z.object({
    number: z.int(),
    name: z.string(),
    state: z.string(),
    reason: z.string().nullable(),
    created: z.string(),
    ended: z.string().nullable(),
    /** Seconds in which it ran. */
    elapsed: z.number(),
    revision: z.string(),
    /** SHA-256 of the model's content. */
    model: z.string(),
    draft: draftSchema.optional(),
    acceptedFaults: z.array(z.string()).optional(),
  }),
  counts: z.object({ total: z.int(), done: z.int(), failed: z.int(), takenOver: z.int(), developed: z.int(), accepted: z.int(), bytes: z.int() }),
  /** The set file as it was frozen; null where it cannot be read. */
  plan: z.unknown(),
  frames: z.array(
    z.object({
      shot: z.string(),
      number: z.int(),
      name: z.string(),
      state: z.string(),
      identity: z.string(),
      seconds: z.number().nullable(),
      samples: z.int().nullable(),
      attempts: z.int(),
      message: z.string().nullable(),
      takenOver: z.boolean(),
      developed: z.enum(['exact', 'refiltered']).optional(),
      /** Name of the preset that its grade is, and the linear light that its files can be written again from. */
      look: z.string().optional(),
      master: z.string().optional(),
      decision: z.string().nullable(),
      files: z.array(z.object({ name: z.string(), bytes: z.int(), sha256: z.string() })),
    }),
  ),
  movies: z.array(z.object({ shot: z.string(), file: z.string(), bytes: z.int() })),
});
/** What {@link batchReport} reads. */
export type BatchReport = z.infer<typeof batchReport>;
