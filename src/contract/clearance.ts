/** Requests and replies about what stands in the way: the room that a walking camera has, and what a section reveal cuts. */
import * as z from 'zod';
import { pointSchema } from '../core/camera/view.js';

/** Which revision is asked. */
export const clearanceQuery = z.object({ revision: z.coerce.number().int() });
/** Points whose surroundings are asked for, metres. */
export const clearanceRequest = z.strictObject({
  /** Along the path. */
  points: z.array(pointSchema).max(400),
  /** For which a free place is looked for, where they have no room. */
  stations: z.array(pointSchema).max(200),
});
/** How much room there is about them. */
export const clearanceReply = z.object({
  /** Metres to the nearest thing from each point; null where nothing is near. */
  clear: z.array(z.number().nullable()),
  /** A place near by with room for each station that has none; null for those that have, or where there is none. */
  free: z.array(pointSchema.nullable()),
});
/** Which section reveal is asked. */
export const revealQuery = z.object({ revision: z.coerce.number().int(), shot: z.string(), v: z.string().optional() });
/** How much a reveal cuts, frame by frame. */
export const revealReply = z.object({
  /** Square metres that the plane cuts out of solids, a frame; of every so many where there are very many triangles. */
  areas: z.array(z.number()),
  /** Where the plane stands in those frames, in metres along its normal. */
  offsets: z.array(z.number()),
  every: z.int(),
});
/** What {@link revealReply} reads. */
export type RevealReply = z.infer<typeof revealReply>;
/** What {@link clearanceReply} reads. */
export type ClearanceReply = z.infer<typeof clearanceReply>;
