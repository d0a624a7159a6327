/** How lines are drawn over a picture: light is kept with the distance to the nearest one, so that it may be chosen afterwards. */
import * as z from 'zod';
import { DEFAULT_LINE_WIDTH, MAX_LINE_WIDTH, MIN_LINE_WIDTH } from './lineCover.js';

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
