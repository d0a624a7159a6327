/** The list that registers every kind of shot. */
import * as z from 'zod';
import type { CountContext, ShotContext, ShotKind } from './kind.js';
import type { Pose } from '../frame/pose.js';
import { sectionReveal, sectionRevealSchema } from './sectionReveal/sectionReveal.js';
import { still, stillSchema } from './still/still.js';
import { sunStudy, sunStudySchema } from './sunStudy/sunStudy.js';
import { turntable, turntableSchema } from './turntable/turntable.js';
import { walkthrough, walkthroughSchema } from './walkthrough/walkthrough.js';

/** A shot of any kind. */
export const shotSchema = z.discriminatedUnion('kind', [stillSchema, turntableSchema, sunStudySchema, walkthroughSchema, sectionRevealSchema]);
/** What {@link shotSchema} reads. */
export type Shot = z.infer<typeof shotSchema>;

/** All kinds of shot by their names. */
export const SHOT_KINDS = { still, turntable, sunStudy, walkthrough, sectionReveal } as unknown as Record<
  Shot['kind'],
  ShotKind<z.ZodType<Shot, unknown>>
>;

/** The kind of a shot. */
export function kindOf(shot: Shot): ShotKind<z.ZodType<Shot, unknown>> {
  return SHOT_KINDS[shot.kind];
}

/** Ids of the views that a shot needs, each once. */
export function viewIds(shot: Shot): string[] {
  return [
    ...new Set(
      kindOf(shot)
        .viewPaths(shot)
        .map(([id]) => id),
    ),
  ];
}

/** Whether frames of shots of this kind (Frame.kind) make a movie; of a kind that is not known it is taken that they do. */
export function isMoving(kind: string): boolean {
  return (SHOT_KINDS as Partial<Record<string, ShotKind>>)[kind]?.moving ?? true;
}

/** Kinds (Frame.kind) whose frames are pictures each of its own. */
export const STILL_KINDS: string[] = Object.keys(SHOT_KINDS).filter((kind) => !isMoving(kind));

/** What each frame of the shot shows; none of a shot that is off. */
export function shotPoses(shot: Shot, context: ShotContext): Pose[] {
  return shot.off ? [] : kindOf(shot).poses(shot, context);
}

/** Frames of the shot; 0 of a shot that is off. */
export function frameCount(shot: Shot, context: CountContext): number {
  return shot.off ? 0 : kindOf(shot).count(shot, context);
}

/** What people call the shot. */
export function shotName(shot: Shot): string {
  return shot.name ?? shot.id;
}
