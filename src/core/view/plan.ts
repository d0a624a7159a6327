/** Drawings to scale: the subject from straight above, -Z up, and from the front. */
import { type Bounds, centreOf, radiusOf } from '../geometry/bounds.js';
import { type View } from './camera.js';

/** A square of a drawing to scale, metres: its upper left corner, across and down, and its side. */
export interface Square {
  x: number;
  y: number;
  side: number;
}

/** The square of the plan that its picture shows: x across, z down. */
export function planSquare(bounds: Bounds): Square {
  const [x, , z] = centreOf(bounds);
  const side = Math.max(1e-3, 1.5 * Math.max(bounds.max[0] - bounds.min[0], bounds.max[2] - bounds.min[2]));
  return { x: x - side / 2, y: z - side / 2, side };
}

/** The square of the elevation from the front: x across, down from above, so that heights are negative. */
export function elevationSquare(bounds: Bounds): Square {
  const [x, y] = centreOf(bounds);
  const side = Math.max(1e-3, 1.3 * Math.max(bounds.max[0] - bounds.min[0], bounds.max[1] - bounds.min[1]));
  return { x: x - side / 2, y: -y - side / 2, side };
}

/** The view that draws the elevation from the front, for a square picture. */
export function elevationView(bounds: Bounds): View {
  const [x, y, z] = centreOf(bounds);
  const before = bounds.max[2] + radiusOf(bounds) + 1;
  return {
    id: 'elevation',
    name: 'Elevation',
    kind: 'parallel',
    eye: [x, y, before],
    target: [x, y, z],
    focalLength: 50,
    uprights: false,
    width: elevationSquare(bounds).side,
  };
}

/** The view that draws the plan, for a square picture. */
export function planView(bounds: Bounds): View {
  const [x, y, z] = centreOf(bounds);
  const above = bounds.max[1] + radiusOf(bounds) + 1;
  return {
    id: 'plan',
    name: 'Plan',
    kind: 'parallel',
    eye: [x, above, z],
    target: [x, y, z],
    focalLength: 50,
    uprights: false,
    width: planSquare(bounds).side,
  };
}
