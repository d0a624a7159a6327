/** Surfaces of a CityJSON geometry, with what is said of each, and their triangles. */
import { ShapeUtils, Vector2 } from 'three';
import { DamageError } from '../format.js';
import type { CityGeometry, Nested } from './document.js';

/** A polygon in space: its outer ring, and its holes. */
export interface Surface {
  rings: number[][];
  /** What it is, as "RoofSurface"; null where nobody said. */
  kind: string | null;
  /** Number of its material in the file; null where it has none. */
  material: number | null;
}

type Vec3 = readonly [number, number, number];

/** How many lists stand around a surface, by the type of geometry. */
export const SURFACE_DEPTH: Readonly<Record<string, number>> = {
  MultiSurface: 1,
  CompositeSurface: 1,
  Solid: 2,
  MultiSolid: 3,
  CompositeSolid: 3,
};

const isList = (value: unknown): value is readonly Nested[] => Array.isArray(value);
const numberOrNull = (value: Nested | undefined): number | null => (typeof value === 'number' ? value : null);

/** Surfaces of a geometry of these types. @param theme of the materials; the first one where the file names none. */
export function surfacesOf({ type, boundaries, semantics, material = {} }: CityGeometry, theme: string | undefined): Surface[] {
  const themed = (theme !== undefined && material[theme]) || Object.values(material)[0] || {};
  const out: Surface[] = [];
  // Both lists are as deep as the surfaces; where one stops early, that goes for all below.
  const walk = (at: Nested | undefined, depth: number, kind: Nested | undefined, worn: Nested | undefined): void => {
    if (!isList(at)) throw new DamageError(`it has a ${type} without its boundaries`);
    if (depth === 0) {
      const rings = at.map((ring) => {
        if (!isList(ring) || !ring.every((v) => Number.isInteger(v))) throw new DamageError(`it has a ${type} whose rings are no lists of vertices`);
        return [...(ring as readonly number[])];
      });
      const said = numberOrNull(kind);
      out.push({ rings, kind: (said !== null && semantics?.surfaces?.[said]?.type) || null, material: numberOrNull(worn) });
      return;
    }
    at.forEach((inner, i) => walk(inner, depth - 1, isList(kind) ? kind[i] : kind, isList(worn) ? worn[i] : worn));
  };
  walk(boundaries, SURFACE_DEPTH[type]!, semantics?.values, themed.values ?? themed.value);
  return out;
}

/** A direction across a polygon, as long as twice its area (Newell's method). */
function normalOf(ring: readonly Vec3[]): [number, number, number] {
  const n: [number, number, number] = [0, 0, 0];
  ring.forEach((a, i) => {
    const b = ring[(i + 1) % ring.length]!;
    for (let k = 0; k < 3; k++) {
      const [u, v] = [(k + 1) % 3, (k + 2) % 3];
      n[k]! += (a[u]! - b[u]!) * (a[v]! + b[v]!);
    }
  });
  return n;
}

/**
 * Triangles of a polygon with holes, nine numbers each, that turn as its outer ring does; none where it has no area.
 * @param pointOf where a vertex lies. @throws where one is not there.
 */
export function trianglesOf(rings: readonly number[][], pointOf: (vertex: number) => Vec3): number[] {
  const points = rings.map((ring) => {
    // Some writers close rings by the first vertex once more.
    const open = ring.length > 1 && ring[0] === ring.at(-1) ? ring.slice(0, -1) : ring;
    return open.map(pointOf);
  });
  const [outer, ...holes] = points;
  if (!outer || outer.length < 3) return [];
  const n = normalOf(outer);
  // Seen along the axis that it faces most: what lies there does not fold over.
  const k = [0, 1, 2].reduce((best, i) => (Math.abs(n[i]!) > Math.abs(n[best]!) ? i : best), 0);
  if (n[k] === 0) return [];
  const [u, v] = n[k]! > 0 ? [(k + 1) % 3, (k + 2) % 3] : [(k + 2) % 3, (k + 1) % 3];
  const flat = (p: Vec3): Vector2 => new Vector2(p[u], p[v]);
  const all = [outer, ...holes.filter((h) => h.length > 2)];
  const [contour, ...inner] = all.map((ring) => ring.map(flat));
  const places = all.flat();
  return ShapeUtils.triangulateShape(contour!, inner).flatMap(([a, b, c]) => {
    const [p, q, r] = [flat(places[a!]!), flat(places[b!]!), flat(places[c!]!)];
    const turns = (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x);
    return (turns < 0 ? [a, c, b] : [a, b, c]).flatMap((i) => places[i!]!);
  });
}
