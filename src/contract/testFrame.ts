/** One frame of a set, rendered at once. */
import * as z from 'zod';

/** A frame to be tested. */
export const testFrameQuery = z.object({
  revision: z.coerce.number().int().positive(),
  /** Run of frames (Frame.shot), and the frame's number in it. */
  run: z.string(),
  number: z.coerce.number().int().min(0),
  /** Of its width and height. */
  scale: z.coerce.number().min(0.05).max(1),
  /** What events about its progress are told by. */
  token: z.string().min(1).max(64),
});
