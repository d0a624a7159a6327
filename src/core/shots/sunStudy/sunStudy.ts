import { Seasons } from 'astronomy-engine';
import * as z from 'zod';
import { angleBetween, slerp } from '../../math/direction.js';
import { type LocalDateTime, localTimeOf, clockSchema, clockSteps, dateSchema, dayOf, instantOf, minutesOf } from '../../units/localTime.js';
import { type Site, skyDirection, skyAngles } from '../../stage/site.js';
import { sunAt } from '../../stage/sun.js';
import { frameTime } from '../../units/rate.js';
import { idSchema } from '../../camera/view.js';
import { cornerSchema } from '../../frame/legend.js';
import { type CountContext, shotBase, type ShotKind, viewOf } from '../kind.js';

const MAX_DATES = 366;
const MAX_PER_DAY = 1440;
const sunPathPointSchema = z.strictObject({ azimuth: z.number().min(-360).max(720), altitude: z.number().min(-6).max(90) });

/** One view over the hours of one or several days. */
export const sunStudySchema = z
  .strictObject({
    ...shotBase,
    kind: z.literal('sunStudy'),
    view: idSchema,
    /** Civil days of the site; each makes a run of frames after the other. */
    dates: z
      .array(dateSchema)
      .max(MAX_DATES)
      .refine((d) => new Set(d).size === d.length, 'A date is listed twice.')
      .default([]),
    from: z.union([z.literal('sunrise'), clockSchema]).default('sunrise'),
    to: z.union([z.literal('sunset'), clockSchema]).default('sunset'),
    /** Minutes between frames, on whole multiples on the clock; either this or `count`. */
    stepMinutes: z.int().min(1).max(720).optional(),
    /** Frames a date, evenly from `from` to `to`. */
    count: z.int().min(1).max(MAX_PER_DAY).optional(),
    /** Degrees that the sun must stand above at sunrise and sunset. */
    minimumAltitude: z.number().min(-6).max(60).default(3),
    /** A way of the sun for effect instead of dates: through these places, evenly, in so many frames. */
    path: z.strictObject({ points: z.array(sunPathPointSchema).min(2).max(50), frames: z.int().min(2).max(10_000) }).optional(),
    /** Corner into which date, time and altitude are burnt; nowhere where absent. Files of light (OpenEXR) stay clean. */
    legend: cornerSchema.optional(),
  })
  .superRefine((shot, context) => {
    if (shot.path) return;
    if (shot.dates.length === 0)
      context.addIssue({ code: 'custom', path: ['dates'], message: 'A sun study needs a date, as 2026-06-21, or a path of the sun.' });
    if ((shot.stepMinutes === undefined) === (shot.count === undefined))
      context.addIssue({ code: 'custom', path: ['stepMinutes'], message: 'Give either stepMinutes or count.' });
    if (shot.from !== 'sunrise' && shot.to !== 'sunset' && minutesOf(shot.from) > minutesOf(shot.to))
      context.addIssue({ code: 'custom', path: ['to'], message: 'The start of a day must be before its end.' });
  });

/** What {@link sunStudySchema} reads. */
export type SunStudyShot = z.infer<typeof sunStudySchema>;

/** The civil days of a year's equinoxes and solstices, from March on. */
export function seasonDates(year: number, zone: string): string[] {
  const s = Seasons(year);
  return [s.mar_equinox, s.jun_solstice, s.sep_equinox, s.dec_solstice].map((t) => localTimeOf(t.date.getTime(), zone).date);
}

/** The 21st of every month. */
export function monthDates(year: number): string[] {
  return Array.from({ length: 12 }, (_, m) => `${year}-${String(m + 1).padStart(2, '0')}-21`);
}

/** Instants between which a day's frames lie: by its clock times, or by the first and last whole minute with the sun high enough. */
function dayEnds(shot: SunStudyShot, date: string, site: Site): { from: number; to: number } | null {
  const day = dayOf(date, site.timeZone);
  const high = (at: number): boolean => sunAt(site, at).altitude > shot.minimumAltitude;
  const minute = 60_000;
  const clock = (time: string): number => day.from + minutesOf(time) * minute;
  // A clock time that is skipped or doubled that day is taken by the hours passed since midnight.
  const at = (time: string): number => {
    try {
      return instantOf({ date, time }, site.timeZone).at;
    } catch {
      return clock(time);
    }
  };
  let from = shot.from === 'sunrise' ? day.from : at(shot.from);
  let to = shot.to === 'sunset' ? day.to - minute : at(shot.to);
  if (shot.from === 'sunrise') while (from <= to && !high(from)) from += minute;
  if (shot.to === 'sunset') while (to >= from && !high(to)) to -= minute;
  return from <= to ? { from, to } : null;
}

/** Civil times of a day's frames. */
export function timesOfDay(shot: SunStudyShot, date: string, site: Site): LocalDateTime[] {
  if (shot.count !== undefined) {
    const span = dayEnds(shot, date, site);
    if (!span) return [];
    const { from, to } = span;
    const n = shot.count;
    const list = Array.from({ length: n }, (_, i) => {
      const at = n === 1 ? (from + to) / 2 : from + ((to - from) * i) / (n - 1);
      return localTimeOf(Math.round(at / 60_000) * 60_000, site.timeZone);
    });
    // More frames than minutes would make one of them twice.
    return list.filter((c, i) => i === 0 || c.time !== list[i - 1]!.time || c.later !== list[i - 1]!.later);
  }
  const [first, last] = [shot.from === 'sunrise' ? 0 : minutesOf(shot.from), shot.to === 'sunset' ? 1440 : minutesOf(shot.to)];
  const steps = clockSteps(date, site.timeZone, shot.stepMinutes!, first, last);
  const high = steps.map((c) => sunAt(site, instantOf(c, site.timeZone).at).altitude > shot.minimumAltitude);
  const from = shot.from === 'sunrise' ? high.indexOf(true) : 0;
  const to = shot.to === 'sunset' ? high.lastIndexOf(true) : steps.length - 1;
  return from < 0 || to < 0 ? [] : steps.slice(from, to + 1);
}

/** Places on the way through the given ones, along great circles, evenly by angle, both ends included. */
export function pointsOnPath({ points, frames }: NonNullable<SunStudyShot['path']>): z.infer<typeof sunPathPointSchema>[] {
  const ways = points.map((p) => skyDirection(p.azimuth, p.altitude));
  const legs = ways.slice(1).map((w, i) => angleBetween(ways[i]!, w));
  const total = legs.reduce((a, b) => a + b, 0);
  return Array.from({ length: frames }, (_, i) => {
    let left = (total * i) / (frames - 1);
    let leg = 0;
    while (leg < legs.length - 1 && left > legs[leg]!) left -= legs[leg++]!;
    return skyAngles(slerp(ways[leg]!, ways[leg + 1]!, legs[leg]! > 0 ? left / legs[leg]! : 0));
  });
}

function sunsOfDates(shot: SunStudyShot, site: Site | undefined): (LocalDateTime | { manualSun: z.infer<typeof sunPathPointSchema> })[] {
  if (shot.path) return pointsOnPath(shot.path).map((manualSun) => ({ manualSun }));
  if (!site) throw new Error(`The sun study "${shot.name ?? shot.id}" needs a site: give its latitude and longitude on the stage.`);
  return shot.dates.flatMap((date) => timesOfDay(shot, date, site));
}

/** A study's suns are as they were while it is the same object at the same site. */
function sunsOf(shot: SunStudyShot, { site, memo }: Pick<CountContext, 'site' | 'memo'>): ReturnType<typeof sunsOfDates> {
  const key = site ? `${site.latitude} ${site.longitude} ${site.elevation} ${site.timeZone}` : '';
  const found = memo?.get(shot) as { site: string; suns: ReturnType<typeof sunsOfDates> } | undefined;
  if (found?.site === key) return found.suns;
  const made = sunsOfDates(shot, site);
  memo?.set(shot, { site: key, suns: made });
  return made;
}

/** The sun goes its way over one view, by the clocks of the site. */
export const sunStudy: ShotKind<typeof sunStudySchema> = {
  kind: 'sunStudy',
  label: 'sun study',
  moving: true,
  schema: sunStudySchema,
  defaults: (id, name, view) => ({
    id,
    name,
    kind: 'sunStudy',
    view,
    dates: ['2026-06-21'],
    from: 'sunrise',
    to: 'sunset',
    stepMinutes: 30,
    minimumAltitude: 3,
  }),
  count: (shot, context) => (shot.path ? shot.path.frames : context.site ? sunsOf(shot, context).length : 0),
  poses(shot, context) {
    const view = viewOf(context, shot.view);
    const camera = context.cameraOf(view);
    return sunsOf(shot, context).map((daylight, i) => ({
      view,
      time: frameTime(i, context.rate),
      camera,
      daylight,
      ...(shot.legend && { legend: shot.legend }),
    }));
  },
  curve: (_, frames) => ({ label: 'sun', unit: '°', decimals: 1, values: frames.map((f) => f.sun?.altitude ?? 0) }),
  viewPaths: (shot) => [[shot.view, ['view']]],
  siteReason: (shot) => (shot.path ? null : 'follows the sun'),
  hasDayPage: true,
  summary(shot) {
    if (shot.path) return 'the sun put by hand';
    const days = shot.dates.length === 1 ? shot.dates[0]! : `${shot.dates.length} dates`;
    return `${days}, ${shot.count === undefined ? `every ${shot.stepMinutes} min` : `${shot.count} per date`}`;
  },
};
