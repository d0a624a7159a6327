/** Every request, reply and event of the HTTP interface. Lengths in metres, times in seconds. */
import * as z from 'zod';
import { batchReply, DECISIONS, frameReply } from './batches.js';
import { CHANGE_KINDS } from '../core/model/match.js';
import { setSchema } from '../core/plan/set.js';
import { STAGE_PRESETS } from '../core/stage/stage.js';
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

/** A project to be made. */
export const newProject = z.strictObject({ name });
/** How a model's file is read. */
export const importOptions = z.strictObject({
  unit: z.enum(LENGTH_UNITS as [string, ...string[]]).optional(),
  up: z.enum(['y', 'z']).optional(),
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

/** A part of a revision. */
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

/** A revision of the design. */
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

/** A project with its revisions and sets. */
export const projectReply = z.object({
  id: z.int(),
  name: z.string(),
  revisions: z.array(revisionReply),
  /** Those that were deleted and can be restored. */
  deletedRevisions: z.array(z.object({ id: z.int(), letter: z.string() })).optional(),
  sets: z.array(
    z.object({
      id: z.int(),
      name: z.string(),
      frames: z.int(),
      /** As {@link setReply} has it. */
      content: z.string(),
      /** Its first view, which stands for it in lists; null where it has none. */
      view: z.string().nullable(),
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

/** A sound, as a movie names it, and its length. */
export const soundReply = z.object({ file: z.string(), seconds: z.number() });
/** What {@link soundReply} reads. */
export type SoundReply = z.infer<typeof soundReply>;

/** Parts of a revision beside those of an earlier one. */
export const matchReply = z.object({
  /** Letter of the earlier. */
  with: z.string(),
  matches: z.array(z.object({ change: z.enum(CHANGE_KINDS), from: z.string().nullable(), to: z.string().nullable() })),
});

/** A set to be added. */
export const newSet = z.strictObject({ file: setSchema });
/** A set to be saved over that version; answers 409 where there is a later one. */
export const saveSet = z.strictObject({ file: setSchema, version: z.int() });
/** A set as it is saved. */
export const setReply = z.object({ id: z.int(), projectId: z.int(), version: z.int(), content: z.string(), file: setSchema });

/** A page of a list. */
export const pageQuery = z.object({
  from: z.coerce.number().int().min(0).max(1_000_000).default(0),
  limit: z.coerce.number().int().min(1).max(5000).default(1000),
});

/** What reading a batch's files again found. */
export const verifyReply = z.object({ files: z.int(), missing: z.int(), changed: z.int() });

/** What pages are told of by the event stream. */
export const eventSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('batch'), batch: batchReply }),
  z.object({ type: z.literal('batchDeleted'), projectId: z.int(), batchId: z.int() }),
  z.object({ type: z.literal('frame'), batchId: z.int(), frame: frameReply }),
  /** A person decided of all finished frames of a run. */
  z.object({ type: z.literal('decided'), batchId: z.int(), run: z.string(), decision: z.enum(DECISIONS).nullable(), reason: z.string().nullable() }),
  /** More was missed than is kept, or a revision came: everything is to be asked for anew. */
  z.object({ type: z.literal('resync') }),
  /** A set was saved; its content is asked for by whoever shows it. */
  z.object({ type: z.literal('set'), setId: z.int(), version: z.int() }),
  /** How much of a movie is encoded, 0..1. */
  z.object({ type: z.literal('clip'), batchId: z.int(), clipId: z.int(), share: z.number() }),
  /** Notes of a set were written, answered or taken away. */
  z.object({ type: z.literal('notes'), setId: z.int() }),
  /** Packages of a set came, went or got on. */
  z.object({ type: z.literal('packages'), setId: z.int() }),
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

/** What {@link partReply} reads. */
export type PartReply = z.infer<typeof partReply>;
/** What a small frame shows: a view, in another stage preset where that is asked for; a drawing to scale; a frame of a shot. */
export const smallQuery = z.union([
  z.object({ view: z.string(), stage: z.enum(STAGE_PRESETS).optional(), v: z.string().optional() }),
  z.object({ drawing: z.enum(['plan', 'elevation']), cut: z.coerce.number().min(-1e5).max(1e5).optional(), v: z.string().optional() }),
  z.object({ shot: z.string(), index: z.coerce.number().int().min(0).default(0), v: z.string().optional() }),
]);

/** What {@link revisionReply} reads. */
export type RevisionReply = z.infer<typeof revisionReply>;
/** What {@link projectReply} reads. */
export type ProjectReply = z.infer<typeof projectReply>;
/** What {@link matchReply} reads. */
export type MatchReply = z.infer<typeof matchReply>;
/** What {@link offeredView} reads. */
export type OfferedViewReply = z.infer<typeof offeredView>;
/** What {@link meterReply} reads. */
export type MeterReply = z.infer<typeof meterReply>;
/** What {@link textureReply} reads. */
export type TextureReply = z.infer<typeof textureReply>;
/** What {@link environmentReply} reads. */
export type EnvironmentReply = z.infer<typeof environmentReply>;
/** What {@link setReply} reads. */
export type SetReply = z.infer<typeof setReply>;
/** What {@link verifyReply} reads. */
export type VerifyReply = z.infer<typeof verifyReply>;
/** What {@link eventSchema} reads. */
export type ServerEvent = z.infer<typeof eventSchema>;
/** What {@link problemSchema} reads. */
export type Problem = z.infer<typeof problemSchema>;
