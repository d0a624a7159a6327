/** How lines are drawn over a picture: light is kept with the distance to the nearest one, so that it may be chosen afterwards. */
import { z } from 'zod';

/** Pixels. */
export const MIN_LINE_WIDTH = 0.5;
/** Pixels that lines are wide at most. */
export const MAX_LINE_WIDTH = 20;
/** Of the pass where no lines are drawn over the picture. */
export const DEFAULT_LINE_WIDTH = 1.2;

/** Width in pixels, colour as #rrggbb. */
export const lineStyleSchema = z.strictObject({
  width: z.number().min(MIN_LINE_WIDTH).max(MAX_LINE_WIDTH).default(DEFAULT_LINE_WIDTH),
  colour: z
    .string()
    .regex(/^#[0-9a-fA-F]{6}$/, 'Write a colour as #rrggbb.')
    .default('#15202a'),
});
/** What {@link lineStyleSchema} reads. */
export type LineStyle = z.infer<typeof lineStyleSchema>;

/**
 * Share of each pixel that lines cover, 0..1: their edge is one pixel soft, and what is thinner than a pixel is fainter.
 * @param distances of pixels' middles from the nearest line. @param width in pixels.
 */
export function lineCover(distances: Float32Array, width: number): Float32Array {
  const reach = width / 2 + 0.5;
  const most = Math.min(1, width);
  return distances.map((d) => Math.min(1, Math.max(0, reach - d)) * most);
}
