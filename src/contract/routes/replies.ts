/** Replies whose types other rungs declare, as the description of the interface has them. */
import * as z from 'zod';
import { CHOICE_KINDS } from '../../core/forecast/choices.js';
import { PASS_IDS } from '../../core/image/passes.js';
import { AREAS, SEVERITIES } from '../../core/preflight/finding.js';
import { waiverSchema } from '../../core/plan/waiver.js';
import type { ForecastReply } from '../forecast.js';
import type { PixelReply } from '../pixel.js';
import type { PreflightReply } from '../preflight.js';

const vec3 = z.tuple([z.number(), z.number(), z.number()]);
const size = z.object({ width: z.int(), height: z.int() });
/** A value with its least and its greatest. */
const range = z.object({ low: z.number(), likely: z.number(), high: z.number() });
const costParts = z.object({ fixed: z.number(), byPixel: z.number(), bySample: z.number() });
const patch = z.array(z.object({ path: z.array(z.union([z.string(), z.number()])), value: z.unknown().optional() }));

const choice = z.object({
  kind: z.enum(CHOICE_KINDS),
  label: z.string(),
  seconds: range,
  bytes: z.number(),
  meets: z.boolean(),
  patch: patch.exactOptional(),
  select: z.string().exactOptional(),
  picture: z.object({ samples: z.number(), scale: z.number(), denoise: z.boolean() }).exactOptional(),
});

/** What a set is expected to take. */
export const forecastReply = z.object({
  content: z.string(),
  free: z.number(),
  learntFrom: z.int(),
  frames: z.int(),
  tried: z.int(),
  seconds: range,
  parts: costParts,
  bytes: z.number(),
  files: z.array(z.object({ file: z.string(), bytes: z.number() })),
  runs: z.array(z.object({ run: z.string(), frames: z.int(), seconds: range, parts: costParts, bytes: z.number() })),
  toRender: z.object({ frames: z.int(), seconds: range }).exactOptional(),
  choices: z.array(choice).exactOptional(),
}) satisfies z.ZodType<ForecastReply>;

const finding = z.object({
  check: z.string(),
  key: z.string(),
  title: z.string(),
  area: z.enum(AREAS),
  severity: z.enum(SEVERITIES),
  run: z.string().exactOptional(),
  shotName: z.string().exactOptional(),
  frames: z.array(z.int()).exactOptional(),
  worst: z.int().exactOptional(),
  message: z.string(),
  /** What is drawn over the frame: boxes, lines, shares of it. */
  overlay: z.looseObject({}).exactOptional(),
  fix: z.object({ label: z.string(), patch }).exactOptional(),
  curve: z.object({ label: z.string(), unit: z.string(), values: z.array(z.number()) }).exactOptional(),
  about: z.object({ shot: z.string(), set: z.string(), frame: z.string().exactOptional() }),
  waived: z.string().exactOptional(),
  blocks: z.literal(true).exactOptional(),
});

/** What the checks of a set say. */
export const preflightReply = z.object({
  frames: z.int(),
  probed: z.int(),
  content: z.string(),
  seconds: z.number(),
  findings: z.array(finding),
  waivers: z.array(waiverSchema.extend({ holds: z.boolean() })),
}) satisfies z.ZodType<Omit<PreflightReply, 'findings'>>;

/** What stands in a pixel, and what lights it. */
export const pixelReply = z.object({
  view: z.object({ id: z.string(), name: z.string() }),
  lights: z.array(z.object({ name: z.string(), id: z.string().exactOptional(), share: z.number() })),
  part: z.string().nullable(),
  material: z.string().nullable(),
  distance: z.number().nullable(),
  place: vec3.nullable(),
  normal: vec3.nullable(),
  colour: vec3,
  passes: z.partialRecord(z.enum(PASS_IDS), z.array(z.number())),
}) satisfies z.ZodType<PixelReply>;

const matrix = z.array(z.number()).length(16);

const frame = z.object({
  shot: z.string(),
  index: z.int(),
  number: z.int(),
  name: z.string(),
  time: z.number(),
  size,
  identity: z.string(),
  camera: z.object({ eye: vec3, target: vec3, viewMatrix: matrix, projectionMatrix: matrix }),
  /** How the subject is turned. */
  turn: z.looseObject({}).exactOptional(),
  /** Where the sun stands, and when. */
  sun: z
    .object({
      azimuth: z.number(),
      altitude: z.number(),
      date: z.string().exactOptional(),
      time: z.string().exactOptional(),
      later: z.boolean().exactOptional(),
    })
    .exactOptional(),
  /** The planes that cut, and what fills the cut. */
  section: z.looseObject({}).exactOptional(),
});

/** Every frame of a plan, with its camera. */
export const framesReply = z.object({ frames: z.array(frame) });
/** The same of a frozen plan, and with it all else that makes the pixels. */
export const frozenFramesReply = z.object({ frames: z.array(frame.loose()) });
