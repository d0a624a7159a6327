/** Where a box of the model comes to lie in a frame. */
import { mat4 } from 'gl-matrix';
import { turnMatrix } from '../camera/view.js';
import type { Frame } from '../frame/frame.js';
import { type Bounds, corners } from '../math/bounds.js';
import { identity, matrixOf } from '../math/matrix.js';
import type { Box } from './probe.js';

/** The rectangle about its corners; undefined where one of them is behind the eye, or the frame shows all around. */
export function boxInFrame({ camera, turn }: Frame, bounds: Bounds): Box | undefined {
  if (camera.kind === 'panorama') return undefined;
  const m = mat4.multiply(identity(), matrixOf(camera.projectionMatrix), matrixOf(camera.viewMatrix));
  if (turn?.what.includes('subject')) mat4.multiply(m, m, turnMatrix(turn, turn.rotation));
  const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y, z] of corners(bounds)) {
    const w = m[3]! * x + m[7]! * y + m[11]! * z + m[15]!;
    if (w <= 0) return undefined;
    const u = ((m[0]! * x + m[4]! * y + m[8]! * z + m[12]!) / w + 1) / 2;
    const v = (1 - (m[1]! * x + m[5]! * y + m[9]! * z + m[13]!) / w) / 2;
    box[0] = Math.min(box[0], u);
    box[1] = Math.min(box[1], v);
    box[2] = Math.max(box[2], u);
    box[3] = Math.max(box[3], v);
  }
  return box;
}
