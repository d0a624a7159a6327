/** An image over the frames of a movie: where, how large, how clear. */
import * as z from 'zod';
import { cornerSchema, type Corner } from '../frame/legend.js';
import { TEXTURE_NAME } from '../image/fileTypes.js';
import type { Size } from '../camera/view.js';

/** An image laid over every frame of a movie. */
export const logoSchema = z.strictObject({
  /** As textures are named: content hash and ending. */
  file: z.string().regex(TEXTURE_NAME, 'is no image that was uploaded'),
  /** As people call it. */
  name: z.string().min(1).max(200),
  corner: cornerSchema.default('top right'),
  /** Share of the frame's width that it takes. */
  width: z.number().min(0.01).max(1).default(0.12),
  /** Room to the edges, in shares of the frame's width. */
  margin: z.number().min(0).max(0.4).default(0.03),
  opacity: z.number().min(0.05).max(1).default(1),
});
/** What {@link logoSchema} reads. */
export type Logo = z.infer<typeof logoSchema>;

/** Pixels of a logo in a frame: it keeps its proportions, and stays within the frame. @param own size of the image. */
export function logoPlace(
  frame: Size,
  own: Size,
  { corner, width, margin }: Pick<Logo, 'corner' | 'width' | 'margin'>,
): Size & { left: number; top: number } {
  const inset = Math.round(margin * frame.width);
  const room = { width: Math.max(1, frame.width - 2 * inset), height: Math.max(1, frame.height - 2 * inset) };
  const scale = Math.min((width * frame.width) / own.width, room.width / own.width, room.height / own.height);
  const size = { width: Math.max(1, Math.round(own.width * scale)), height: Math.max(1, Math.round(own.height * scale)) };
  const at: Record<Corner, [number, number]> = {
    'top left': [0, 0],
    'top right': [1, 0],
    'bottom left': [0, 1],
    'bottom right': [1, 1],
  };
  const [right, low] = at[corner];
  return { ...size, left: right ? frame.width - inset - size.width : inset, top: low ? frame.height - inset - size.height : inset };
}
