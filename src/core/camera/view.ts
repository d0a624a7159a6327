/**
 * Views and their cameras. Matrices are column-major with OpenGL clip space. The long side of the
 * displayed frame (width × pixel aspect against height) is 36 mm, in landscape and portrait alike.
 */
import { DEFAULT_FIT_MARGIN } from './margin.js';
import { mat4, vec3 } from 'gl-matrix';
import * as z from 'zod';
import { identity, matrixOf, numbersOf } from '../math/matrix.js';
import { clockSchema, dateSchema } from '../units/localTime.js';
import { type Bounds, type Vec3, centreOf, corners, radiusOf } from '../math/bounds.js';

/** Millimetres of the frame's long side that focal lengths are given for. */
export const LONG_SIDE_MM = 36;
/** Uprights are refused where the line of sight is steeper than this, in degrees. */
export const MAX_VERTICAL_CORRECTION = 45;

const metres = z.number().min(-1e5, 'Must be within 100 km of the origin.').max(1e5, 'Must be within 100 km of the origin.');
/** A point in the model, metres, y up. */
export const pointSchema = z.tuple([metres, metres, metres]);

/** Id of a thing within a set. */
export const idSchema = z
  .string()
  .regex(/^[a-z0-9][a-z0-9_-]{0,63}$/, 'Use small letters, digits, - and _, at most 64, starting with a letter or digit.');

/** A panorama is equirectangular, twice as wide as high. */
export const VIEW_KINDS = ['perspective', 'parallel', 'panorama'] as const;
/** One of {@link VIEW_KINDS}. */
export type ViewKind = (typeof VIEW_KINDS)[number];

/** A named camera; see the fields for units and ranges. */
export const viewSchema = z
  .strictObject({
    id: idSchema,
    name: z.string().min(1).max(80),
    kind: z.enum(VIEW_KINDS).default('perspective'),
    eye: pointSchema,
    target: pointSchema,
    /** Millimetres, for a long side of 36 mm. */
    focalLength: z.number().min(8).max(1200).default(50),
    keepVerticals: z.boolean().default(false),
    /** Metres across the long side, of a parallel view. */
    width: z.number().min(1e-4).max(1e5).optional(),
    /** f-number of the lens; without it everything is sharp. */
    aperture: z.number().min(0.5).max(128).optional(),
    /** Metres along the line of sight to what is sharp; the target where absent. */
    focus: z.number().min(1e-3).max(1e5).optional(),
    /** Metres along the line of sight that are looked past: what stands nearer is not seen, and lights and shades as before. */
    nearClipping: z.number().min(0).max(1e5).optional(),
    /** Degrees that the camera is turned by about its line of sight, clockwise as the camera sees itself. */
    roll: z.number().min(-180).max(180).optional(),
    /** Guarded from changes by hand. */
    locked: z.boolean().optional(),
    /** Word under which views are listed together. */
    group: z.string().min(1).max(40).optional(),
    /** Where this view differs from the set. */
    overrides: z
      .strictObject({
        /** Id of a variant. */
        variant: idSchema.optional(),
        /** False: nothing is cut away. An id: that section instead of the set's. */
        section: z.union([z.literal(false), idSchema]).optional(),
        /** Id of another of the set's stages. */
        stage: idSchema.optional(),
        /** Paths of parts that stay out of this view's pictures, with all below. */
        hiddenParts: z.array(z.string().min(1).max(1000)).max(1000).optional(),
        /** Civil day and time of the site. */
        date: dateSchema.optional(),
        time: clockSchema.optional(),
      })
      .optional(),
  })
  .superRefine((view, context) => {
    const problem = viewProblem(view);
    if (problem) context.addIssue({ code: 'custom', path: [problem.field], message: problem.message });
  });

/** What {@link viewSchema} reads. */
export type View = z.infer<typeof viewSchema>;

/** Pixels. */
export interface Size {
  width: number;
  height: number;
}

/** A panorama is twice as wide as high, whatever the sheet says: its width counts. */
export function panoramaSize({ width }: Size): Size {
  return { width, height: Math.max(16, Math.round(width / 2)) };
}

/** What a frame's camera is: plain data, ready for any reader. */
export interface Camera {
  kind: ViewKind;
  eye: Vec3;
  target: Vec3;
  focalLength: number;
  /** Shift of the picture plane, up positive, in halves of the frame's height. */
  shift: number;
  viewMatrix: number[];
  /** Of a panorama: of a square look ahead by 90°, for readers that know no panorama. */
  projectionMatrix: number[];
  /** Metres along the line of sight that are looked past. */
  nearClipping?: number;
  /** Thin lens: its radius and the distance of the sharp plane, metres. */
  lens?: { radius: number; focus: number };
}

/** Pitch of the line of sight in degrees, up positive. */
export function pitchOf(eye: Vec3, target: Vec3): number {
  const d = vec3.subtract([0, 0, 0], target, eye) as Vec3;
  return (Math.atan2(d[1], Math.hypot(d[0], d[2])) * 180) / Math.PI;
}

/** Why a view cannot be made, or null. What only another kind has is no problem: it is kept for the way back. */
export function viewProblem(
  view: Pick<View, 'eye' | 'target' | 'keepVerticals'> & Partial<Pick<View, 'kind' | 'width' | 'roll'>>,
): { field: 'target' | 'keepVerticals' | 'width' | 'roll'; message: string } | null {
  const upright = view.keepVerticals && (view.kind ?? 'perspective') === 'perspective';
  if (view.roll && upright) return { field: 'roll', message: 'A rolled view cannot keep verticals straight; switch that off or set the roll to 0.' };
  if (view.kind === 'parallel' && view.width === undefined) {
    return { field: 'width', message: 'A parallel view needs its width: the metres across the long side.' };
  }
  if (Math.hypot(...view.eye.map((v, i) => v - view.target[i]!)) < 1e-4) {
    return { field: 'target', message: 'Eye and target are the same point; move one of them.' };
  }
  const pitch = pitchOf(view.eye as Vec3, view.target as Vec3);
  if (upright && Math.abs(pitch) > MAX_VERTICAL_CORRECTION) {
    return {
      field: 'keepVerticals',
      message: `Verticals cannot be kept straight: the line of sight is ${Math.abs(pitch).toFixed(0)}° steep, and ${MAX_VERTICAL_CORRECTION}° is the most. Lower the eye or switch "Keep verticals straight" off.`,
    };
  }
  return null;
}

/** Tangents of half the angle across the frame's width and height. */
export function halfTangents(focalLength: number, size: Size, pixelAspect: number): [number, number] {
  const aspect = (size.width * pixelAspect) / size.height;
  const long = LONG_SIDE_MM / 2 / focalLength;
  return aspect >= 1 ? [long, long / aspect] : [long * aspect, long];
}

/** Angle of view across the long side, in degrees: 2 atan(36 / 2f). */
export function angleOfView(focalLength: number): number {
  return (2 * Math.atan(LONG_SIDE_MM / 2 / focalLength) * 180) / Math.PI;
}

/** Millimetres of an angle across the long side, in degrees. */
export function focalLengthOf(angle: number): number {
  return LONG_SIDE_MM / 2 / Math.tan((angle * Math.PI) / 360);
}

/**
 * The camera of a view at an output size. With uprights the picture plane stands vertical and the
 * target is held in the middle by vertical shift.
 */
export function cameraOf(
  view: Pick<View, 'eye' | 'target' | 'focalLength' | 'keepVerticals'> &
    Partial<Pick<View, 'kind' | 'width' | 'aperture' | 'focus' | 'roll' | 'nearClipping'>>,
  size: Size,
  pixelAspect: number,
  far = 1e4,
): Camera {
  const near = Math.max(view.nearClipping ?? 0, 0.01);
  const eye = [...view.eye] as Vec3;
  const target = [...view.target] as Vec3;
  const kind = view.kind ?? 'perspective';
  const aspect = (size.width * pixelAspect) / size.height;
  const [tx, ty] = kind === 'panorama' ? [1, 1] : halfTangents(view.focalLength, size, pixelAspect);
  const forward = vec3.subtract([0, 0, 0], target, eye) as Vec3;
  const level = Math.hypot(forward[0], forward[2]);
  const steep = level < 1e-6 * Math.abs(forward[1]);
  // Straight down or up has no upright; north of the model (−Z) is then the top of the picture.
  const up: Vec3 = steep ? [0, 0, forward[1] < 0 ? -1 : 1] : [0, 1, 0];
  const perspective = kind === 'perspective';
  const shift = perspective && view.keepVerticals && !steep ? forward[1] / level / ty : 0;
  // A panorama's horizon stays level.
  const aim: Vec3 = shift === 0 && (kind !== 'panorama' || steep) ? target : [target[0], eye[1], target[2]];
  const viewMatrix = mat4.lookAt(identity(), eye, aim, up);
  if (view.roll && kind !== 'panorama') mat4.multiply(viewMatrix, mat4.fromZRotation(identity(), (view.roll * Math.PI) / 180), viewMatrix);
  const past = view.nearClipping ? { nearClipping: view.nearClipping } : {};
  const p = new Array<number>(16).fill(0);
  if (kind === 'parallel') {
    const half = (view.width ?? 1) / 2;
    const [w, h] = aspect >= 1 ? [half, half / aspect] : [half * aspect, half];
    p[0] = 1 / w;
    p[5] = 1 / h;
    p[10] = -2 / (far - near);
    p[14] = -(far + near) / (far - near);
    p[15] = 1;
    return { kind, eye, target, focalLength: view.focalLength, shift: 0, viewMatrix: numbersOf(viewMatrix), projectionMatrix: p, ...past };
  }
  p[0] = 1 / tx;
  p[5] = 1 / ty;
  p[9] = shift;
  p[10] = -(far + near) / (far - near);
  p[11] = -1;
  p[14] = (-2 * far * near) / (far - near);
  const camera: Camera = { kind, eye, target, focalLength: view.focalLength, shift, viewMatrix: numbersOf(viewMatrix), projectionMatrix: p, ...past };
  if (perspective && view.aperture !== undefined) {
    // Along the line of sight, which uprights hold level.
    const ahead = shift === 0 ? Math.hypot(...forward) : level;
    camera.lens = { radius: view.focalLength / 2000 / view.aperture, focus: view.focus ?? ahead };
  }
  return camera;
}

/** Where a point lands, in pixels from the upper left corner; null behind the eye. */
export function projectPoint(camera: Camera, size: Size, point: Vec3): [number, number] | null {
  const m = mat4.multiply(identity(), matrixOf(camera.projectionMatrix), matrixOf(camera.viewMatrix));
  const [x, y, z] = point;
  const w = m[3]! * x + m[7]! * y + m[11]! * z + m[15]!;
  if (w <= 0) return null;
  const nx = (m[0]! * x + m[4]! * y + m[8]! * z + m[12]!) / w;
  const ny = (m[1]! * x + m[5]! * y + m[9]! * z + m[13]!) / w;
  return [((nx + 1) / 2) * size.width, ((1 - ny) / 2) * size.height];
}

/** Turns a camera about a vertical axis through the pivot, counterclockwise seen from above. */
export function rotateCamera(camera: Camera, pivot: Vec3, degrees: number): Camera {
  const turned = turnMatrix({ pivot }, degrees);
  const back = mat4.invert(identity(), turned)!;
  const viewMatrix = mat4.multiply(identity(), matrixOf(camera.viewMatrix), back);
  const move = (p: Vec3): Vec3 => vec3.transformMat4([0, 0, 0], p, turned) as Vec3;
  return { ...camera, eye: move(camera.eye), target: move(camera.target), viewMatrix: numbersOf(viewMatrix) };
}

/**
 * Rotation about the line through the pivot, counterclockwise seen from where its unit direction `axis` points to;
 * about the vertical where none is given.
 */
export function turnMatrix({ pivot, axis }: { pivot: Vec3; axis?: Vec3 }, degrees: number): mat4 {
  const out = identity();
  const angle = (degrees * Math.PI) / 180;
  mat4.fromTranslation(out, pivot);
  if (axis) mat4.rotate(out, out, angle, axis);
  else mat4.rotateY(out, out, angle);
  mat4.translate(out, out, [-pivot[0], -pivot[1], -pivot[2]]);
  return out;
}

/** A parallel view's width around the bounds; its eye goes as far off as they reach, so that nothing lies behind it. */
function fitParallel(view: View, bounds: Bounds, size: Size, pixelAspect: number, margin: number): View {
  const target = centreOf(bounds);
  const direction = view.eye.map((v, i) => v - view.target[i]!);
  const k = (2 * radiusOf(bounds) + 0.1) / (Math.hypot(...direction) || 1);
  const eye = target.map((c, i) => c + k * direction[i]!) as Vec3;
  const unit = cameraOf({ ...view, eye, target, width: 1 }, size, pixelAspect);
  // Over a width of 1 m the picture reaches so far; pixels grow evenly with the width.
  const reach = corners(bounds).map((c) => projectPoint(unit, size, c)!);
  const most = Math.max(...reach.flatMap(([x, y]) => [Math.abs(x / size.width - 0.5), Math.abs(y / size.height - 0.5)]));
  return { ...view, eye, target, width: Math.max(1e-4, most / (0.5 - margin)) };
}

/**
 * Moves the eye along its line of sight so that the bounds fill the frame but for the margin
 * (a share of each side), with the middle of the bounds as target. Size and focal length stay.
 */
export function fitView(view: View, bounds: Bounds, size: Size, pixelAspect: number, margin = DEFAULT_FIT_MARGIN): View {
  const centre = centreOf(bounds);
  const direction = vec3.subtract([0, 0, 0], view.eye, view.target) as Vec3;
  const length = Math.hypot(...direction) || 1;
  const unit = direction.map((v) => v / length) as Vec3;
  if (view.kind === 'parallel') return fitParallel(view, bounds, size, pixelAspect, margin);
  const at = (distance: number): View => ({ ...view, target: centre, eye: centre.map((c, i) => c + unit[i]! * distance) as Vec3 });
  const fits = (distance: number): boolean => {
    const camera = cameraOf(at(distance), size, pixelAspect);
    return corners(bounds).every((c) => {
      const p = projectPoint(camera, size, c);
      return p !== null && Math.abs(p[0] / size.width - 0.5) <= 0.5 - margin && Math.abs(p[1] / size.height - 0.5) <= 0.5 - margin;
    });
  };
  // Whether it fits is monotone in the distance: halve the interval.
  let near = 0;
  let far = Math.max(radiusOf(bounds), 1e-3);
  while (!fits(far) && far < 1e6) far *= 2;
  for (let i = 0; i < 60; i++) {
    const middle = (near + far) / 2;
    if (fits(middle)) far = middle;
    else near = middle;
  }
  return at(far);
}
