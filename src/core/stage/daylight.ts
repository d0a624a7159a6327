/** Daylight of a stage: sun and sky at a civil time of the site, or with the sun where one puts it. */
import * as z from 'zod';
import type { Vec3 } from '../math/bounds.js';
import type { Rgb } from '../units/colour.js';
import { type LocalDateTime, clockSchema, dateSchema, instantOf } from '../units/localTime.js';
import type { SunLight } from './light.js';
import { type Site, skyDirection } from './site.js';
import { availability, CONDITIONS, MAX_SKY_TYPE, type SkyLight, skyTable, sunColour, TYPE_OF } from './sky.js';
import { SUN_RADIUS, sunAt } from './sun.js';

/** Candela a square metre that radiance 1 stands for under daylight. */
export const DAYLIGHT_UNIT = 20_000;

/** Day, hour and sky that light the model. */
export const daylightSchema = z.strictObject({
  /** Civil day and time of the site. */
  date: dateSchema.default('2026-06-21'),
  time: clockSchema.default('15:00'),
  /** The second of two hours of one name, where clocks are put back. */
  later: z.boolean().optional(),
  /** The sun where one puts it, degrees, instead of where the time has it. */
  manualSun: z.strictObject({ azimuth: z.number().min(-360).max(360), altitude: z.number().min(-6).max(90) }).optional(),
  sky: z.enum(CONDITIONS).default('clear'),
  /** CIE S 011 type; the condition's own where absent. */
  type: z.int().min(1).max(MAX_SKY_TYPE).optional(),
  /** Haze: colours a clear sky and the sun, and changes no lux. */
  turbidity: z.number().min(1.7).max(10).default(2.5),
  /** Degrees across the sun's disc; 0 throws sharp shadows. */
  disc: z
    .number()
    .min(0)
    .max(10)
    .default(2 * SUN_RADIUS),
  /** Share of light that the ground below the horizon sends back. */
  groundReflects: z.number().min(0).max(1).default(0.2),
});

/** What {@link daylightSchema} reads. */
export type Daylight = z.infer<typeof daylightSchema>;

/** Where the sun of a frame stands and, unless it is free, when. */
export interface FrameSun extends Partial<LocalDateTime> {
  /** Degrees clockwise from true north. */
  azimuth: number;
  /** Degrees above the horizon, with refraction. */
  altitude: number;
}

/** Day of the year, 1 to 366. */
export function dayOfYear(date: string): number {
  const [year, month, day] = date.split('-').map(Number) as [number, number, number];
  return Math.round((Date.UTC(year, month - 1, day) - Date.UTC(year, 0, 1)) / 86_400_000) + 1;
}

/** Place of the sun. Throws where there is no site to a civil time, or clocks skip the time. */
export function sunPosition(daylight: Daylight, site: Site | undefined): FrameSun {
  if (daylight.manualSun) return { ...daylight.manualSun };
  if (!site) throw new Error('Daylight by date and time needs a site: give latitude and longitude, or use a manual sun.');
  const civil: LocalDateTime = { date: daylight.date, time: daylight.time, ...(daylight.later && { later: true }) };
  const { azimuth, altitude } = sunAt(site, instantOf(civil, site.timeZone).at);
  return { azimuth, altitude, ...civil };
}

/** Light of sun and sky at one instant. */
export interface DaylightLight {
  sun: FrameSun;
  /** Klx on level ground from the sky, on what faces the sun from its disc, and both on level ground. */
  lux: { sky: number; sun: number; level: number };
  sky: SkyLight;
  light: SunLight | null;
}

/** Sun and sky as light of the engine, which counts in DAYLIGHT_UNIT. Throws as placeSun does. */
export function daylightOf(daylight: Daylight, site: Site | undefined): DaylightLight {
  const sun = sunPosition(daylight, site);
  const h = (sun.altitude * Math.PI) / 180;
  const { direct, diffuse } = availability(daylight.sky, h, dayOfYear(sun.date ?? daylight.date));
  const level = diffuse + direct * Math.max(0, Math.sin(h));
  const to = skyDirection(sun.azimuth, sun.altitude, site?.north ?? 0);
  const unit = 1000 / DAYLIGHT_UNIT;
  const bounced = ((daylight.groundReflects * level) / Math.PI) * unit;
  const colour = sunColour(daylight.turbidity, h);
  return {
    sun,
    lux: { sky: diffuse, sun: direct, level },
    sky: {
      type: daylight.type ?? TYPE_OF[daylight.sky],
      turbidity: daylight.turbidity,
      sun: to,
      diffuse: diffuse * unit,
      ground: [bounced, bounced, bounced],
    },
    light:
      direct > 0
        ? {
            kind: 'sun',
            direction: to.map((c) => -c) as Vec3,
            radius: ((daylight.disc / 2) * Math.PI) / 180,
            irradiance: colour.map((c) => c * direct * unit) as Rgb,
          }
        : null,
  };
}

/** The sky in three bands, for what shades without tracing: zenith, horizon, below. */
export function skyBands(sky: SkyLight): { top: Rgb; middle: Rgb; bottom: Rgb } {
  const [width, height] = [8, 8];
  const table = skyTable(sky, width, height);
  const mean = (from: number, to: number): Rgb => {
    const sum: Rgb = [0, 0, 0];
    for (let i = from * width; i < to * width; i++) for (let c = 0; c < 3; c++) sum[c] = sum[c]! + table[i * 3 + c]! / ((to - from) * width);
    return sum;
  };
  return { top: mean(0, 2), middle: mean(2, 4), bottom: mean(4, 8) };
}
