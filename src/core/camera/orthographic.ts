/** Drawings to scale: the subject from straight above, -Z up, and from the front. */
import { type Bounds, centreOf, radiusOf } from '../math/bounds.js';
import type { View } from './view.js';

/** A square of a drawing to scale, metres: its upper left corner, across and down, and its side. */
export interface DrawingExtent {
  x: number;
  y: number;
  side: number;
}

/** The square of the plan that its picture shows: x across, z down. */
export function planSquare(bounds: Bounds): DrawingExtent {
  const [x, , z] = centreOf(bounds);
  const side = Math.max(1e-3, 1.5 * Math.max(bounds.max[0] - bounds.min[0], bounds.max[2] - bounds.min[2]));
  return { x: x - side / 2, y: z - side / 2, side };
}

/** The square of the elevation from the front: x across, down from above, so that heights are negative. */
export function elevationSquare(bounds: Bounds): DrawingExtent {
  const [x, y] = centreOf(bounds);
  const side = Math.max(1e-3, 1.3 * Math.max(bounds.max[0] - bounds.min[0], bounds.max[1] - bounds.min[1]));
  return { x: x - side / 2, y: -y - side / 2, side };
}

/** Kinds of measured drawing: seen from above, or from a side. */
export const DRAWINGS = ['plan', 'elevation'] as const;
/** One of {@link DRAWINGS}. */
export type DrawingKind = (typeof DRAWINGS)[number];

/** What a drawing of these bounds has to show, in metres. */
export function drawingExtent(drawing: DrawingKind, bounds: Bounds): DrawingExtent {
  return drawing === 'plan' ? planSquare(bounds) : elevationSquare(bounds);
}

/** The view that makes a drawing, for a square picture. */
export function orthographicView(drawing: DrawingKind, bounds: Bounds): View {
  const target = centreOf(bounds);
  const away = radiusOf(bounds) + 1;
  const [x, y, z] = target;
  return {
    id: drawing,
    name: drawing,
    kind: 'parallel',
    eye: drawing === 'plan' ? [x, bounds.max[1] + away, z] : [x, y, bounds.max[2] + away],
    target,
    focalLength: 50,
    keepVerticals: false,
    width: drawingExtent(drawing, bounds).side,
  };
}
