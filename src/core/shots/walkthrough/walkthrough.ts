import * as z from 'zod';
import type { Vec3 } from '../../math/bounds.js';
import { angleBetween, subtract, slerp, normalize } from '../../math/direction.js';
import { type Segment, splineSegments } from '../../math/spline.js';
import { frameTime, type Rate } from '../../units/rate.js';
import { type Camera, idSchema, pitchOf, pointSchema, MAX_VERTICAL_CORRECTION, type View } from '../../camera/view.js';
import { type ShotContext, shotBase, type ShotKind, viewOf, stationViewPaths } from '../kind.js';
import type { Pose } from '../../frame/pose.js';
import { easedTime, EASE_DURATION_FACTOR, sampleAt, pathFrameCount, type TimedStation, pathTimes } from '../stationTiming.js';
import { pluralize } from '../../base/pluralize.js';

const MAX_STATIONS = 200;
/** Metres that one looks ahead along the path, so that the head does not turn at once. */
const AHEAD = 0.75;
/** Walking pace in metres a second (common practice, no source: 1.2 to 1.4). */
export const WALKING_PACE = 1.4;
/** Seconds that a thing takes to cross the frame when one turns at a pace that is easy to look at (common practice, no source). */
export const CROSSING_SECONDS = 7;

const stationSchema = z.strictObject({
  /** Where the eye stands; or the eye of a view. */
  eye: pointSchema.optional(),
  view: idSchema.optional(),
  /** What is looked at from here, where the look goes from station to station. */
  target: pointSchema.optional(),
  /** Seconds of the leg that leads here; the pace gives them where absent. */
  seconds: z.number().positive().max(3600).optional(),
  hold: z.number().min(0).max(3600).default(0),
  /** The leg that leads here is left out of the clip, and stays in the plan. */
  out: z.boolean().optional(),
});

/** The camera moves along a path through the design. */
export const walkthroughSchema = z
  .strictObject({
    ...shotBase,
    kind: z.literal('walkthrough'),
    stations: z.array(stationSchema).min(2, 'A walkthrough needs two stations.').max(MAX_STATIONS),
    /** Where the eye looks: along the path, at one point, or from what one station looks at to what the next does. */
    look: z.enum(['ahead', 'target', 'stations']).default('ahead'),
    /** The one point, where `look` is `target`. */
    target: pointSchema.optional(),
    /** Metres per second of segments without a time of their own: constant, or the maximum with ease in/out. */
    pace: z.number().min(0.05).max(50).default(WALKING_PACE),
    /** Walks back to the first station; its own `seconds` are those of the way back. */
    closed: z.boolean().default(false),
    /** Begins and ends gently, between holds. */
    ease: z.boolean().default(false),
    focalLength: z.number().min(8).max(1200).default(28),
    keepVerticals: z.boolean().default(true),
  })
  .superRefine((shot, context) => {
    shot.stations.forEach((s, i) => {
      if ((s.eye === undefined) === (s.view === undefined))
        context.addIssue({ code: 'custom', path: ['stations', i, 'eye'], message: 'A station has either an eye or a view.' });
      if (shot.look === 'stations' && !s.view && !s.target)
        context.addIssue({
          code: 'custom',
          path: ['stations', i, 'target'],
          message: 'With the look by station, each station needs a target or a view.',
        });
      if (i === 0 && s.seconds !== undefined && !shot.closed)
        context.addIssue({ code: 'custom', path: ['stations', i, 'seconds'], message: 'No segment leads to the first station; remove its seconds.' });
    });
    if (shot.look === 'target' && !shot.target) context.addIssue({ code: 'custom', path: ['target'], message: 'Give the point to look at.' });
  });

/** What {@link walkthroughSchema} reads. */
export type WalkthroughShot = z.infer<typeof walkthroughSchema>;

/** A path with its timing, ready to be asked for places. */
export interface Walk {
  legs: Segment[];
  stations: TimedStation[];
  eyes: Vec3[];
  targets: (Vec3 | null)[];
}

/** Path and times of a walk. Throws where it names a view that there is not, or two stations stand on one place. */
export function walkOf(shot: WalkthroughShot, views: View[]): Walk {
  const resolved = shot.stations.map((s) => (s.view ? viewOf({ views }, s.view) : null));
  const eyes = shot.stations.map((s, i) => (resolved[i]?.eye ?? s.eye!) as Vec3);
  const targets = shot.stations.map((s, i) => (s.target ?? resolved[i]?.target ?? null) as Vec3 | null);
  const legs = splineSegments(eyes, shot.closed);
  const still = legs.findIndex((l) => l.length < 1e-6);
  if (still >= 0)
    throw new Error(`Stations ${still + 1} and ${((still + 1) % eyes.length) + 1} are at the same point; move one, or give the other a hold.`);
  // With gentle ends a leg takes so much longer that nobody goes faster than the pace.
  const mean = shot.ease ? shot.pace * EASE_DURATION_FACTOR : shot.pace;
  const seconds = (leg: number, own: number | undefined): number => own ?? legs[leg]!.length / mean;
  const stations: TimedStation[] = shot.stations.map((s, i) => ({
    seconds: i === 0 ? 0 : seconds(i - 1, s.seconds),
    hold: s.hold,
    ...(i > 0 && s.out && { out: true }),
  }));
  if (shot.closed) {
    const [first] = shot.stations;
    stations.push({ seconds: seconds(legs.length - 1, first!.seconds), hold: 0, ...(first!.out && { out: true }) });
  }
  return { legs, stations, eyes, targets };
}

/** The point so many metres further on the path than a share of a leg; past the end it goes straight on. */
function extendedStations({ legs }: Walk, leg: number, share: number, metres: number, closed: boolean): Vec3 {
  let left = legs[leg]!.length * share + metres;
  let k = leg;
  while (left > legs[k]!.length) {
    if (k === legs.length - 1 && !closed) {
      const [end, before] = [legs[k]!.at(1), legs[k]!.at(0.999)];
      const way = normalize(subtract(end, before));
      const over = left - legs[k]!.length;
      return [end[0] + way[0] * over, end[1] + way[1] * over, end[2] + way[2] * over];
    }
    left -= legs[k]!.length;
    k = (k + 1) % legs.length;
  }
  return legs[k]!.at(left / legs[k]!.length);
}

/** Eye and unit direction of sight at a time of the walk, seconds. */
export function lookAtTime(shot: WalkthroughShot, walk: Walk, time: number): { eye: Vec3; way: Vec3 } {
  const { leg, share } = sampleAt(walk.stations, shot.ease ? easedTime(walk.stations, time) : time);
  const eye = walk.legs[leg]!.at(share);
  if (shot.look === 'target') return { eye, way: normalize(subtract(shot.target as Vec3, eye)) };
  if (shot.look === 'ahead') return { eye, way: normalize(subtract(extendedStations(walk, leg, share, AHEAD, shot.closed), eye)) };
  const n = walk.eyes.length;
  const from = normalize(subtract(walk.targets[leg % n]!, walk.eyes[leg % n]!));
  const to = normalize(subtract(walk.targets[(leg + 1) % n]!, walk.eyes[(leg + 1) % n]!));
  // At rest at the stations, so that the turn has no jerk.
  return { eye, way: slerp(from, to, share * share * (3 - 2 * share)) };
}

/**
 * First and last frame, from 0, of the segment that leads to each station after the first, holds at its end with it; null of a
 * segment that is left out or falls between two frames.
 */
export function segmentFrames(shot: WalkthroughShot, views: View[], rate: Rate): ([number, number] | null)[] {
  const { stations } = walkOf(shot, views);
  const legs = pathTimes(stations, rate, shot.closed).map((time) => sampleAt(stations, time).leg);
  return stations.slice(1).map((_, leg) => {
    const first = legs.indexOf(leg);
    return first < 0 ? null : [first, legs.lastIndexOf(leg)];
  });
}

/** From the eye of a view halfway to its target, level. */
function firstStations({ eye, target }: View): WalkthroughShot['stations'] {
  const round = (v: number): number => Math.round(v * 1000) / 1000;
  const way = Math.hypot(target[0] - eye[0], target[2] - eye[2]);
  const share = way > 1e-3 ? 0.5 : 0;
  const end: Vec3 = [eye[0] + (target[0] - eye[0]) * share, eye[1], eye[2] + (share ? (target[2] - eye[2]) * share : -1)];
  return [
    { eye: eye.map(round) as Vec3, hold: 0 },
    { eye: end.map(round) as Vec3, hold: 0 },
  ];
}

/** The camera walks. */
export const walkthrough: ShotKind<typeof walkthroughSchema> = {
  kind: 'walkthrough',
  label: 'walkthrough',
  moving: true,
  movesThrough: true,
  schema: walkthroughSchema,
  defaults: (id, name, view, { views }) => ({
    id,
    name,
    kind: 'walkthrough',
    stations: firstStations(viewOf({ views }, view)),
    look: 'ahead',
    pace: WALKING_PACE,
    closed: false,
    ease: false,
    focalLength: 28,
    keepVerticals: true,
  }),
  count: (shot, { rate, views }) => pathFrameCount(walkOf(shot, views).stations, rate),
  poses(shot, context: ShotContext) {
    const walk = walkOf(shot, context.views);
    const times = pathTimes(walk.stations, context.rate, shot.closed);
    const view = (time: number): View => {
      const { eye, way } = lookAtTime(shot, walk, time);
      const target: Vec3 = [eye[0] + way[0], eye[1] + way[1], eye[2] + way[2]];
      const steep = Math.abs(pitchOf(eye, target)) > MAX_VERTICAL_CORRECTION;
      return {
        id: shot.id,
        name: shot.name ?? shot.id,
        kind: 'perspective',
        eye,
        target,
        focalLength: shot.focalLength,
        keepVerticals: shot.keepVerticals && !steep,
      };
    };
    const camera = (v: View): Camera => context.cameraOf(v);
    const open = context.shutter * frameTime(1, context.rate);
    return times.map((time, i): Pose => {
      const at = view(time);
      return {
        view: at,
        time: frameTime(i, context.rate),
        camera: camera(at),
        ...(context.shutter > 0 && { shutter: { camera: camera(view(time + open)), rotation: 0 } }),
      };
    });
  },
  curve(_, frames) {
    const speeds = walkStats([...frames]).map((f) => f.speed);
    return { label: 'speed', unit: ' m/s', decimals: 2, values: speeds.length > 0 ? [speeds[0]!, ...speeds] : frames.map(() => 0) };
  },
  viewPaths: (shot) => stationViewPaths(shot.stations),
  summary(shot) {
    const legs = shot.stations.length - (shot.closed ? 0 : 1);
    return `${pluralize(legs, 'segment')}, looking ${shot.look === 'ahead' ? 'ahead' : shot.look === 'target' ? 'at a point' : 'by station'}`;
  },
};

/** How fast a walk is at a frame. */
export interface WalkStat {
  /** Metres a second, and degrees a second, from this frame to the next. */
  speed: number;
  turn: number;
}

/** How fast the frames of a moving camera go and turn, one figure a step. */
export function walkStats(frames: { time: number; camera: Pick<Camera, 'eye' | 'target'> }[]): WalkStat[] {
  return frames.slice(1).map((f, i) => {
    const before = frames[i]!;
    const seconds = f.time - before.time;
    const [a, b] = [before, f].map((x) => normalize(subtract(x.camera.target, x.camera.eye))) as [Vec3, Vec3];
    const angle = angleBetween(a, b);
    return { speed: Math.hypot(...subtract(f.camera.eye, before.camera.eye)) / seconds, turn: (angle * 180) / Math.PI / seconds };
  });
}
