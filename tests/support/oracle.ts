/**
 * A plain path tracer in double precision, the oracle beside the kernel: simple, slow, for diffuse
 * and emitting surfaces. It draws the same random numbers as the kernel, so that both follow the same
 * paths, but meets triangles through three-mesh-bvh.
 */
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { Model } from '../../src/core/model/model.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { sequenceBits } from '../../src/engine/upload/filmLayout.js';

function mix(x: number): number {
  x ^= x >>> 16;
  x = Math.imul(x, 0x7feb352d);
  x ^= x >>> 15;
  x = Math.imul(x, 0x846ca68b);
  return (x ^ (x >>> 16)) >>> 0;
}

function reverse(x: number): number {
  let r = 0;
  for (let i = 0; i < 32; i++) if ((x >>> i) & 1) r |= 1 << (31 - i);
  return r >>> 0;
}

function permute(x: number, seed: number): number {
  x ^= Math.imul(x, 0x3d20adea);
  x = (x + seed) | 0;
  x = Math.imul(x, (seed >>> 16) | 1);
  x ^= Math.imul(x, 0x05526c56);
  x ^= Math.imul(x, 0x53a22864);
  return x >>> 0;
}

/** Second Sobol dimension from its direction numbers v1 = 2^31, v(k+1) = v(k) xor v(k) / 2. */
export function sobolSecond(index: number): number {
  let v = 0x80000000;
  let y = 0;
  for (let k = 0; k < 32; k++) {
    if ((index >>> k) & 1) y ^= v;
    v = (v ^ (v >>> 1)) >>> 0;
  }
  return y >>> 0;
}

const unit = (x: number): number => (x >>> 8) * 2 ** -24;

/** The sampler's numbers, written a second time. */
export class Numbers {
  private readonly seed: number;
  private readonly index: number;
  private pair = 0;

  constructor(seed: number, x: number, y: number, s: number, samples: number) {
    const bits = sequenceBits(samples);
    const side = (32 - bits) >>> 1;
    const inner = 2 ** side - 1;
    this.seed = mix(seed ^ mix((x >>> side) ^ mix((y >>> side) ^ mix(((s >>> bits) + 0x9e3779b9) >>> 0))));
    let place = 0;
    for (let k = 0; k < 16; k++) place |= ((((x & inner) >>> k) & 1) << (2 * k)) | ((((y & inner) >>> k) & 1) << (2 * k + 1));
    this.index = ((place << bits) | (s & (2 ** bits - 1))) >>> 0;
  }

  draw(): [number, number] {
    const key = mix(this.seed ^ mix((this.pair + 0x68bc21eb) >>> 0));
    if (this.pair++ < 12) {
      const shuffled = reverse(permute(reverse(this.index), key));
      const scramble = (v: number, s: number): number => unit(reverse(permute(reverse(v), s)));
      return [scramble(reverse(shuffled), mix(key ^ 0x02e5be93)), scramble(sobolSecond(shuffled), mix(key ^ 0x967a889b))];
    }
    const h = mix(key ^ mix((this.index + 0x51633e2d) >>> 0));
    return [unit(h), unit(mix(h ^ 0x2c1b3c6d))];
  }
}

interface Shining {
  a: Vector3;
  u: Vector3;
  v: Vector3;
  normal: Vector3;
  area: number;
  radiance: number;
  /** Cumulative chance, in single precision as the kernel has it. */
  from: number;
}

/** Triangles that shine, in the order and with the chances by power that the engine gives them. */
function shiningOf(model: Model): { list: Shining[]; perRadiance: number } {
  const list: Shining[] = [];
  for (const part of model.parts) {
    for (const p of part.primitives) {
      const radiance = model.materials[p.material]!.emission[1];
      if (radiance <= 0) continue;
      const { positions, indices } = model.meshes[p.mesh]!;
      for (let t = 0; t < indices.length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => new Vector3().fromArray(positions, indices[t + k]! * 3)) as [Vector3, Vector3, Vector3];
        const [u, v] = [b.sub(a), c.sub(a)];
        const normal = u.clone().cross(v);
        const area = normal.length() / 2;
        list.push({ a, u, v, normal: normal.normalize(), area, radiance, from: 0 });
      }
    }
  }
  const total = list.reduce((s, l) => s + l.area * l.radiance, 0);
  let sum = 0;
  for (const l of list) {
    l.from = Math.fround(sum / total);
    sum += l.area * l.radiance;
  }
  return { list, perRadiance: total > 0 ? 1 / total : 0 };
}

/** Mean radiance (Rec. 709 green) of each pixel of a frame without lamps, base plane or glass. */
export function oracle(model: Model, frame: Frame): Float64Array {
  const positions: number[] = [];
  const indices: number[] = [];
  const owner: number[] = [];
  model.parts.forEach((part) => {
    for (const p of part.primitives) {
      const mesh = model.meshes[p.mesh]!;
      const first = positions.length / 3;
      for (const v of mesh.positions) positions.push(v);
      for (const i of mesh.indices) indices.push(first + i);
      for (let t = 0; t < mesh.indices.length / 3; t++) owner.push(p.material);
    }
  });
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(positions), 3));
  geometry.setIndex(indices);
  geometry.setAttribute('owner', new BufferAttribute(new Float32Array(positions.length / 3), 1));
  // The tree sorts triangles; who owns one is found by its first vertex.
  const byVertex = new Map<number, number>();
  indices.forEach((v, i) => byVertex.set(v, owner[Math.floor(i / 3)]!));
  const bvh = new MeshBVH(geometry);
  const { list: shining, perRadiance } = shiningOf(model);
  const index = geometry.getIndex()!;
  const { width, height } = frame.size;
  const p = frame.camera.projectionMatrix;
  const v = frame.camera.viewMatrix;
  const axes = [0, 1, 2].map((k) => [v[k]!, v[4 + k]!, v[8 + k]!]);
  const out = new Float64Array(width * height);
  const ray = new Ray(new Vector3(), new Vector3());
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let s = 0; s < frame.sampling.samples; s++) {
        const numbers = new Numbers(frame.seed, x, y, s, frame.sampling.samples);
        const [jx, jy] = numbers.draw();
        const cx = (2 * (x + jx)) / width - 1;
        const cy = 1 - (2 * (y + jy)) / height;
        ray.direction
          .set(
            ...([0, 1, 2].map((a) => ((cx + p[8]!) / p[0]!) * axes[0]![a]! + ((cy + p[9]!) / p[5]!) * axes[1]![a]! - axes[2]![a]!) as [
              number,
              number,
              number,
            ]),
          )
          .normalize();
        ray.origin.set(...frame.camera.eye);
        let throughput = 1;
        let lastDensity = 0;
        for (let bounces = 0; ;) {
          const hit = bvh.raycastFirst(ray, DoubleSide, 0, Infinity);
          if (!hit) {
            // A closed scene lets nothing out; what escapes would see the surround.
            sum += throughput * frame.stage.environment.middle[1];
            break;
          }
          const material = model.materials[byVertex.get(index.getX(hit.faceIndex! * 3))!]!;
          const [, which] = numbers.draw();
          const [a, b, c] = [0, 1, 2].map((k) =>
            new Vector3().fromBufferAttribute(geometry.getAttribute('position') as BufferAttribute, index.getX(hit.faceIndex! * 3 + k)),
          ) as [Vector3, Vector3, Vector3];
          const n = b.sub(a).cross(c.sub(a)).normalize();
          if (n.dot(ray.direction) > 0) n.negate();
          if (material.emission[1] > 0) {
            // Balance heuristic against its having been drawn as a lamp.
            const drawn = (perRadiance * material.emission[1] * hit.distance ** 2) / -n.dot(ray.direction);
            sum += throughput * material.emission[1] * (lastDensity > 0 ? lastDensity / (lastDensity + drawn) : 1);
          }
          if (bounces >= frame.sampling.bounces || material.base[1] === 0) break;
          bounces++;
          const at = hit.point;
          const eps = (Math.abs(at.x) + Math.abs(at.y) + Math.abs(at.z) + hit.distance) * 2e-6 + 20e-6;
          if (shining.length > 0) {
            const [lu, lv] = numbers.draw();
            const light = shining.findLast((l) => l.from <= which)!;
            const root = Math.sqrt(lu);
            const to = light.a
              .clone()
              .addScaledVector(light.u, root * (1 - lv))
              .addScaledVector(light.v, root * lv)
              .sub(at);
            const distance = to.length();
            to.divideScalar(distance);
            const [cosine, facing] = [n.dot(to), Math.abs(light.normal.dot(to))];
            if (cosine > 0 && facing > 0) {
              const drawn = (perRadiance * light.radiance * distance ** 2) / facing;
              const shadow = new Ray(at.clone().addScaledVector(n, eps), to);
              if (!bvh.raycastFirst(shadow, DoubleSide, 0, distance * 0.9999))
                sum += (throughput * (material.base[1] / Math.PI) * cosine * light.radiance) / (drawn + cosine / Math.PI);
            }
          }
          const [u1, u2] = numbers.draw();
          const sign = n.z >= 0 ? 1 : -1;
          const q = -1 / (sign + n.z);
          const t = new Vector3(1 + sign * n.x * n.x * q, sign * n.x * n.y * q, -sign * n.x);
          const bt = new Vector3(n.x * n.y * q, sign + n.y * n.y * q, -n.y);
          const r = Math.sqrt(u2);
          const [lx, ly, lz] = [r * Math.cos(2 * Math.PI * u1), r * Math.sin(2 * Math.PI * u1), Math.sqrt(Math.max(0, 1 - u2))];
          if (lz <= 0) break;
          lastDensity = lz / Math.PI;
          ray.origin.copy(at).addScaledVector(n, eps);
          ray.direction.copy(t).multiplyScalar(lx).addScaledVector(bt, ly).addScaledVector(n, lz);
          throughput *= material.base[1];
          // The kernel decides by the strongest channel; the test's finishes are grey, so green stands for it.
          if (bounces > 2 && throughput < 1) {
            const keep = Math.max(throughput, 0.05);
            if (numbers.draw()[0] >= keep) break;
            throughput /= keep;
          }
        }
      }
      out[y * width + x] = sum / frame.sampling.samples;
    }
  }
  return out;
}
