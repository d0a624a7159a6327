/**
 * Faces that shine, as lights in kernel memory. A model may have tens of thousands, laid anew for every frame in which they
 * turn, so that they are numbers side by side and no objects.
 */
import type { mat4 } from 'gl-matrix';
import * as L from '../../../kernel/layout.js';
import { luminance, type Rgb } from '../../core/units/colour.js';
import type { Views } from './memoryViews.js';
import type { Placed, SceneData } from './sceneData.js';

/** Numbers of a triangle, and where each stands among them: corner, edges from there, unit normal, area, power for the draw. */
export const TRIANGLE = { centre: 0, u: 3, v: 6, normal: 9, area: 12, power: 13 } as const;
/** Numbers that a triangle takes. */
export const TRIANGLE_NUMBERS = 14;

/** Triangles of the model that shine. */
export interface EmissiveTriangles {
  count: number;
  /** TRIANGLE_NUMBERS a triangle, in the world. */
  numbers: Float64Array;
  /** Radiance of each; all of an instance share one. */
  radiance: Rgb[];
}

/** A model in which nothing shines. */
export const NO_TRIANGLES: EmissiveTriangles = { count: 0, numbers: new Float64Array(0), radiance: [] };

/** Every shining face as it stands; those without area are left out. */
export function emissiveTriangles({ shining, scene, views, image }: SceneData, placed: readonly Placed[]): EmissiveTriangles {
  const wanted = new Set(shining);
  const standing = placed.filter((p) => wanted.has(p.instance));
  const most = standing.reduce((n, { instance }) => n + scene.meshes[instance.mesh]!.triangles, 0);
  if (most === 0) return NO_TRIANGLES;
  const numbers = new Float64Array(most * TRIANGLE_NUMBERS);
  const radiance: Rgb[] = [];
  const { f32, u32 } = views;
  const corners = new Float64Array(9);
  let at = 0;
  for (const { instance, world } of standing) {
    const m = Float64Array.from(world) as unknown as mat4;
    const entry = scene.meshes[instance.mesh]!;
    const shine = scene.materials[instance.material]!.emission;
    const brightness = luminance(...shine);
    const [positions, indices] = [(image + entry.position) >> 2, (image + entry.index) >> 2];
    for (let t = 0; t < entry.triangles; t++) {
      for (let k = 0; k < 3; k++) {
        const from = positions + u32[indices + t * 3 + k]! * 3;
        const x = f32[from]!;
        const y = f32[from + 1]!;
        const z = f32[from + 2]!;
        const w = m[3] * x + m[7] * y + m[11] * z + m[15] || 1;
        corners[k * 3] = (m[0] * x + m[4] * y + m[8] * z + m[12]) / w;
        corners[k * 3 + 1] = (m[1] * x + m[5] * y + m[9] * z + m[13]) / w;
        corners[k * 3 + 2] = (m[2] * x + m[6] * y + m[10] * z + m[14]) / w;
      }
      const ax = corners[0]!;
      const ay = corners[1]!;
      const az = corners[2]!;
      const ux = corners[3]! - ax;
      const uy = corners[4]! - ay;
      const uz = corners[5]! - az;
      const vx = corners[6]! - ax;
      const vy = corners[7]! - ay;
      const vz = corners[8]! - az;
      const nx = uy * vz - uz * vy;
      const ny = uz * vx - ux * vz;
      const nz = ux * vy - uy * vx;
      const size = Math.sqrt(nx * nx + ny * ny + nz * nz);
      const area = size / 2;
      // Both sides shine.
      const power = 2 * Math.PI * area * brightness;
      if (!(power > 0)) continue;
      numbers[at] = ax;
      numbers[at + 1] = ay;
      numbers[at + 2] = az;
      numbers[at + 3] = ux;
      numbers[at + 4] = uy;
      numbers[at + 5] = uz;
      numbers[at + 6] = vx;
      numbers[at + 7] = vy;
      numbers[at + 8] = vz;
      numbers[at + 9] = nx / size;
      numbers[at + 10] = ny / size;
      numbers[at + 11] = nz / size;
      numbers[at + 12] = area;
      numbers[at + 13] = power;
      radiance.push(shine);
      at += TRIANGLE_NUMBERS;
    }
  }
  return { count: radiance.length, numbers, radiance };
}

/** Writes their records and cumulative chances. @param total power of all lights. @param sum of those before. Returns the sum with these. */
export function writeTriangles(
  { u32, f32 }: Views,
  records: number,
  chances: number,
  { count, numbers, radiance }: EmissiveTriangles,
  total: number,
  sum: number,
): number {
  for (let t = 0; t < count; t++) {
    const record = (records + t * L.LIGHT_BYTES) >> 2;
    const from = t * TRIANGLE_NUMBERS;
    const power = numbers[from + TRIANGLE.power]!;
    u32[record + (L.LIGHT_KIND >> 2)] = L.LIGHT_TRIANGLE;
    u32[record + (L.LIGHT_SOURCE >> 2)] = L.SOURCE_MODEL;
    const probability = record + (L.LIGHT_PROBABILITY >> 2);
    f32[probability] = power / total;
    f32[probability + 1] = numbers[from + TRIANGLE.area]!;
    f32[probability + 2] = 0;
    f32[record + (L.LIGHT_INNER >> 2)] = 0;
    const shine = radiance[t]!;
    for (let c = 0; c < 3; c++) {
      f32[record + (L.LIGHT_CENTRE >> 2) + c] = numbers[from + TRIANGLE.centre + c]!;
      f32[record + (L.LIGHT_U >> 2) + c] = numbers[from + TRIANGLE.u + c]!;
      f32[record + (L.LIGHT_V >> 2) + c] = numbers[from + TRIANGLE.v + c]!;
      f32[record + (L.LIGHT_NORMAL >> 2) + c] = numbers[from + TRIANGLE.normal + c]!;
      f32[record + (L.LIGHT_RADIANCE >> 2) + c] = shine[c]!;
    }
    f32[(chances >> 2) + t] = sum / total;
    sum += power;
  }
  return sum;
}
