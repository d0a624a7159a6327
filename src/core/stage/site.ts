/** Where a design stands: place, true north, and the time zone of its clocks. */
import { IANAZone } from 'luxon';
import * as z from 'zod';
import type { Vec3 } from '../math/bounds.js';

/** A place on the earth, with its clock and its north. */
export const siteSchema = z.strictObject({
  /** Name of the place, for people. */
  name: z.string().min(1).max(80).optional(),
  /** Degrees, north positive. */
  latitude: z.number().min(-90).max(90),
  /** Degrees, east positive. */
  longitude: z.number().min(-180).max(180),
  /** Metres above the sea. */
  elevation: z.number().min(-500).max(9000).default(0),
  /** Degrees clockwise, seen from above, from the model's -Z axis to true north. */
  north: z.number().min(-360).max(360).default(0),
  /** An IANA zone, such as Europe/Mariehamn. */
  timeZone: z
    .string()
    .min(1)
    .max(64)
    .refine((zone) => IANAZone.isValidZone(zone), 'This is not a time zone; write one such as Europe/Mariehamn.'),
});

/** What {@link siteSchema} reads. */
export type Site = z.infer<typeof siteSchema>;

const RADIANS = Math.PI / 180;

/** Unit vector in the model to a place of the sky: azimuth clockwise from true north and altitude, degrees. */
export function skyDirection(azimuth: number, altitude: number, north = 0): Vec3 {
  const bearing = (azimuth + north) * RADIANS;
  const h = altitude * RADIANS;
  return [Math.sin(bearing) * Math.cos(h), Math.sin(h), -Math.cos(bearing) * Math.cos(h)];
}

/** The other way round. Azimuth is 0 to 360. */
export function skyAngles([x, y, z]: Vec3, north = 0): { azimuth: number; altitude: number } {
  const bearing = Math.atan2(x, -z) / RADIANS - north;
  return { azimuth: ((bearing % 360) + 360) % 360, altitude: Math.atan2(y, Math.hypot(x, z)) / RADIANS };
}
