/** Ray sets of a benchmark: from a camera, bounced off what the camera sees, and towards lamps. */
import type { Mesh } from '../src/core/model/model.js';

/** Rays of one kind. */
export interface RaySet {
  name: 'camera' | 'bounce' | 'shadow';
  any: boolean;
  /** Origin and direction, six numbers a ray, directions of unit length. */
  rays: Float32Array;
  /** Farthest distance of each ray. */
  far: Float32Array;
}

/** A small generator with a known sequence (mulberry32), so that every run asks the same rays. */
export function randomNumbers(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), a | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

type Hit = { distance: number; triangle: number };

/** Side of the squares of pixels whose rays follow one another, as the samples of one pixel do in a picture. */
const SQUARE = 4;

/** Rays through a pinhole, square by square. */
export function cameraRays(eye: number[], forward: number[], up: number[], width: number, height: number): RaySet {
  const right = [
    forward[1]! * up[2]! - forward[2]! * up[1]!,
    forward[2]! * up[0]! - forward[0]! * up[2]!,
    forward[0]! * up[1]! - forward[1]! * up[0]!,
  ];
  const rays = new Float32Array(width * height * 6);
  const squares = [Math.ceil(width / SQUARE), Math.ceil(height / SQUARE)] as const;
  for (let i = 0, k = 0; i < squares[0] * squares[1] * SQUARE ** 2; i++) {
    const [square, within] = [Math.floor(i / SQUARE ** 2), i % SQUARE ** 2];
    const x = (square % squares[0]) * SQUARE + (within % SQUARE);
    const y = Math.floor(square / squares[0]) * SQUARE + Math.floor(within / SQUARE);
    if (x < width && y < height) {
      const a = ((x + 0.5) / width - 0.5) * 1.2;
      const b = (0.5 - (y + 0.5) / height) * 1.2 * (height / width);
      const d = forward.map((f, i) => f + a * right[i]! + b * up[i]!);
      const n = Math.hypot(...d);
      rays.set([...eye, ...d.map((c) => c / n)], k);
      k += 6;
    }
  }
  return { name: 'camera', any: false, rays, far: new Float32Array(width * height).fill(1e30) };
}

/** From what a ray set hit: cosine-distributed bounces, and shadow rays to a point. */
export function secondaryRays(mesh: Mesh, from: RaySet, hits: Hit[], light: number[]): [RaySet, RaySet] {
  const random = randomNumbers(7);
  const bounce: number[] = [];
  const shadow: number[] = [];
  const shadowFar: number[] = [];
  hits.forEach((hit, i) => {
    if (!Number.isFinite(hit.distance)) return;
    const o = [0, 1, 2].map((a) => from.rays[i * 6 + a]! + from.rays[i * 6 + 3 + a]! * hit.distance);
    const v = [0, 1, 2].map((c) => [0, 1, 2].map((a) => mesh.positions[mesh.indices[hit.triangle * 3 + c]! * 3 + a]!));
    const e1 = v[1]!.map((c, a) => c - v[0]![a]!);
    const e2 = v[2]!.map((c, a) => c - v[0]![a]!);
    let n = [e1[1]! * e2[2]! - e1[2]! * e2[1]!, e1[2]! * e2[0]! - e1[0]! * e2[2]!, e1[0]! * e2[1]! - e1[1]! * e2[0]!];
    const length = Math.hypot(...n);
    if (length === 0) return;
    const side = n.reduce((s, c, a) => s + c * from.rays[i * 6 + 3 + a]!, 0) > 0 ? -1 : 1;
    n = n.map((c) => (c * side) / length);
    const start = o.map((c, a) => c + n[a]! * 1e-4);
    // A point on the unit sphere added to the normal is cosine-distributed around it.
    const z = 1 - 2 * random();
    const phi = 2 * Math.PI * random();
    const r = Math.sqrt(1 - z * z);
    const d = [n[0]! + r * Math.cos(phi), n[1]! + r * Math.sin(phi), n[2]! + z];
    const dn = Math.hypot(...d);
    if (dn > 1e-3) bounce.push(...start, ...d.map((c) => c / dn));
    const to = light.map((c, a) => c + (random() - 0.5) * 0.5 - start[a]!);
    const tn = Math.hypot(...to);
    shadow.push(...start, ...to.map((c) => c / tn));
    shadowFar.push(tn);
  });
  return [
    { name: 'bounce', any: false, rays: Float32Array.from(bounce), far: new Float32Array(bounce.length / 6).fill(1e30) },
    { name: 'shadow', any: true, rays: Float32Array.from(shadow), far: Float32Array.from(shadowFar) },
  ];
}
