/** The schema of a reel: shots joined to one movie. */
import * as z from 'zod';
import { idSchema } from '../camera/view.js';

/** Shots put one after another into one movie. */
export const reelSchema = z.strictObject({
  id: idSchema,
  name: z.string().min(1).max(80),
  parts: z
    .array(
      z.strictObject({
        /** Id of a shot; a still stands for `seconds`. */
        shot: idSchema,
        /** Id of the variant that it shows; that of the batch where absent. */
        variant: idSchema.optional(),
        /** Letter of the revision that it shows, out of a batch of that; that of the batch where absent. */
        revision: z.string().min(1).max(8).optional(),
        /** First and last frame of it, in its own numbers; all where absent. */
        from: z.int().min(0).optional(),
        to: z.int().min(0).optional(),
        /** 2 plays it twice as fast. */
        speed: z.number().min(0.05).max(20).default(1),
        /** Seconds that each picture of a still stands. */
        seconds: z.number().min(0.04).max(600).default(2),
        /** Frames that it and the part before it overlap by; 0 is a cut. */
        fade: z.int().min(0).max(1000).default(0),
      }),
    )
    .min(1, 'A reel needs a clip.')
    .max(200),
});

/** What {@link reelSchema} reads. */
export type Reel = z.infer<typeof reelSchema>;

/** Renders that a part of a reel plays: of a shot, in a variant and of a revision where they are named. */
export type ReelTake = Pick<ReelEvent, 'shot' | 'variant' | 'revision'>;

/** One part of a reel. */
export type ReelEvent = Reel['parts'][number];
