/** From pixels back into the world. */
import { mat4 } from 'gl-matrix';
import type { Vec3 } from '../math/bounds.js';
import { identity, matrixOf } from '../math/matrix.js';
import type { Camera, Size } from './view.js';

/** The point under a pixel, as far along the line of sight as another one; null where that one stands behind the eye. */
export function unprojectAtDepth(camera: Camera, size: Size, point: Vec3, [px, py]: [number, number]): Vec3 | null {
  const m = mat4.multiply(identity(), matrixOf(camera.projectionMatrix), matrixOf(camera.viewMatrix));
  const [x, y, z] = point;
  const w = m[3]! * x + m[7]! * y + m[11]! * z + m[15]!;
  if (w <= 0) return null;
  const depth = (m[2]! * x + m[6]! * y + m[10]! * z + m[14]!) / w;
  const inverse = mat4.invert(identity(), m);
  if (!inverse) return null;
  const [a, b] = [(2 * px) / size.width - 1, 1 - (2 * py) / size.height];
  const v = [0, 1, 2, 3].map((r) => inverse[r]! * a + inverse[4 + r]! * b + inverse[8 + r]! * depth + inverse[12 + r]!);
  return [v[0]! / v[3]!, v[1]! / v[3]!, v[2]! / v[3]!];
}
