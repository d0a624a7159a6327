import { vec3 } from 'gl-matrix';
import * as z from 'zod';
import { centreOf, corners, type Vec3 } from '../../math/bounds.js';
import { type Turn, TURN_TARGETS } from '../../frame/frame.js';
import { frameTime, framesOfDuration, type Rate, rateValue } from '../../units/rate.js';
import { pixelsPerMetre } from '../../camera/angleSet.js';
import { type Camera, idSchema, pointSchema, type Size, rotateCamera } from '../../camera/view.js';
import { smoothstep } from '../stationTiming.js';
import { type ShotContext, shotBase, type ShotKind, viewOf } from '../kind.js';
import type { Pose } from '../../frame/pose.js';

/** Frames of one way of a turntable at most. */
export const MAX_FRAMES = 100_000;
/** Metres between the two points of an axis, so that they give a direction. */
const SHORTEST_AXIS = 1e-4;

/** The subject, the camera or the light turns about an axis. */
export const turntableSchema = z
  .strictObject({
    ...shotBase,
    kind: z.literal('turntable'),
    view: idSchema,
    /** Frames of one way; either this or `seconds`. */
    frames: z.int().min(1).max(MAX_FRAMES).optional(),
    seconds: z.number().positive().max(36_000).optional(),
    degrees: z.number().min(-3600).max(3600).default(360),
    start: z.number().min(-3600).max(3600).default(0),
    /** How the subject is seen to turn from above. */
    direction: z.enum(['clockwise', 'counterclockwise']).default('counterclockwise'),
    turns: z
      .array(z.enum(TURN_TARGETS))
      .min(1, 'Something must turn: the subject or the camera.')
      .refine((t) => new Set(t).size === t.length, 'This is listed twice.')
      .default(['subject']),
    pivot: z.union([z.enum(['centre', 'target']), pointSchema]).default('centre'),
    /** The line that the subject turns about, instead of the vertical through the pivot; counterclockwise is seen from `to`. */
    axis: z.strictObject({ from: pointSchema, to: pointSchema }).optional(),
    thereAndBack: z.boolean().default(false),
    /** Begins and ends gently; else evenly. */
    ease: z.boolean().default(false),
  })
  .superRefine((shot, context) => {
    if ((shot.frames === undefined) === (shot.seconds === undefined)) {
      context.addIssue({ code: 'custom', path: ['frames'], message: 'Give either frames or seconds.' });
    }
    if (shot.degrees === 0)
      context.addIssue({ code: 'custom', path: ['degrees'], message: 'A turn of 0° does not move; write 360 for a whole turn.' });
    if (shot.axis && vec3.distance(shot.axis.from, shot.axis.to) < SHORTEST_AXIS)
      context.addIssue({ code: 'custom', path: ['axis', 'to'], message: 'An axis needs two different points; move one of them.' });
    if (shot.axis && shot.turns.some((t) => t !== 'subject'))
      context.addIssue({
        code: 'custom',
        path: ['turns'],
        message: 'Only the subject turns about a line through two points; set the axis upright to turn anything else.',
      });
  });

/** What {@link turntableSchema} reads. */
export type TurntableShot = z.infer<typeof turntableSchema>;

/** Whether the closing frame would equal the first: a whole number of turns. */
export function isClosed(degrees: number): boolean {
  const turns = degrees / 360;
  return Math.abs(turns - Math.round(turns)) < 1e-9 && Math.round(turns) !== 0;
}

/** Frames of one way. */
export function forwardFrameCount(shot: TurntableShot, rate: Rate): number {
  return shot.frames ?? Math.max(1, framesOfDuration(shot.seconds ?? 0, rate));
}

/** Planned angle of frame i in degrees. A closed turn leaves the closing frame out; any other has both ends. Ease maps the share of the turn. */
export function angleAt(shot: TurntableShot, i: number, n: number): number {
  const steps = isClosed(shot.degrees) ? n : Math.max(1, n - 1);
  const k = i <= n - 1 || !shot.thereAndBack ? i : 2 * n - 2 - i;
  return shot.start + (shot.ease ? smoothstep(k / steps) * shot.degrees : (k * shot.degrees) / steps);
}

/** The point that the turn leaves where it is: of an axis through two points, the first. */
export function pivotOf(shot: TurntableShot, context: Pick<ShotContext, 'views' | 'bounds'>): Vec3 {
  if (shot.axis) return shot.axis.from as Vec3;
  if (shot.pivot === 'centre') return centreOf(context.bounds);
  if (shot.pivot === 'target') return viewOf(context, shot.view).target as Vec3;
  return shot.pivot as Vec3;
}

/** Unit direction of the axis; undefined where it is the vertical. */
export function axisOf({ axis }: Pick<TurntableShot, 'axis'>): Vec3 | undefined {
  if (!axis) return undefined;
  return vec3.normalize([0, 0, 0], vec3.subtract([0, 0, 0], axis.to, axis.from)) as Vec3;
}

/** Seconds in which the outer edge may cross the frame before its steps are seen one by one (common practice, no source). */
const EDGE_CROSSING = 2;

/**
 * Pixels that the subject's outer edge moves a frame where it goes straight across, at its fastest, and the most at which it
 * still seems to move evenly at that rate without motion blur; null where the pivot lies behind the eye.
 */
export function rimSpeed(
  shot: TurntableShot,
  context: Pick<ShotContext, 'views' | 'bounds' | 'rate'>,
  size: Size,
  pixelAspect: number,
): { pixels: number; most: number } | null {
  const pivot = pivotOf(shot, context);
  const scale = pixelsPerMetre(viewOf(context, shot.view), size, pixelAspect, pivot);
  if (scale === null) return null;
  const axis = axisOf(shot) ?? [0, 1, 0];
  const radius = Math.max(...corners(context.bounds).map((c) => vec3.length(vec3.cross([0, 0, 0], vec3.subtract([0, 0, 0], c, pivot), axis))));
  const n = forwardFrameCount(shot, context.rate);
  const steps = Array.from({ length: n }, (_, i) => Math.abs(angleAt(shot, i + 1, n) - angleAt(shot, i, n)));
  const step = Math.min(180, Math.max(...steps));
  return { pixels: 2 * radius * Math.sin((step * Math.PI) / 360) * scale, most: size.width / (EDGE_CROSSING * rateValue(context.rate)) };
}

function countOf(shot: TurntableShot, rate: Rate): number {
  const n = forwardFrameCount(shot, rate);
  return shot.thereAndBack ? Math.max(n, 2 * n - 2) : n;
}

/** The subject, seen to turn. Even speed. */
export const turntable: ShotKind<typeof turntableSchema> = {
  kind: 'turntable',
  label: 'turntable',
  moving: true,
  schema: turntableSchema,
  defaults: (id, name, view) => ({
    id,
    name,
    kind: 'turntable',
    view,
    frames: 72,
    degrees: 360,
    start: 0,
    direction: 'counterclockwise',
    turns: ['subject'],
    pivot: 'centre',
    thereAndBack: false,
    ease: false,
  }),
  count: (shot, { rate }) => countOf(shot, rate),
  poses(shot, context) {
    const view = viewOf(context, shot.view);
    const n = forwardFrameCount(shot, context.rate);
    const pivot = pivotOf(shot, context);
    const axis = axisOf(shot);
    // Where the camera turns instead of the subject, it goes the other way round.
    const way = (shot.direction === 'counterclockwise' ? 1 : -1) * (shot.turns.includes('subject') ? 1 : -1);
    const still = context.cameraOf(view);
    return Array.from({ length: countOf(shot, context.rate) }, (_, i) => {
      const angle = angleAt(shot, i, n);
      const rotation = way * angle;
      const turn: Turn = { angle, rotation, pivot, ...(axis && { axis }), what: [...shot.turns] };
      const posed = (degrees: number): Camera => (shot.turns.includes('camera') ? rotateCamera(still, pivot, degrees) : still);
      const pose: Pose = { view, time: frameTime(i, context.rate), camera: posed(rotation), turn };
      if (context.shutter > 0) {
        const closing = way * angleAt(shot, i + context.shutter, n);
        pose.shutter = { camera: posed(closing), rotation: shot.turns.includes('subject') ? closing - rotation : 0 };
      }
      return pose;
    });
  },
  // An even turn is a straight line, which says nothing.
  curve: (shot, frames) =>
    shot.ease || shot.thereAndBack ? { label: 'turn', unit: '°', decimals: 1, values: frames.map((f) => f.turn?.angle ?? 0) } : null,
  viewPaths: (shot) => [[shot.view, ['view']]],
  pivotFollowsSubject: (shot) => shot.pivot === 'centre' && !shot.axis,
  summary(shot, rate) {
    const n = forwardFrameCount(shot, rate);
    const step = shot.degrees / (isClosed(shot.degrees) ? n : Math.max(1, n - 1));
    return `${Math.round(step * 100) / 100}° per frame${shot.ease ? ', ease in/out' : ''}`;
  },
};
