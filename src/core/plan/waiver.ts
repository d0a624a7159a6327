/** A finding of the checks before a run that a person decided to live with, and why. */
import * as z from 'zod';

/** A finding that a person has looked at and lets stand, with the reason. */
export const waiverSchema = z.strictObject({
  /** Id of the finding. */
  finding: z.string().regex(/^[a-z][a-z0-9-]{0,63}$/),
  /** The run of frames that it counts for: a shot's id, with "@" and "+" for a further size and a variant; the whole set where absent. */
  shot: z.string().min(1).max(200).optional(),
  /** Number of the one frame of that run that it counts for. */
  frame: z.int().min(0).max(10_000_000).optional(),
  reason: z.string().min(1).max(300),
  /** Hash of what the finding was about: where that changes, the waiver ends. */
  about: z.string().min(1).max(64),
});

/** What {@link waiverSchema} reads. */
export type Waiver = z.infer<typeof waiverSchema>;
/** Waivers that a set holds at most. */
export const MAX_WAIVERS = 1000;
