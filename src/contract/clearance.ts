/** Request and reply about the room that a walking camera has. */
import { z } from 'zod';
import { pointSchema } from '../core/view/camera.js';

export const clearanceQuery = z.object({ revision: z.coerce.number().int() });
export const clearanceRequest = z.strictObject({
  /** Along the path. */
  points: z.array(pointSchema).max(400),
  /** For which a free place is looked for, where they have no room. */
  stations: z.array(pointSchema).max(200),
});
export const clearanceReply = z.object({
  /** Metres to the nearest thing from each point; null where nothing is near. */
  clear: z.array(z.number().nullable()),
  /** A place near by with room for each station that has none; null for those that have, or where there is none. */
  free: z.array(pointSchema.nullable()),
});
export type ClearanceReply = z.infer<typeof clearanceReply>;
