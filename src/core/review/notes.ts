/** Shapes of notes that are pinned to a place in a render. */
import * as z from 'zod';

/** A Place. */
const place = z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)]);

/** What is drawn: a pin at a place, an arrow from one to another, a box by two corners, or a free stroke. */
export const noteShapeSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('pin'), points: z.array(place).length(1) }),
  z.strictObject({ kind: z.literal('arrow'), points: z.array(place).length(2) }),
  z.strictObject({ kind: z.literal('box'), points: z.array(place).length(2) }),
  z.strictObject({ kind: z.literal('stroke'), points: z.array(place).min(2).max(500) }),
]);
/** What {@link noteShapeSchema} reads. */
export type NoteShape = z.infer<typeof noteShapeSchema>;

/** States of a note. */
export const NOTE_STATES = ['open', 'done'] as const;
