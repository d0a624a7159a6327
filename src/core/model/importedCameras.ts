/** Cameras that a file brought, as views that a person may take over. */
import { vec3 } from 'gl-matrix';
import { type Bounds, centreOf, type Vec3 } from '../math/bounds.js';
import { LONG_SIDE_MM, type View } from '../camera/view.js';
import type { Model } from './model.js';

/** A camera of a model's file, as a view without an id. */
export type ImportedCamera = Omit<View, 'id'>;

/** What a file that does not say it is taken to mean. */
const USUAL_ASPECT = 16 / 9;
/** A camera turned about its line of sight by more than this is said to be: our views stand upright. */
const MIN_ROLL = 0.5;

const round = (v: number): number => Number(v.toFixed(6));

/**
 * Views of the file's cameras. The target lies where the line of sight passes the subject's middle, or a
 * metre ahead where that lies behind. Angles become focal lengths of a 36 mm long side. `warn` is told what
 * a view cannot hold.
 */
export function importedCameras(
  { cameras, parts }: Pick<Model, 'cameras' | 'parts'>,
  bounds: Bounds,
  warn: (line: string) => void = () => {},
): ImportedCamera[] {
  return cameras.map(({ part, name, lens }) => {
    const m = parts[part]!.world;
    const eye: Vec3 = [m[12], m[13], m[14]];
    const unit = (x: number, y: number, z: number): Vec3 => vec3.normalize([0, 0, 0], [x, y, z]) as Vec3;
    const ahead = unit(-m[8], -m[9], -m[10]);
    const right = unit(m[0], m[1], m[2]);
    const along = vec3.dot(ahead, vec3.subtract([0, 0, 0], centreOf(bounds), eye));
    const distance = along > 1e-3 ? along : 1;
    const target = eye.map((c, i) => c + ahead[i]! * distance) as Vec3;
    const roll = (Math.asin(Math.max(-1, Math.min(1, right[1]))) * 180) / Math.PI;
    if (Math.abs(roll) > MIN_ROLL) warn(`The camera "${name}" leans by ${Math.abs(roll).toFixed(0)}°; the view that is offered is level.`);
    const base = { name: name.slice(0, 80), eye: eye.map(round) as Vec3, target: target.map(round) as Vec3, keepVerticals: false };
    if (lens.kind === 'parallel') return { ...base, kind: 'parallel' as const, focalLength: 50, width: round(2 * Math.max(lens.xmag, lens.ymag)) };
    const high = Math.tan(lens.yfov / 2);
    const long = high * Math.max(1, lens.aspect ?? USUAL_ASPECT);
    // What lies outside a view's range comes as near as it goes.
    return { ...base, kind: 'perspective' as const, focalLength: Math.min(1200, Math.max(8, round(LONG_SIDE_MM / 2 / long))) };
  });
}
