/** How near a walking camera comes to things, from rays all round; and a place near by where it has room. */
import type { Vec3 } from '../../math/bounds.js';

/** What rays of six numbers meet first: their distance in lengths of the direction, infinite for nothing. */
export type NearestDistance = (rays: Float32Array) => { distance: Float32Array };

/** Metres that an eye should keep from walls and posts (common practice, no source). */
export const MIN_CLEARANCE = 0.3;
const AROUND = 24;
/** Rays up and down as well as level: a lintel is met too. */
const TILTS = [-0.6, 0, 0.6];

const DIRECTIONS: readonly Vec3[] = TILTS.flatMap((tilt) =>
  Array.from({ length: AROUND }, (_, i): Vec3 => {
    const a = (i / AROUND) * 2 * Math.PI;
    return [Math.cos(a) * Math.cos(tilt), Math.sin(tilt), Math.sin(a) * Math.cos(tilt)];
  }),
);
/** Rays a point costs. */
export const RAYS_PER_POINT = DIRECTIONS.length;

/** Metres to the nearest thing from each point, seen in 72 directions; Infinity where nothing is met. */
export function clearances(points: Vec3[], nearest: NearestDistance): number[] {
  const rays = new Float32Array(points.length * DIRECTIONS.length * 6);
  points.forEach((p, i) =>
    DIRECTIONS.forEach((way, k) => {
      rays.set(p, (i * DIRECTIONS.length + k) * 6);
      rays.set(way, (i * DIRECTIONS.length + k) * 6 + 3);
    }),
  );
  const { distance } = nearest(rays);
  return points.map((_, i) => {
    let least = Infinity;
    for (let k = 0; k < DIRECTIONS.length; k++) least = Math.min(least, distance[i * DIRECTIONS.length + k]!);
    return least;
  });
}

/** Rings in which a free place is looked for, and how many places each has. */
const RINGS = 10;
const SAMPLED_POINTS = 16;

/** The nearest place at the same height with so much room, within ten times that; null where there is none. */
export function nearestClearPoint(point: Vec3, room: number, nearest: NearestDistance): Vec3 | null {
  for (let ring = 1; ring <= RINGS; ring++) {
    const places = Array.from({ length: SAMPLED_POINTS }, (_, i): Vec3 => {
      const a = (i / SAMPLED_POINTS) * 2 * Math.PI;
      return [point[0] + Math.cos(a) * ring * room, point[1], point[2] + Math.sin(a) * ring * room];
    });
    const clear = clearances(places, nearest);
    const best = clear.reduce(
      (b, c, i) => (c >= room && c > (clear[b] ?? 0) ? i : b),
      clear.findIndex((c) => c >= room),
    );
    if (best >= 0) return places[best]!;
  }
  return null;
}
