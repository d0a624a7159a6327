/** Requests and replies about sun and place. */
import { z } from 'zod';
import { dateSchema } from '../core/units/localTime.js';

const coordinate = z.coerce.number().min(-1e5).max(1e5);

export const placesQuery = z.object({ q: z.string().trim().min(1).max(80) });

export const placesReply = z.array(
  z.object({ name: z.string(), country: z.string(), latitude: z.number(), longitude: z.number(), timeZone: z.string() }),
);
export type PlacesReply = z.infer<typeof placesReply>;

const pointQuery = z.object({ revision: z.coerce.number().int(), x: coordinate, y: coordinate, z: coordinate });

export const silhouetteQuery = pointQuery.omit({ y: true });
export const silhouetteReply = z.object({
  step: z.number(),
  across: z.number(),
  up: z.number(),
  /** A digit a cell, 1 where the design stands, in rows from the horizon up, each from north clockwise. */
  cells: z.string(),
});
export type SilhouetteReply = z.infer<typeof silhouetteReply>;

export const floorQuery = z.object({ revision: z.coerce.number().int(), height: coordinate });
/** The design's own floor: its height where it has one, the share of the footprint it covers, and the share that makes it a floor. */
export const floorReply = z.object({ height: z.number().optional(), share: z.number(), needs: z.number() });
export type FloorReply = z.infer<typeof floorReply>;

const dayQuery = z.object({
  date: dateSchema,
  /** Minutes between positions of the sun. */
  step: z.coerce.number().int().min(1).max(60).default(10),
  /** Degrees that the sun must stand above. */
  minimum: z.coerce.number().min(0).max(60).default(0),
});

export const MOST_CELLS = 128;
export const sunHoursQuery = dayQuery.extend({
  revision: z.coerce.number().int(),
  cells: z.coerce.number().int().min(8).max(MOST_CELLS).default(64),
  format: z.enum(['json', 'csv']).default('json'),
});
export const sunHoursReply = z.object({
  grid: z.object({ x: z.number(), z: z.number(), side: z.number(), cells: z.number(), height: z.number() }),
  hours: z.array(z.number().nullable()),
  heights: z.array(z.number().nullable()),
  share: z.number(),
  passes: z.boolean(),
});
export type SunHoursReply = z.infer<typeof sunHoursReply>;

export const windowSunQuery = pointQuery.extend(dayQuery.shape);
export const windowSunReply = z.object({
  hours: z.number(),
  level: z.enum(['high', 'medium', 'minimum', 'none']),
  /** The date is one of those that EN 17037 judges. */
  judged: z.boolean(),
});
export type WindowSunReply = z.infer<typeof windowSunReply>;
