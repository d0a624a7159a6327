/** Angle sets: views of a subject from named sides, all to one scale, so that pictures can be laid on each other. */
import * as z from 'zod';
import { type Bounds, centreOf, type Vec3 } from '../math/bounds.js';
import { cameraOf, fitView, idSchema, projectPoint, type Size, type View } from './view.js';

/** Azimuth of the eye clockwise from the front (+Z) seen from above, and altitude, degrees. */
interface Angle {
  id: string;
  name: string;
  azimuth: number;
  altitude: number;
}

/** A little over the horizon, as products are shown (common practice, no source). */
const THREE_QUARTER = 25;

/** The directions that are offered, in the order of their views; degrees, azimuth counterclockwise from the front. */
export const ANGLES: readonly Angle[] = [
  { id: 'front', name: 'Front', azimuth: 0, altitude: 0 },
  { id: 'right', name: 'Right', azimuth: -90, altitude: 0 },
  { id: 'back', name: 'Back', azimuth: 180, altitude: 0 },
  { id: 'left', name: 'Left', azimuth: 90, altitude: 0 },
  { id: 'top', name: 'Top', azimuth: 0, altitude: 90 },
  { id: 'bottom', name: 'Bottom', azimuth: 0, altitude: -90 },
  { id: 'front-right', name: 'Front right', azimuth: -45, altitude: THREE_QUARTER },
  { id: 'back-right', name: 'Back right', azimuth: -135, altitude: THREE_QUARTER },
  { id: 'back-left', name: 'Back left', azimuth: 135, altitude: THREE_QUARTER },
  { id: 'front-left', name: 'Front left', azimuth: 45, altitude: THREE_QUARTER },
  // ISO 5456-3: isometric sees the three axes alike; dimetric has them at 7° and 42° with depth to half.
  { id: 'isometric', name: 'Isometric', azimuth: -45, altitude: (Math.asin(1 / Math.sqrt(3)) * 180) / Math.PI },
  { id: 'dimetric', name: 'Dimetric', azimuth: -(Math.asin(1 / Math.sqrt(8)) * 180) / Math.PI, altitude: (Math.asin(1 / 3) * 180) / Math.PI },
];

/** Unit vector from the subject to the eye. */
export function towardsEye({ azimuth, altitude }: Pick<Angle, 'azimuth' | 'altitude'>): Vec3 {
  const [a, h] = [(azimuth * Math.PI) / 180, (altitude * Math.PI) / 180];
  const level = Math.cos(h) < 1e-12 ? 0 : Math.cos(h);
  return [-Math.sin(a) * level, Math.sin(h), Math.cos(a) * level];
}

/** A custom angle: azimuth of the eye clockwise from the front seen from above, and altitude, degrees. */
export const customAngleSchema = z.strictObject({
  id: idSchema,
  name: z.string().min(1).max(80),
  azimuth: z.number().min(-360).max(360),
  altitude: z.number().min(-90).max(90),
});

/** What a set of angles is made from. */
export const angleOptionsSchema = z.strictObject({
  kind: z.enum(['parallel', 'perspective']),
  /** Ids among ANGLES and `own`, in the order of the views. */
  angles: z.array(z.string()).min(1).max(100),
  focalLength: z.number().min(8).max(1200),
  /** Share of each side that stays free in the tightest of them. */
  margin: z.number().min(0).max(0.4),
  own: z.array(customAngleSchema).max(50).optional(),
});
/** What {@link angleOptionsSchema} reads. */
export type AngleSetOptions = z.infer<typeof angleOptionsSchema>;

/**
 * Views of the bounds from the chosen angles. Parallel ones have one width, perspective ones stand at
 * one distance from the middle of the bounds: the widest and the farthest that any of them needs.
 * Ids are those of the angles. Throws where an angle is not known.
 */
export function angleSet(bounds: Bounds, size: Size, pixelAspect: number, { kind, angles, focalLength, margin, own = [] }: AngleSetOptions): View[] {
  const middle = centreOf(bounds);
  const fitted = angles.map((id) => {
    const angle = [...ANGLES, ...own].find((a) => a.id === id);
    if (!angle) throw new Error(`There is no angle "${id}"; there are ${ANGLES.map((a) => a.id).join(', ')}.`);
    const to = towardsEye(angle);
    const eye = middle.map((c, i) => c + to[i]!) as Vec3;
    const view: View = {
      id,
      name: angle.name,
      kind,
      eye,
      target: middle,
      focalLength,
      keepVerticals: false,
      ...(kind === 'parallel' && { width: 1 }),
    };
    return { to, view: fitView(view, bounds, size, pixelAspect, margin) };
  });
  const far = Math.max(...fitted.map(({ view }) => Math.hypot(...view.eye.map((v, i) => v - middle[i]!))));
  const width = Math.max(...fitted.map(({ view }) => view.width ?? 0));
  return fitted.map(({ to, view }) => ({
    ...view,
    eye: middle.map((c, i) => c + far * to[i]!) as Vec3,
    ...(kind === 'parallel' && { width }),
  }));
}

/** Pixels a metre, across the line of sight at a point; null behind the eye. */
export function pixelsPerMetre(view: View, size: Size, pixelAspect: number, at: Vec3): number | null {
  const camera = cameraOf(view, size, pixelAspect);
  const m = camera.viewMatrix;
  // The camera's own right and up.
  const up: Vec3 = [m[1]!, m[5]!, m[9]!];
  const step = 1e-3;
  const [a, b] = [projectPoint(camera, size, at), projectPoint(camera, size, at.map((c, i) => c + step * up[i]!) as Vec3)];
  return a && b ? Math.abs(a[1] - b[1]) / step : null;
}

/**
 * The view with its eye or width changed so that `at`, its new target, has as many pixels a metre as in
 * the other view. Throws where the point lies behind that one's eye.
 */
export function matchScale(view: View, other: View, size: Size, pixelAspect: number, at: Vec3): View {
  const wanted = pixelsPerMetre(other, size, pixelAspect, at);
  if (!wanted) throw new Error(`"${other.name}" does not see the middle of the subject, so it has no scale there.`);
  const moved = { ...view, target: at, eye: at.map((c, i) => c + view.eye[i]! - view.target[i]!) as Vec3 };
  const own = pixelsPerMetre(moved, size, pixelAspect, at)!;
  if (view.kind === 'parallel') return { ...moved, width: (view.width! * own) / wanted };
  return { ...moved, eye: at.map((c, i) => c + (moved.eye[i]! - c) * (own / wanted)) as Vec3 };
}

/** Metres across a parallel picture at a scale of 1 : n, printed at so many dots an inch. */
export function widthAtScale(n: number, size: Size, pixelAspect: number, dpi: number): number {
  return (Math.max(size.width * pixelAspect, size.height) / dpi) * 0.0254 * n;
}

/** The n of 1 : n. */
export function scaleOfWidth(width: number, size: Size, pixelAspect: number, dpi: number): number {
  return width / widthAtScale(1, size, pixelAspect, dpi);
}
