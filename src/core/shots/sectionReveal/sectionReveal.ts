import * as z from 'zod';
import type { Vec3 } from '../../math/bounds.js';
import type { CuttingPlane } from '../../frame/frame.js';
import { frameTime } from '../../units/rate.js';
import { idSchema, pointSchema, type View } from '../../camera/view.js';
import { capFields, capsIn } from '../../frame/sectionCap.js';
import { shotBase, type ShotKind, viewOf, stationViewPaths } from '../kind.js';
import type { Pose } from '../../frame/pose.js';
import { easedTime, sampleAt, pathFrameCount, type TimedStation, pathTimes } from '../stationTiming.js';

const stationSchema = z.strictObject({
  /** Metres of the plane along its normal from the origin; with the plain normal, its height. */
  height: z.number().min(-1e5).max(1e5),
  /** Seconds that the plane takes to here; the first station has none. */
  seconds: z.number().positive().max(3600).optional(),
  hold: z.number().min(0).max(3600).default(0),
  /** The camera goes to this view meanwhile; it stays where absent. */
  view: idSchema.optional(),
});

/** A plane moves through the subject and lays it open. */
export const sectionRevealSchema = z
  .strictObject({
    ...shotBase,
    kind: z.literal('sectionReveal'),
    view: idSchema,
    /** Points to the side that is cut away. */
    normal: pointSchema.refine((n) => Math.hypot(...n) > 1e-6, 'The normal of a plane cannot be 0 0 0.').default([0, 1, 0]),
    /** Path of the one part that is cut; all of the subject where absent. */
    part: z.string().min(1).max(500).optional(),
    stations: z.array(stationSchema).min(2, 'A section reveal needs two stations.').max(50),
    /** Begins and ends gently, between holds; else evenly. */
    ease: z.boolean().default(false),
    ...capFields,
  })
  .superRefine((shot, context) => {
    shot.stations.forEach((s, i) => {
      if (i === 0 && s.seconds !== undefined)
        context.addIssue({
          code: 'custom',
          path: ['stations', i, 'seconds'],
          message: 'No movement leads to the first station; remove its seconds.',
        });
      if (i > 0 && s.seconds === undefined)
        context.addIssue({ code: 'custom', path: ['stations', i, 'seconds'], message: 'Give the seconds that the plane takes to this station.' });
    });
  });

/** What {@link sectionRevealSchema} reads. */
export type SectionRevealShot = z.infer<typeof sectionRevealSchema>;

const timedStations = (shot: SectionRevealShot): TimedStation[] => shot.stations.map((s) => ({ seconds: s.seconds ?? 0, hold: s.hold }));

const interpolateCut = (a: readonly number[], b: readonly number[], t: number): Vec3 => a.map((v, i) => v + (b[i]! - v) * t) as Vec3;

/** The view between two: eye, target and lens on straight lines. */
function viewBetween(a: View, b: View, t: number): View {
  if (a === b || t === 0) return a;
  return {
    ...a,
    eye: interpolateCut(a.eye, b.eye, t),
    target: interpolateCut(a.target, b.target, t),
    focalLength: a.focalLength + (b.focalLength - a.focalLength) * t,
    ...(a.width !== undefined && b.width !== undefined && { width: a.width + (b.width - a.width) * t }),
  };
}

/** A cutting plane goes through the subject. */
export const sectionReveal: ShotKind<typeof sectionRevealSchema> = {
  kind: 'sectionReveal',
  label: 'section reveal',
  moving: true,
  schema: sectionRevealSchema,
  defaults: (id, name, view, { bounds }) => ({
    id,
    name,
    kind: 'sectionReveal',
    view,
    normal: [0, 1, 0],
    stations: revealStations(bounds.min[1], bounds.max[1]),
    ease: false,
  }),
  count: (shot, { rate }) => pathFrameCount(timedStations(shot), rate),
  poses(shot, context) {
    const moves = timedStations(shot);
    const n = Math.hypot(...shot.normal);
    const normal = shot.normal.map((c) => c / n) as Vec3;
    // A station without a view keeps the last one.
    let last = viewOf(context, shot.view);
    const views = shot.stations.map((s) => (last = s.view ? viewOf(context, s.view) : last));
    return pathTimes(moves, context.rate).map((time, i): Pose => {
      const { leg, share } = sampleAt(moves, shot.ease ? easedTime(moves, time) : time);
      const [a, b] = [shot.stations[leg]!, shot.stations[leg + 1]!];
      const view = viewBetween(views[leg]!, views[leg + 1]!, share);
      const plane: CuttingPlane = { normal, offset: a.height + (b.height - a.height) * share, ...(shot.part && { part: shot.part }) };
      return { view, time: frameTime(i, context.rate), camera: context.cameraOf(view), plane, caps: capsIn(shot) };
    });
  },
  // Its own plane is the last one that cuts.
  curve: (_, frames) => ({ label: 'plane', unit: ' m', decimals: 3, values: frames.map((f) => f.section?.planes.at(-1)?.offset ?? 0) }),
  movesPlane: true,
  viewPaths: (shot) => [[shot.view, ['view']], ...stationViewPaths(shot.stations)],
  summary(shot) {
    const [first, last] = [shot.stations[0]!, shot.stations.at(-1)!];
    const metres = (v: number): number => Number(v.toFixed(3));
    return `from ${metres(first.height)} to ${metres(last.height)} m${shot.part ? ` through ${shot.part.split('/').at(-1)}` : ''}`;
  },
};

/** From a little over the lowest point to clear of the highest, in five seconds. */
export function revealStations(low: number, high: number): SectionRevealShot['stations'] {
  const round = (v: number): number => Math.round(v * 1000) / 1000;
  const size = Math.max(high - low, 1e-3);
  return [
    { height: round(low + 0.02 * size), hold: 0 },
    { height: round(high + 0.02 * size), seconds: 5, hold: 0 },
  ];
}
