/**
 * A plain path tracer in TypeScript, written to be fast without WebAssembly: flat typed arrays, a binned
 * tree of boxes, no objects while tracing. Diffuse and shining surfaces alone, lamps drawn by power at
 * each meeting: the work that the kernel does on the hall. What the kernel is measured against.
 */
import type { Mesh, Model } from '../src/core/model/model.js';
import { luminance } from '../src/core/units/colour.js';

import { buildTree, enter, FAR_DISTANCE, type Tree } from './plainTree.js';

/** The model's meshes stand where they are, without a tree of parts, as scenes for benchmarks do. */
export class PlainTracer {
  private readonly tree: Tree;
  /** Base and emission of each triangle, six floats. */
  private readonly materials: Float32Array;
  private readonly lights: number[] = [];
  private readonly chances: number[] = [];
  /** Luminance of the lamps by their areas. */
  private readonly brightness: number;
  private readonly stack = new Int32Array(64);
  private state = 1;
  private hitDistance = 0;
  private hitTriangle = -1;
  private light = new Float64Array(3);

  constructor(model: Model, mesh: Mesh) {
    this.tree = buildTree(mesh);
    this.materials = new Float32Array((mesh.indices.length / 3) * 6);
    let at = 0;
    model.meshes.forEach((m, i) => {
      const { base, emission } = model.materials[i]!;
      for (let t = 0; t < m.indices.length / 3; t++) this.materials.set([...base, ...emission], 6 * at++);
    });
    let power = 0;
    this.tree.order.forEach((t, i) => {
      const shining = luminance(this.materials[t * 6 + 3]!, this.materials[t * 6 + 4]!, this.materials[t * 6 + 5]!);
      if (shining > 0) {
        this.lights.push(i);
        this.chances.push((power += shining * this.areaOf(i)));
      }
    });
    for (let i = 0; i < this.chances.length; i++) this.chances[i]! /= power;
    this.brightness = power;
  }

  private areaOf(i: number): number {
    const c = this.tree.corners;
    const o = i * 9;
    const [x, y, z] = [
      c[o + 4]! * c[o + 8]! - c[o + 5]! * c[o + 7]!,
      c[o + 5]! * c[o + 6]! - c[o + 3]! * c[o + 8]!,
      c[o + 3]! * c[o + 7]! - c[o + 4]! * c[o + 6]!,
    ];
    return Math.hypot(x, y, z) / 2;
  }

  /** Marsaglia, "Xorshift RNGs", 2003. */
  private random(): number {
    let x = this.state;
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    this.state = x;
    return (x >>> 0) * 2 ** -32;
  }

  /** Nearest meeting before `far`, or any where that is enough. Triangles: Möller and Trumbore, 1997. */
  private meet(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number, any: boolean): boolean {
    const { boxes, next, counts, corners } = this.tree;
    const { stack } = this;
    const [ix, iy, iz] = [1 / dx, 1 / dy, 1 / dz];
    let best = far;
    this.hitTriangle = -1;
    let top = 0;
    let node = 0;
    for (;;) {
      const count = counts[node]!;
      if (count > 0) {
        for (let i = next[node]!, end = i + count; i < end; i++) {
          const o = i * 9;
          const [ux, uy, uz, vx, vy, vz] = [corners[o + 3]!, corners[o + 4]!, corners[o + 5]!, corners[o + 6]!, corners[o + 7]!, corners[o + 8]!];
          const [px, py, pz] = [dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx];
          const det = ux * px + uy * py + uz * pz;
          if (det === 0) continue;
          const inv = 1 / det;
          const [tx, ty, tz] = [ox - corners[o]!, oy - corners[o + 1]!, oz - corners[o + 2]!];
          const u = (tx * px + ty * py + tz * pz) * inv;
          if (u < 0 || u > 1) continue;
          const [qx, qy, qz] = [ty * uz - tz * uy, tz * ux - tx * uz, tx * uy - ty * ux];
          const v = (dx * qx + dy * qy + dz * qz) * inv;
          if (v < 0 || u + v > 1) continue;
          const t = (vx * qx + vy * qy + vz * qz) * inv;
          if (t > 1e-5 && t < best) {
            if (any) return true;
            best = t;
            this.hitTriangle = i;
          }
        }
      } else {
        const a = node + 1;
        const b = next[node]!;
        const da = enter(boxes, a * 6, ox, oy, oz, ix, iy, iz, best);
        const db = enter(boxes, b * 6, ox, oy, oz, ix, iy, iz, best);
        if (da < FAR_DISTANCE && db < FAR_DISTANCE) {
          stack[top++] = da < db ? b : a;
          node = da < db ? a : b;
          continue;
        }
        if (da < FAR_DISTANCE || db < FAR_DISTANCE) {
          node = da < FAR_DISTANCE ? a : b;
          continue;
        }
      }
      if (top === 0) break;
      node = stack[--top]!;
    }
    this.hitDistance = best;
    return this.hitTriangle >= 0;
  }

  /** One path's light; `bounces` scatterings at most, as the kernel counts them. */
  private path(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, bounces: number): void {
    const { light, tree, materials } = this;
    const c = tree.corners;
    let [tr, tg, tb] = [1, 1, 1];
    let density = 0;
    light[0] = light[1] = light[2] = 0;
    for (let bounce = 0; ; bounce++) {
      if (!this.meet(ox, oy, oz, dx, dy, dz, FAR_DISTANCE, false)) return;
      const i = this.hitTriangle;
      const f = tree.order[i]! * 6;
      const o = i * 9;
      let nx = c[o + 4]! * c[o + 8]! - c[o + 5]! * c[o + 7]!;
      let ny = c[o + 5]! * c[o + 6]! - c[o + 3]! * c[o + 8]!;
      let nz = c[o + 3]! * c[o + 7]! - c[o + 4]! * c[o + 6]!;
      const n = 1 / Math.sqrt(nx * nx + ny * ny + nz * nz);
      const side = nx * dx + ny * dy + nz * dz > 0 ? -n : n;
      [nx, ny, nz] = [nx * side, ny * side, nz * side];
      const shining = luminance(materials[f + 3]!, materials[f + 4]!, materials[f + 5]!);
      if (shining > 0) {
        // What a drawn lamp could have given as well counts by the balance heuristic (Veach, 1997).
        const facing = -(nx * dx + ny * dy + nz * dz);
        const drawn = ((shining / this.brightness) * this.hitDistance * this.hitDistance) / facing;
        const w = bounce === 0 ? 1 : density / (density + drawn);
        light[0]! += tr * w * materials[f + 3]!;
        light[1]! += tg * w * materials[f + 4]!;
        light[2]! += tb * w * materials[f + 5]!;
      }
      if (bounce >= bounces) return;
      tr *= materials[f]!;
      tg *= materials[f + 1]!;
      tb *= materials[f + 2]!;
      const most = Math.max(tr, tg, tb);
      if (most <= 0) return;
      ox += dx * this.hitDistance + nx * 1e-4;
      oy += dy * this.hitDistance + ny * 1e-4;
      oz += dz * this.hitDistance + nz * 1e-4;
      this.drawLamp(ox, oy, oz, nx, ny, nz, tr, tg, tb);
      if (bounce >= 2 && most < 1) {
        const keep = Math.max(most, 0.05);
        if (this.random() >= keep) return;
        tr /= keep;
        tg /= keep;
        tb /= keep;
      }
      // Cosine lobe by a point on the unit sphere around the normal's tip.
      const z = 1 - 2 * this.random();
      const a = 2 * Math.PI * this.random();
      const s = Math.sqrt(Math.max(0, 1 - z * z));
      const [x, y, w] = [nx + s * Math.cos(a), ny + s * Math.sin(a), nz + z];
      const l = 1 / Math.sqrt(x * x + y * y + w * w || 1e-20);
      [dx, dy, dz] = [x * l, y * l, w * l];
      density = (nx * dx + ny * dy + nz * dz) / Math.PI;
    }
  }

  private drawLamp(ox: number, oy: number, oz: number, nx: number, ny: number, nz: number, tr: number, tg: number, tb: number): void {
    const { chances, lights, light, materials, tree } = this;
    if (lights.length === 0) return;
    const pick = this.random();
    let k = 0;
    while (k < chances.length - 1 && chances[k]! <= pick) k++;
    const c = tree.corners;
    const i = lights[k]!;
    const o = i * 9;
    let [u, v] = [this.random(), this.random()];
    if (u + v > 1) [u, v] = [1 - u, 1 - v];
    const lx = c[o]! + u * c[o + 3]! + v * c[o + 6]! - ox;
    const ly = c[o + 1]! + u * c[o + 4]! + v * c[o + 7]! - oy;
    const lz = c[o + 2]! + u * c[o + 5]! + v * c[o + 8]! - oz;
    const squared = lx * lx + ly * ly + lz * lz;
    const far = Math.sqrt(squared);
    const cos = (nx * lx + ny * ly + nz * lz) / far;
    if (cos <= 0) return;
    const [gx, gy, gz] = [
      c[o + 4]! * c[o + 8]! - c[o + 5]! * c[o + 7]!,
      c[o + 5]! * c[o + 6]! - c[o + 3]! * c[o + 8]!,
      c[o + 3]! * c[o + 7]! - c[o + 4]! * c[o + 6]!,
    ];
    const facing = Math.abs(gx * lx + gy * ly + gz * lz) / far / Math.sqrt(gx * gx + gy * gy + gz * gz);
    if (facing <= 0 || this.meet(ox, oy, oz, lx / far, ly / far, lz / far, far * 0.9999, true)) return;
    const f = tree.order[i]! * 6;
    const shining = luminance(materials[f + 3]!, materials[f + 4]!, materials[f + 5]!);
    const drawn = ((shining / this.brightness) * squared) / facing;
    const w = cos / Math.PI / (drawn + cos / Math.PI);
    light[0]! += tr * w * materials[f + 3]!;
    light[1]! += tg * w * materials[f + 4]!;
    light[2]! += tb * w * materials[f + 5]!;
  }

  /** Traces a picture seen from `eye` along `forward`, upright; returns the mean of its green. `angle` is the half angle across, in radians. */
  picture(eye: number[], forward: number[], angle: number, width: number, height: number, samples: number, bounces: number): number {
    const length = Math.hypot(...forward);
    const f = forward.map((v) => v / length) as [number, number, number];
    const across = Math.hypot(f[0], f[2]);
    const r: [number, number, number] = [-f[2] / across, 0, f[0] / across];
    const u: [number, number, number] = [r[1] * f[2] - r[2] * f[1], r[2] * f[0] - r[0] * f[2], r[0] * f[1] - r[1] * f[0]];
    const k = Math.tan(angle);
    this.state = 0x9e3779b9;
    let sum = 0;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        for (let s = 0; s < samples; s++) {
          const a = k * ((2 * (x + this.random())) / width - 1);
          const b = k * (height / width) * (1 - (2 * (y + this.random())) / height);
          const d = [0, 1, 2].map((i) => f[i]! + a * r[i]! + b * u[i]!);
          const l = 1 / Math.hypot(d[0]!, d[1]!, d[2]!);
          this.path(eye[0]!, eye[1]!, eye[2]!, d[0]! * l, d[1]! * l, d[2]! * l, bounces);
          sum += this.light[1]!;
        }
      }
    }
    return sum / (width * height * samples);
  }
}
