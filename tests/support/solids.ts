/** What models of files are measured by: sizes, areas and volumes. */
import { vec3 } from 'gl-matrix';
import { expect } from 'vitest';
import { type Model, modelBounds } from '../../src/core/model/model.js';

/** Volume by signed tetrahedra (divergence theorem) and area, in the world, of parts that the choice keeps. */
export function measure(model: Model, keep: (path: string) => boolean = () => true): { volume: number; area: number } {
  let [volume, area] = [0, 0];
  for (const part of model.parts) {
    if (!keep(part.path)) continue;
    for (const { mesh } of part.primitives) {
      const { positions, indices } = model.meshes[mesh]!;
      for (let t = 0; t < indices.length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => {
          const i = indices[t + k]! * 3;
          return vec3.transformMat4(vec3.create(), [positions[i]!, positions[i + 1]!, positions[i + 2]!], part.world);
        }) as [vec3, vec3, vec3];
        volume += vec3.dot(a, vec3.cross(vec3.create(), b, c)) / 6;
        area += vec3.length(vec3.cross(vec3.create(), vec3.sub(vec3.create(), b, a), vec3.sub(vec3.create(), c, a))) / 2;
      }
    }
  }
  return { volume, area };
}

/** Metres across, up and along. */
export const size = (model: Model): number[] => {
  const { min, max } = modelBounds(model);
  return max.map((m, i) => m - min[i]!);
};

/** Expects numbers one by one. */
export function close(actual: number[], expected: number[], digits = 6): void {
  actual.forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, digits));
}
