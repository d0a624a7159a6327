/** What a kind of shot is: one file that lists its fields and computes its poses. */
import { type Grade, gradeSchema } from '../image/grade.js';
import type { Pose } from '../frame/pose.js';
import * as z from 'zod';
import type { Bounds } from '../math/bounds.js';
import type { Site } from '../stage/site.js';
import type { Rate } from '../units/rate.js';
import type { NameToken } from '../frame/nameTokens.js';
import { overridesSchema } from '../frame/settings.js';
import { type Camera, idSchema, type View } from '../camera/view.js';
import type { Frame } from '../frame/frame.js';

/** What every kind of shot has. */
export const shotBase = {
  id: idSchema,
  name: z.string().min(1).max(80).optional(),
  /** A shot that is off stays in the set and makes no frames. */
  off: z.boolean().optional(),
  /** Word under which shots are listed together. */
  group: z.string().min(1).max(40).optional(),
  /** Id of another of the set's stages. */
  stage: idSchema.optional(),
  /** Ids of the sheet's further sizes that it is made in; all of them where absent. */
  sizes: z.array(idSchema).max(12).optional(),
  /** Ids of variants that it is made in, each apart; as the set has it where absent. */
  variants: z
    .array(z.string().min(1).max(64))
    .min(1)
    .max(100)
    .refine((v) => new Set(v).size === v.length, 'A variant is listed twice.')
    .optional(),
  /**
   * What its frames are to show whole: the subject of the set, nothing in particular, or parts by path, each with all below.
   * Where absent, the subject of the set; nothing where the camera moves through it.
   */
  subject: z.union([z.enum(['model', 'none']), z.array(z.string().min(1).max(500)).min(1).max(100)]).optional(),
  /** How its light becomes a picture; as the set has it where absent. */
  grade: gradeSchema.optional(),
  /** What it overrides of the format sheet. */
  overrides: overridesSchema.optional(),
};

/** What the number of a shot's frames depends on, beside itself. */
export interface CountContext {
  rate: Rate;
  views: View[];
  /** Where the design stands, for what goes by the sun. */
  site?: Site;
  /** Keeps what a shot computes for both its count and its poses, by the shot itself. */
  memo?: WeakMap<object, unknown>;
}

/** What a shot's frames are computed from. */
export interface ShotContext extends CountContext {
  /** The camera of a view in the size that the frames are made in. */
  cameraOf(view: View): Camera;
  /** Share of a frame's time that the shutter is open; 0 no motion blur. */
  shutter: number;
  /** Reference bounds, frozen with the set. */
  bounds: Bounds;
}

/** A value a frame, for the ruler. */
export interface FrameCurve {
  label: string;
  unit: string;
  /** Digits after the point. */
  decimals: number;
  values: number[];
}

/** A view that a shot names: its id, and where in the shot it stands. */
export type ViewPath = [id: string, path: (string | number)[]];

/** View paths of the stations of a shot. */
export const stationViewPaths = (stations: readonly { view?: string }[]): ViewPath[] =>
  stations.flatMap(({ view }, i): ViewPath[] => (view ? [[view, ['stations', i, 'view']]] : []));

/** All that the rest of the application asks of a kind of shot. */
export interface ShotKind<S extends z.ZodType = z.ZodType> {
  kind: string;
  label: string;
  /** Frames of it make a movie. */
  moving: boolean;
  /** The camera moves through the subject, which is never seen whole. */
  movesThrough?: boolean;
  schema: S;
  /** A new shot of this kind on a view, with the stated defaults. */
  defaults(id: string, name: string, view: string, start: { bounds: Bounds; views: View[] }): z.infer<S>;
  /** Number of frames, without computing them. */
  count(shot: z.infer<S>, context: CountContext): number;
  poses(shot: z.infer<S>, context: ShotContext): Pose[];
  /** Ids of the views that it needs, each with its place in the shot. */
  viewPaths(shot: z.infer<S>): ViewPath[];
  /** Why it needs a site ("follows the sun"), or null where it needs none. */
  siteReason?(shot: z.infer<S>): string | null;
  /** Its pivot is the middle of the subject, and moves with that. */
  pivotFollowsSubject?(shot: z.infer<S>): boolean;
  /** Each of its frames cuts the subject by a plane of its own. */
  movesPlane?: boolean;
  /** The grade of one of its views alone, where it can have that. */
  viewGrade?(shot: z.infer<S>, view: string): Grade | undefined;
  /** The same shot with another grade of a view alone, or with none. */
  withViewGrade?(shot: z.infer<S>, view: string, grade: Grade | undefined): z.infer<S>;
  /** Its frames can be handed over as a page, day by day. */
  hasDayPage?: boolean;
  /** What changes over its frames, as the ruler draws it; null where nothing does. */
  curve?(shot: z.infer<S>, frames: readonly Frame[], rate: Rate): FrameCurve | null;
  /** Tokens that file names need so that its frames differ. */
  requiredTokens?(shot: z.infer<S>): NameToken[];
  /** One line that says what it does. */
  summary(shot: z.infer<S>, rate: Rate): string;
}

/** The view of that id. Throws where there is none. */
export function viewOf(context: Pick<ShotContext, 'views'>, id: string): View {
  const view = context.views.find((v) => v.id === id);
  if (!view) throw new Error(`There is no view "${id}" in this set; add it or choose another.`);
  return view;
}
