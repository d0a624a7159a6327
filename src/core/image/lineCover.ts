/** How much of a pixel drawn lines cover. It stands apart from the style's schema: who draws lines needs no validation. */

/** Pixels. */
export const MIN_LINE_WIDTH = 0.5;
/** Pixels that lines are wide at most. */
export const MAX_LINE_WIDTH = 20;
/** Of the pass where no lines are drawn over the picture. */
export const DEFAULT_LINE_WIDTH = 1.2;

/**
 * Share of each pixel that lines cover, 0..1: their edge is one pixel soft, and what is thinner than a pixel is fainter.
 * @param distances of pixels' middles from the nearest line. @param width in pixels.
 */
export function lineCover(distances: Float32Array, width: number): Float32Array {
  const reach = width / 2 + 0.5;
  const most = Math.min(1, width);
  return distances.map((d) => Math.min(1, Math.max(0, reach - d)) * most);
}
