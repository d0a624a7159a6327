/** The sun's ways over a site as a sun-path diagram shows them: stereographic, zenith in the middle, horizon at radius 1. */
import { type LocalDateTime, clockSteps, dayOf, instantOf } from '../units/localTime.js';
import { csv } from '../base/csv.js';
import type { Site } from './site.js';
import { shadowLength, sunAt, sunDay, type SunDay } from './sun.js';

/** Days that every diagram shows, of a year: solstices and equinox (the dates of most years of this century, in UTC). */
export const YEAR_MARKS = [
  { name: 'summer solstice', day: '06-21' },
  { name: 'equinox', day: '03-20' },
  { name: 'winter solstice', day: '12-21' },
] as const;

/** A direction: degrees clockwise from true north, and above the horizon. */
export interface SkyPoint {
  azimuth: number;
  altitude: number;
}

/** Place in the diagram: x grows to the east, y to the south, so that north is up and east to the right as on a plan. */
export function project({ azimuth, altitude }: SkyPoint): [number, number] {
  const r = Math.tan(((90 - altitude) * Math.PI) / 360);
  const a = (azimuth * Math.PI) / 180;
  return [r * Math.sin(a), -r * Math.cos(a)];
}

/** The other way round. */
export function unproject(x: number, y: number): SkyPoint {
  const azimuth = ((Math.atan2(x, -y) * 180) / Math.PI + 360) % 360;
  return { azimuth, altitude: 90 - (Math.atan(Math.hypot(x, y)) * 360) / Math.PI };
}

/** Where the sun stands at an instant. */
export interface ArcPoint extends SkyPoint {
  /** Milliseconds since 1970. */
  at: number;
}

/** The sun over a civil day, a point every so many minutes, those below the horizon included. */
export function dayArc(site: Site, date: string, everyMinutes = 10): ArcPoint[] {
  const { from, to } = dayOf(date, site.timeZone);
  const list: ArcPoint[] = [];
  for (let at = from; at <= to; at += everyMinutes * 60_000) {
    const { azimuth, altitude } = sunAt(site, at);
    list.push({ at, azimuth, altitude });
  }
  return list;
}

/** Where the sun stands at each whole hour of the site's standard time, through the year. */
export function hourLines(site: Site, year: number): { hour: number; points: SkyPoint[] }[] {
  const winter = instantOf({ date: `${year}-01-15`, time: '12:00' }, site.timeZone);
  const summer = instantOf({ date: `${year}-07-15`, time: '12:00' }, site.timeZone);
  const offset = Math.min(winter.offset, summer.offset);
  return Array.from({ length: 24 }, (_, hour) => ({
    hour,
    points: Array.from({ length: 37 }, (_, k) => {
      const { azimuth, altitude } = sunAt(site, Date.UTC(year, 0, 1 + k * 10) + (hour - offset) * 3_600_000);
      return { azimuth, altitude };
    }),
  }));
}

/** Instant of a day at which the sun comes nearest to a place of the diagram. */
export function nearestOnDay(site: Site, date: string, x: number, y: number): number {
  const { from, to } = dayOf(date, site.timeZone);
  let [best, least] = [from, Infinity];
  // A minute is a quarter of a degree at most, finer than a hand.
  for (let at = from; at < to; at += 60_000) {
    const [px, py] = project(sunAt(site, at));
    const far = (px - x) ** 2 + (py - y) ** 2;
    if (far < least) [best, least] = [at, far];
  }
  return best;
}

/** One line of the table of a day. */
export interface DayRow extends SkyPoint, LocalDateTime {
  /** Metres of shadow a metre of pole; null while the sun is down. */
  shadow: number | null;
}

/** Hour by hour: where the sun is and how long shadows are. */
export function dayTable(site: Site, date: string, stepMinutes = 60): { day: SunDay; rows: DayRow[] } {
  const { from, to } = dayOf(date, site.timeZone);
  const rows = clockSteps(date, site.timeZone, stepMinutes).map((civil): DayRow => {
    const { azimuth, altitude } = sunAt(site, instantOf(civil, site.timeZone).at);
    return { ...civil, azimuth, altitude, shadow: altitude > 0 ? shadowLength(altitude) : null };
  });
  return { day: sunDay(site, from, to), rows };
}

/** The table as CSV (RFC 4180). */
export function dayCsv(site: Site, date: string, stepMinutes = 60): string {
  const head = ['date', 'time', 'doubled hour', 'azimuth degrees', 'altitude degrees', 'shadow metres a metre'];
  return csv(
    head,
    dayTable(site, date, stepMinutes).rows.map((r) => [r.date, r.time, r.later ? 'second' : '', r.azimuth, r.altitude, r.shadow]),
  );
}

/** Places that a drawn way of the sun keeps at most, and how far it may lie off what was drawn, in radii of the diagram. */
const MAX_PATH_POINTS = 40;
const MAX_DEVIATION = 0.008;

/** Keeps the points of a line that no straight step stands for (Ramer 1972; Douglas and Peucker 1973). */
function simplified(points: readonly [number, number][], off: number): number[] {
  const keep = new Set([0, points.length - 1]);
  const within = (from: number, to: number): void => {
    const [[ax, ay], [bx, by]] = [points[from]!, points[to]!];
    const length = Math.hypot(bx - ax, by - ay);
    let [far, at] = [off, -1];
    for (let i = from + 1; i < to; i++) {
      const [x, y] = points[i]!;
      const d = length > 0 ? Math.abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / length : Math.hypot(x - ax, y - ay);
      if (d > far) [far, at] = [d, i];
    }
    if (at < 0) return;
    keep.add(at);
    within(from, at);
    within(at, to);
  };
  within(0, points.length - 1);
  return [...keep].sort((a, b) => a - b);
}

/**
 * Places of the sun along a line drawn on the diagram (in its radii, see project): so many as tell the line, to a tenth of a
 * degree, none below the horizon. Null where it is no longer than a click.
 */
export function simplifyDrawnPath(line: readonly [number, number][]): SkyPoint[] | null {
  if (line.length < 2) return null;
  const length = line.slice(1).reduce((s, [x, y], i) => s + Math.hypot(x - line[i]![0], y - line[i]![1]), 0);
  if (length < 0.05) return null;
  let off = MAX_DEVIATION;
  let kept = simplified(line, off);
  while (kept.length > MAX_PATH_POINTS) kept = simplified(line, (off *= 1.5));
  const round = (v: number): number => Number(v.toFixed(1));
  const places = kept.map((i) => {
    const { azimuth, altitude } = unproject(...line[i]!);
    return { azimuth: round(azimuth), altitude: Math.max(0, round(altitude)) };
  });
  // What rounds to one place is one.
  const apart = places.filter((p, i) => i === 0 || p.azimuth !== places[i - 1]!.azimuth || p.altitude !== places[i - 1]!.altitude);
  return apart.length < 2 ? null : apart;
}
