/** What stands in a pixel of a planned or finished frame, and what lights it. */
import * as z from 'zod';
import type { PixelContent } from '../core/image/pixelContent.js';

/** Where in the frame: shares of its width and height from the upper left. */
export const pixelQuery = z.object({ x: z.coerce.number().min(0).max(1), y: z.coerce.number().min(0).max(1) });

/** A frame of the set as it is now. */
export const plannedPixelQuery = pixelQuery.extend({
  revision: z.coerce.number().int().positive(),
  /** Run of frames (Frame.shot), and the frame's number in it. */
  run: z.string(),
  number: z.coerce.number().int().min(0),
});

/** What stands in a pixel of a finished render, by its frozen plan. */
export interface PixelReply extends PixelContent {
  /** View that the frame was made from: its id, and its name where the set has it. */
  view: { id: string; name: string };
  /** What gives it its light, the most first; `id` of a light of the set. */
  lights: { name: string; id?: string; share: number }[];
}
