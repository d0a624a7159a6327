/** Hours of sun at places of a design, by rays to where the sun stands over a day. */
import { type Bounds, centreOf, radiusOf, type Vec3 } from '../math/bounds.js';
import { csv } from '../base/csv.js';
import { type Site, skyDirection } from './site.js';
import { dayOf } from '../units/localTime.js';
import { sunAt } from './sun.js';

/** Answers rays of six numbers each, origin and direction, all the way: 1 where something stands in it. */
export type AnyHits = (rays: Float32Array) => Uint8Array;

/** Where the sun stands at an instant. */
export interface SunStep {
  at: number;
  /** Unit vector in the model to the sun. */
  to: Vec3;
  altitude: number;
}

/** The sun at the middle of every step of a day, while it stands above `minimumAltitude` degrees. */
export function sunSteps(site: Site, date: string, stepMinutes: number, minimumAltitude = 0): SunStep[] {
  const { from, to } = dayOf(date, site.timeZone);
  const step = stepMinutes * 60_000;
  const list: SunStep[] = [];
  for (let at = from + step / 2; at < to; at += step) {
    const { azimuth, altitude } = sunAt(site, at);
    if (altitude > minimumAltitude) list.push({ at, altitude, to: skyDirection(azimuth, altitude, site.north) });
  }
  return list;
}

/** Rays asked at a time. */
const CHUNK = 8192;

function answer(rays: (index: number) => readonly [Vec3, Vec3], count: number, blocked: AnyHits): Uint8Array {
  const all = new Uint8Array(count);
  for (let first = 0; first < count; first += CHUNK) {
    const n = Math.min(CHUNK, count - first);
    const chunk = new Float32Array(n * 6);
    for (let i = 0; i < n; i++) {
      const [origin, direction] = rays(first + i);
      chunk.set(origin, i * 6);
      chunk.set(direction, i * 6 + 3);
    }
    all.set(blocked(chunk), first);
  }
  return all;
}

/** Hours of sun at each point. */
export function sunHours(points: Vec3[], suns: SunStep[], stepMinutes: number, blocked: AnyHits): number[] {
  if (suns.length === 0) return points.map(() => 0);
  const seen = answer((i) => [points[Math.floor(i / suns.length)]!, suns[i % suns.length]!.to], points.length * suns.length, blocked);
  return points.map((_, p) => {
    let steps = 0;
    for (let s = 0; s < suns.length; s++) steps += 1 - seen[p * suns.length + s]!;
    return (steps * stepMinutes) / 60;
  });
}

/** Squares on the ground. */
export interface SunGrid {
  /** Corner of least x and z, metres, and side of the square. */
  x: number;
  z: number;
  side: number;
  cells: number;
  height: number;
}

/** A square of ground around the subject, of two and a half times its breadth. */
export function gridAround(bounds: Bounds, height: number, cells: number): SunGrid {
  const [x, , z] = centreOf(bounds);
  const side = Math.max(1e-3, 2.5 * radiusOf({ min: [bounds.min[0], 0, bounds.min[2]], max: [bounds.max[0], 0, bounds.max[2]] }));
  return { x: x - side / 2, z: z - side / 2, side, cells, height };
}

/** Middle of each cell, row by row from -Z, at the height of the stage's ground. */
export function gridPoints({ x, z, side, cells, height }: SunGrid): Vec3[] {
  const cell = side / cells;
  return Array.from({ length: cells * cells }, (_, i) => [x + ((i % cells) + 0.5) * cell, height, z + (Math.floor(i / cells) + 0.5) * cell]);
}

/** What rays from above meet first: how far, infinite for nothing, and 1 where it is surroundings and not the subject. */
export type ClosestHits = (rays: Float32Array) => { distance: Float32Array; isContext: Uint8Array };

/** So far over the stage's ground the subject's own surfaces still count as ground: a step, a kerb. */
const STEP = 0.3;

/**
 * Where things land that fall on points of the plan: on the surroundings, or on the stage's ground where
 * there are none; null where the subject is in the way. `top` is above everything, metres.
 */
export function groundHeights(points: Vec3[], ground: number, top: number, met: ClosestHits): (number | null)[] {
  const list: (number | null)[] = [];
  for (let first = 0; first < points.length; first += CHUNK) {
    const some = points.slice(first, first + CHUNK);
    const { distance, isContext: surroundings } = met(Float32Array.from(some.flatMap(([x, , z]) => [x, top, z, 0, -1, 0])));
    some.forEach((_, i) => {
      const height = Math.max(ground, top - distance[i]!);
      list.push(surroundings[i] || height - ground < STEP ? height : null);
    });
  }
  return list;
}

/** How long the sun reaches each square of the ground. */
export interface GroundHours {
  grid: SunGrid;
  /** Hours a cell; null where the subject covers it, so that it is no open ground. */
  hours: (number | null)[];
  /** Height of the ground in each cell, metres; null where it is covered. */
  heights: (number | null)[];
  /** Share of the open ground with at least two hours. */
  share: number;
  /** At least two hours over at least half of the open ground (BR 209, on 21 March; from memory). */
  passes: boolean;
}

/** Hours of sun over the ground around the subject. `top` is above everything. */
export function groundHours(
  grid: SunGrid,
  suns: SunStep[],
  stepMinutes: number,
  { blocked, met, top }: { blocked: AnyHits; met: ClosestHits; top: number },
): GroundHours {
  const points = gridPoints(grid);
  const heights = groundHeights(points, grid.height, top, met);
  // A hair above, or the ground would shade itself.
  const lift = (1e-3 * grid.side) / grid.cells + 1e-4;
  const open = points.flatMap(([x, , z], i): Vec3[] => (heights[i] === null ? [] : [[x, heights[i]! + lift, z]]));
  const of = sunHours(open, suns, stepMinutes, blocked);
  let k = 0;
  const hours = heights.map((height) => (height === null ? null : of[k++]!));
  const sunny = of.filter((h) => h >= 2 - 1e-9).length;
  const share = of.length > 0 ? sunny / of.length : 0;
  return { grid, hours, heights, share, passes: share >= 0.5 };
}

/** Levels of sunlight exposure of EN 17037, in hours on one day between 1 February and 21 March (from memory). */
export const EXPOSURE_LEVELS = [
  { level: 'high', hours: 4 },
  { level: 'medium', hours: 3 },
  { level: 'minimum', hours: 1.5 },
] as const;

/** The level that so many hours at a window's reference point reach; 'none' below the least. */
export function exposureLevel(hours: number): 'high' | 'medium' | 'minimum' | 'none' {
  return EXPOSURE_LEVELS.find((l) => hours >= l.hours - 1e-9)?.level ?? 'none';
}

/** Whether the day is one of those that EN 17037 judges. */
export function isExposureDay(date: string): boolean {
  const day = date.slice(5);
  return day >= '02-01' && day <= '03-21';
}

/** Hours as CSV (RFC 4180), a line a cell: place of its middle, hours, nothing where it is covered. */
export function hoursCsv({ grid, hours, heights }: GroundHours): string {
  const points = gridPoints(grid);
  return csv(
    ['x metres', 'y metres', 'z metres', 'hours of sun'],
    points.map(([x, , z], i) => [x, heights[i], z, hours[i]]),
  );
}

/** The part of the sky that the design hides, seen from a point. */
export interface Silhouette {
  /** Degrees a cell, in azimuth from true north and in altitude from the horizon up. */
  step: number;
  /** Rows from the horizon up, a cell an azimuth: 1 where the design stands before the sky. */
  cells: Uint8Array;
  across: number;
  up: number;
}

/** What the design hides of the sky, seen from a point. */
export function silhouette(from: Vec3, north: number, blocked: AnyHits, step = 2): Silhouette {
  const [across, up] = [360 / step, 90 / step];
  const cells = answer((i) => [from, skyDirection(((i % across) + 0.5) * step, (Math.floor(i / across) + 0.5) * step, north)], across * up, blocked);
  return { step, cells, across, up };
}
