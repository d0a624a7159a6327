/** Where the instances of a frame stand. */
import { mat4 } from 'gl-matrix';
import { turnMatrix } from '../../core/camera/view.js';
import type { Frame } from '../../core/frame/frame.js';
import { centreOf, joinBounds, radiusOf, transformBounds, type Vec3 } from '../../core/math/bounds.js';
import { identity } from '../../core/math/matrix.js';
import type { Instance, Placed, SceneData } from './sceneData.js';

/** One that stands there. */
export const placed = (instance: Instance, world: mat4): Placed => ({ instance, world, bounds: transformBounds(instance.bounds, world) });

/** Where everything stands when the shutter opens, and the box that it sweeps until it closes. */
export function placementOf(data: SceneData, frame: Frame): Placed[] {
  const turn = frame.turn?.what.includes('subject') ? turnMatrix(frame.turn, frame.turn.rotation) : null;
  const sweep = frame.turn && frame.shutter ? frame.shutter.rotation : 0;
  if (!turn) return data.standing;
  return data.standing.map((still): Placed => {
    const { instance } = still;
    if (!instance.turns) return still;
    const moved = placed(instance, mat4.multiply(identity(), turn, instance.world));
    let { bounds } = moved;
    if (sweep !== 0) {
      const steps = Math.max(1, Math.ceil(Math.abs(sweep) / 5));
      const before = bounds;
      for (let k = 1; k <= steps; k++) {
        const turned = transformBounds(before, turnMatrix(frame.turn!, (sweep * k) / steps));
        bounds = joinBounds(bounds, turned);
      }
      // Between two of these steps an arc stands out by less than this.
      const out = radiusOf(before) * 2e-3 + 1e-3 * Math.hypot(...centreOf(before).map((c, i) => c - frame.turn!.pivot[i]!));
      bounds = { min: bounds.min.map((c) => c - out) as Vec3, max: bounds.max.map((c) => c + out) as Vec3 };
    }
    return { ...moved, bounds };
  });
}
