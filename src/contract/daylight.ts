/** Requests and replies about sun and place. */
import * as z from 'zod';
import { dateSchema } from '../core/units/localTime.js';

const coordinate = z.coerce.number().min(-1e5).max(1e5);

/** A place to be looked for by its name. */
export const placesQuery = z.object({ q: z.string().trim().min(1).max(80) });

/** Places of that name; degrees, north and east positive. */
export const placesReply = z.array(
  z.object({ name: z.string(), country: z.string(), latitude: z.number(), longitude: z.number(), timeZone: z.string() }),
);
/** What {@link placesReply} reads. */
export type PlacesReply = z.infer<typeof placesReply>;

const pointQuery = z.object({ revision: z.coerce.number().int(), x: coordinate, y: coordinate, z: coordinate });

/** A point from which the sky is looked at. */
export const silhouetteQuery = pointQuery.omit({ y: true });
/** What of the sky the design hides there. */
export const silhouetteReply = z.object({
  step: z.number(),
  across: z.number(),
  up: z.number(),
  /** A digit a cell, 1 where the design stands, in rows from the horizon up, each from north clockwise. */
  cells: z.string(),
});
/** What {@link silhouetteReply} reads. */
export type SilhouetteReply = z.infer<typeof silhouetteReply>;

/** A height at which a floor is looked for, metres. */
export const floorQuery = z.object({ revision: z.coerce.number().int(), height: coordinate });
/** The design's own floor: its height where it has one, the share of the footprint it covers, and the share that makes it a floor. */
export const floorReply = z.object({ height: z.number().optional(), share: z.number(), needs: z.number() });
/** What {@link floorReply} reads. */
export type FloorReply = z.infer<typeof floorReply>;

const dayQuery = z.object({
  date: dateSchema,
  /** Minutes between positions of the sun. */
  step: z.coerce.number().int().min(1).max(60).default(10),
  /** Degrees that the sun must stand above. */
  minimum: z.coerce.number().min(0).max(60).default(0),
});

/** Squares along a side of the ground, at most. */
export const MOST_CELLS = 128;
/** A day on which the sun on the ground is asked for. */
export const sunHoursQuery = dayQuery.extend({
  revision: z.coerce.number().int(),
  cells: z.coerce.number().int().min(8).max(MOST_CELLS).default(64),
  format: z.enum(['json', 'csv']).default('json'),
});
/** Hours of sun on the ground, square by square. */
export const sunHoursReply = z.object({
  grid: z.object({ x: z.number(), z: z.number(), side: z.number(), cells: z.number(), height: z.number() }),
  hours: z.array(z.number().nullable()),
  heights: z.array(z.number().nullable()),
  share: z.number(),
  passes: z.boolean(),
});
/** What {@link sunHoursReply} reads. */
export type SunHoursReply = z.infer<typeof sunHoursReply>;

/** A point and a day for which the sun is asked for. */
export const windowSunQuery = pointQuery.extend(dayQuery.shape);
/** When the sun reaches the point, judged by EN 17037. */
export const windowSunReply = z.object({
  hours: z.number(),
  level: z.enum(['high', 'medium', 'minimum', 'none']),
  /** The date is one of those that EN 17037 judges. */
  judged: z.boolean(),
});
/** What {@link windowSunReply} reads. */
export type WindowSunReply = z.infer<typeof windowSunReply>;
