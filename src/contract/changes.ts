/** What a start would render of a set, and what is there already. */
import * as z from 'zod';
import { draftSchema } from './batches.js';
import { SELECTION_WORDS } from '../core/plan/selection.js';

/** Of a draft both shares are given, or none. */
export const changesQuery = z
  .object({
    revision: z.coerce.number().int().positive(),
    variant: z.string().max(64).optional(),
    size: z.coerce.number().optional(),
    samples: z.coerce.number().optional(),
  })
  .transform(({ size, samples, ...rest }, context) => {
    if (size === undefined && samples === undefined) return { ...rest, draft: undefined };
    const draft = draftSchema.safeParse({ size, samples });
    if (!draft.success) context.addIssue({ code: 'custom', message: 'Of a draft both size and samples are shares above 0 and up to 1.' });
    return { ...rest, draft: draft.data };
  });

const word = z.enum(SELECTION_WORDS);

/** What a start would render, and why. */
export const changesReply = z.object({
  /** Frames that the set plans. */
  total: z.int(),
  /** Frames of which an equal picture is there. */
  takenOver: z.int(),
  /** Frames whose files are developed of a master that is there. */
  toDevelop: z.int(),
  toRender: z.int(),
  /** Frames that each word of a selection stands for. */
  counts: z.record(word, z.int()),
  /** Why pictures that are there are stale, most frames first; no grounds where they are of an earlier version. */
  reasons: z.array(z.object({ grounds: z.array(z.string()), frames: z.int() })),
  /** Frame numbers of each run that each word stands for, as a selection writes them; empty for none. */
  runs: z.array(z.object({ run: z.string(), words: z.record(word, z.string()) })),
});
/** What {@link changesReply} reads. */
export type ChangesReply = z.infer<typeof changesReply>;
