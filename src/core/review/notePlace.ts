/** Where notes stand in a render, and how they follow their part into another one. */
import type { PartMap } from './changedParts.js';
import type { NoteShape } from './notes.js';

/** What can be drawn. */
export const NOTE_SHAPES = ['pin', 'arrow', 'box', 'stroke'] as const satisfies readonly NoteShape['kind'][];

/** A place in a render: shares of its width and height, from the upper left. */
export type Place = [number, number];

/** The place that a note is about: where its pin or the head of its arrow is, or its middle. */
export function placeOfShape({ kind, points }: NoteShape): Place {
  if (kind === 'pin') return points[0]!;
  if (kind === 'arrow') return points[1]!;
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
}

const clamp = (v: number): number => Math.min(1, Math.max(0, v));

/** The shape with the place that it is about somewhere else; it stays within the render. */
export function moveShape<S extends NoteShape>(shape: S, to: Place): S {
  const [x, y] = placeOfShape(shape);
  return { ...shape, points: shape.points.map(([u, v]): Place => [clamp(u + to[0] - x), clamp(v + to[1] - y)]) };
}

/** The part at a place of a render, or null. */
export function partAt({ width, height, parts, map }: PartMap, [x, y]: Place): string | null {
  const k = map[Math.min(height - 1, Math.floor(y * height)) * width + Math.min(width - 1, Math.floor(x * width))]!;
  return k > 0 ? parts[k - 1]! : null;
}

/** Box of what is seen of a part, in shares; null where nothing is. */
function boxOf({ width, height, parts, map }: PartMap, path: string): { x: number; y: number; width: number; height: number } | null {
  const k = parts.indexOf(path) + 1;
  let [left, right, top, bottom] = [width, -1, height, -1];
  if (k > 0)
    for (let i = 0; i < map.length; i++) {
      if (map[i] !== k) continue;
      const [x, y] = [i % width, Math.floor(i / width)];
      [left, right, top, bottom] = [Math.min(left, x), Math.max(right, x), Math.min(top, y), Math.max(bottom, y)];
    }
  return right < 0 ? null : { x: left / width, y: top / height, width: (right - left + 1) / width, height: (bottom - top + 1) / height };
}

/**
 * Where a place on a part is found in another render of it: at the same shares of the box of what is seen of the part.
 * Null where the part is not seen in it.
 */
export function followPlace(from: PartMap, to: PartMap, path: string, [x, y]: Place): Place | null {
  const [was, is] = [boxOf(from, path), boxOf(to, path)];
  if (!was || !is) return null;
  return [clamp(is.x + ((x - was.x) / was.width) * is.width), clamp(is.y + ((y - was.y) / was.height) * is.height)];
}
