import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { NODE_CHILD, NODE_MAX, NODE_MIN, BLOCK_ID } from '../../kernel/layout.js';
import type { Mesh } from '../../src/core/model/model.js';
import { randomNumbers } from '../../bench/raySets.js';
import { closedHall, merged } from '../../bench/scenes.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import { compile } from '../../src/engine/scene/compile.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { MeshQueries } from '../../src/engine/queries/meshQueries.js';

function ask(mesh: Mesh, rays: number[][], any = false) {
  const module = loadKernelModule();
  const queries = new MeshQueries(module, compile(module, modelOf('m', [{ mesh }])), 0, rays.length);
  const n = queries.load(Float32Array.from(rays.flat()), new Float32Array(rays.length).fill(any ? 3 : 1e30));
  queries.run(n, any);
  return queries.read(n);
}

/** Möller and Trumbore, 1997, in doubles, over all triangles. */
function bruteForce(mesh: Mesh, ray: number[]): number {
  const o = new Vector3(ray[0], ray[1], ray[2]);
  const d = new Vector3(ray[3], ray[4], ray[5]);
  let best = Infinity;
  const v = (i: number): Vector3 => new Vector3().fromArray(mesh.positions, mesh.indices[i]! * 3);
  for (let t = 0; t < mesh.indices.length; t += 3) {
    const a = v(t);
    const e1 = v(t + 1).sub(a);
    const e2 = v(t + 2).sub(a);
    const p = d.clone().cross(e2);
    const det = e1.dot(p);
    if (det === 0) continue;
    const s = o.clone().sub(a);
    const u = s.dot(p) / det;
    const q = s.cross(e1);
    const w = d.dot(q) / det;
    const hit = e2.dot(q) / det;
    if (u >= 0 && w >= 0 && u + w <= 1 && hit > 0 && hit < best) best = hit;
  }
  return best;
}

function randomRays(count: number, spread: number): number[][] {
  const random = randomNumbers(3);
  return Array.from({ length: count }, () => {
    const d = new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).normalize();
    return [(random() - 0.5) * spread, (random() - 0.5) * spread, (random() - 0.5) * spread, d.x, d.y, d.z];
  });
}

describe('nearest hits', () => {
  it('are those of brute force over all triangles', () => {
    const mesh = merged(closedHall(1));
    const rays = randomRays(300, 4).map((r) => [r[0]!, r[1]! + 2.5, r[2]!, r[3]!, r[4]!, r[5]!]);
    const hits = ask(mesh, rays);
    const wrong = rays.filter((ray, i) => Math.abs(hits.distance[i]! - bruteForce(mesh, ray)) > 1e-4 * Math.max(1, hits.distance[i]!));
    expect(wrong).toEqual([]);
  });

  it('are those of three-mesh-bvh, same triangle and distance', () => {
    const mesh = sphere(200, (x, y, z) => 1 + 0.1 * Math.sin(9 * x) * Math.sin(7 * y + 2 * z));
    const rays = randomRays(20_000, 3);
    const hits = ask(mesh, rays);
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
    geometry.setIndex(new BufferAttribute(mesh.indices.slice(), 1));
    const bvh = new MeshBVH(geometry, { indirect: true });
    let [met, differ, otherTriangle] = [0, 0, 0];
    rays.forEach((r, i) => {
      const theirs = bvh.raycastFirst(new Ray(new Vector3(r[0], r[1], r[2]), new Vector3(r[3], r[4], r[5])), DoubleSide);
      if (theirs) met++;
      if ((theirs === null) === Number.isFinite(hits.distance[i]!) || (theirs && Math.abs(theirs.distance - hits.distance[i]!) > 1e-4)) differ++;
      else if (theirs && theirs.faceIndex !== hits.triangle[i]) otherTriangle++;
    });
    expect(met).toBeGreaterThan(5000);
    // A ray through an edge may be counted to either side, and one that grazes the outline be lost by either.
    expect(differ).toBeLessThanOrEqual(2);
    expect(otherTriangle).toBeLessThanOrEqual(5);
  });

  it('any-hit agrees with nearest within the same distance', () => {
    const mesh = sphere(100);
    const rays = randomRays(5000, 6);
    const near = ask(mesh, rays);
    const any = ask(mesh, rays, true);
    expect(rays.filter((_, i) => near.distance[i]! < 3 !== (any.triangle[i] === 1))).toEqual([]);
  });
});

/** A tube that lies askew, closed by fans, of slivers as long as it is: their boxes overlap nearly whole, so the tree splits space. */
function tube(around: number, length: number): Mesh {
  const ring = (x: number, turn: number): number[][] =>
    Array.from({ length: around }, (_, k) => {
      const a = ((k + turn) / around) * 2 * Math.PI;
      return [x, 0.7 * x + 0.3 * Math.cos(a), -0.4 * x + 0.3 * Math.sin(a)];
    });
  const end = length / 2;
  const points = [...ring(-end, 0), ...ring(end, 0.5), [-end, -0.7 * end, 0.4 * end], [end, 0.7 * end, -0.4 * end]];
  const indices: number[] = [];
  for (let k = 0; k < around; k++) {
    const [a, b, c, d] = [k, (k + 1) % around, around + k, around + ((k + 1) % around)];
    indices.push(a, b, c, b, d, c, 2 * around, b, a, 2 * around + 1, c, d);
  }
  return { positions: Float32Array.from(points.flat()), indices: Uint32Array.from(indices) };
}

describe('triangles that are met below several nodes', () => {
  const mesh = tube(60, 6);

  /** How often triangles are met in packets of the tree, all together. */
  const references = (m: Mesh): number => {
    const scene = compile(loadKernelModule(), modelOf('m', [{ mesh: m }]));
    const { tree, root } = scene.meshes[0]!;
    const words = new DataView(scene.image.buffer, scene.image.byteOffset + tree);
    const below = (ref: number): number => {
      const lanes = [0, 4, 8, 12];
      if (ref < 0) return new Set(lanes.map((k) => words.getUint32(~ref + BLOCK_ID + k, true))).size;
      // An empty slot has a box that is inside out.
      const full = lanes.filter((k) => words.getFloat32(ref + NODE_MIN + k, true) <= words.getFloat32(ref + NODE_MAX + k, true));
      return full.reduce((sum, k) => sum + below(words.getInt32(ref + NODE_CHILD + k, true)), 0);
    };
    return below(root);
  };

  it('are as many as they are given, where that helps; else each triangle is met once', () => {
    const count = mesh.indices.length / 3;
    expect(references(mesh)).toBeGreaterThan(1.2 * count);
    expect(references(mesh)).toBeLessThanOrEqual(1.4 * count);
    const ball = sphere(40);
    expect(references(ball)).toBe(ball.indices.length / 3);
  });

  it('are hit as brute force over all of them says, nearest and any', () => {
    const rays = randomRays(4000, 3);
    const hits = ask(mesh, rays);
    const any = ask(mesh, rays, true);
    const due = rays.map((ray) => bruteForce(mesh, ray));
    expect(due.filter(Number.isFinite).length).toBeGreaterThan(300);
    expect(rays.filter((_, i) => Number.isFinite(due[i]!) !== Number.isFinite(hits.distance[i]!))).toEqual([]);

    expect(rays.filter((_, i) => Number.isFinite(due[i]!) && Math.abs(hits.distance[i]! - due[i]!) > 1e-4)).toEqual([]);
    expect(rays.filter((_, i) => due[i]! < 3 !== (any.triangle[i] === 1))).toEqual([]);
  });

  it('leave no gap: no ray gets out of the closed tube', () => {
    const random = randomNumbers(5);
    const rays = Array.from({ length: 100_000 }, () => {
      const x = (random() - 0.5) * 6 * 0.9;
      const d = new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).normalize();
      return [x, 0.7 * x, -0.4 * x, d.x, d.y, d.z];
    });
    expect(ask(mesh, rays).distance.filter((t) => !Number.isFinite(t))).toHaveLength(0);
  });
});

describe('rays with zero components', () => {
  it('+0 and -0 meet the walls of a box alike', () => {
    const room = new MeshMaker().box([-1, -1, -1], [1, 1, 1], 8, true).mesh();
    const rays: number[][] = [];
    for (const axis of [0, 1, 2]) {
      for (const way of [1, -1]) {
        for (const a of [0, -0]) {
          for (const b of [0, -0]) {
            const d = [a, a, a];
            d[(axis + 1) % 3] = b;
            d[axis] = way;
            for (let k = 0; k < 20; k++) rays.push([0.013 * k, 0.31 - 0.021 * k, -0.2 + 0.017 * k, ...d]);
          }
        }
      }
    }
    const hits = ask(room, rays);
    const missed = rays.filter((r, i) => {
      const axis = [0, 1, 2].find((a) => Math.abs(r[3 + a]!) === 1)!;
      return Math.abs(hits.distance[i]! - (1 - r[axis]! * r[3 + axis]!)) > 1e-5;
    });
    expect(missed).toEqual([]);
  });

  it('no ray slips out between the triangles of a closed sphere', () => {
    const mesh = sphere(64);
    // Towards vertices and the middles of edges, where cracks would be.
    const rays: number[][] = [];
    for (let t = 0; t < mesh.indices.length; t += 3) {
      const p = [0, 1, 2].map((k) => Array.from(mesh.positions.subarray(mesh.indices[t + k]! * 3, mesh.indices[t + k]! * 3 + 3)));
      for (const to of [p[0]!, p[0]!.map((c, a) => (c + p[1]![a]!) / 2)]) {
        const n = Math.hypot(...to);
        rays.push([0, 0, 0, ...to.map((c) => c / n)]);
      }
    }
    const hits = ask(mesh, rays);
    expect(hits.distance.filter((d) => !Number.isFinite(d)).length).toBe(0);
  });
});

describe('rays that go together', () => {
  const module = loadKernelModule();
  /** Hits of the same rays one by one and in bundles. */
  function both(mesh: Mesh, rays: number[][], far = 1e30) {
    const queries = new MeshQueries(module, compile(module, modelOf('m', [{ mesh }])), 0, rays.length);
    const n = queries.load(Float32Array.from(rays.flat()), new Float32Array(rays.length).fill(far));
    queries.run(n, false);
    const single = queries.read(n);
    queries.runTogether(n);
    return { single, together: queries.read(n) };
  }
  const random = randomNumbers(11);
  /** Bundles of sixteen from about one place, each about its own direction. */
  const bundles = (count: number, apart: number): number[][] =>
    Array.from({ length: count }, () => {
      const from = [0, 1, 2].map(() => (random() - 0.5) * 4);
      const d = new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).normalize();
      return Array.from({ length: 16 }, () => {
        const w = new Vector3(...d.toArray().map((c) => c + (random() - 0.5) * apart)).normalize();
        return [from[0]! + (random() - 0.5) * apart, from[1]! + 2.5, from[2]!, w.x, w.y, w.z];
      });
    }).flat();

  it.each([
    ['through one pixel', 1e-3],
    ['through many', 0.05],
    ['this way and that', 1.5],
  ])('%s meet what they meet alone, to the last bit', (_, apart) => {
    const { single, together } = both(merged(closedHall(1)), bundles(120, apart));
    expect(Array.from(single.distance).filter(Number.isFinite).length).toBeGreaterThan(1500);
    expect(together).toEqual(single);
  });

  it('along the axes, with either sign of nothing', () => {
    const rays = [0, -0].flatMap((z) => Array.from({ length: 16 }, (_, k) => [k * 0.01 - 0.07, 1.3, 0.02, k % 3 ? z : -z, z, 1]));
    const { single, together } = both(merged(closedHall(1)), rays);
    expect(Array.from(single.distance).every(Number.isFinite)).toBe(true);
    expect(together).toEqual(single);
  });

  it('fewer than a bundle, and none beyond the farthest distance', () => {
    for (const count of [1, 2, 3, 7, 17]) {
      const rays = bundles(2, 0.01).slice(0, count);
      const { single, together } = both(merged(closedHall(1)), rays);
      expect(together).toEqual(single);
      const nearest = Math.min(...single.distance);
      expect(Array.from(both(merged(closedHall(1)), rays, nearest * 0.9).together.distance)).toEqual(Array<number>(count).fill(Infinity));
    }
  });

  it('of surfaces at one distance the same counts, in whatever order they are met', () => {
    // Two layers in one place, and each square's diagonal between its two triangles.
    const maker = new MeshMaker();
    for (let k = 0; k < 80; k++) maker.quad([(k % 40) * 0.25 - 5, -3, 2], [0.25, 0, 0], [0, 6, 0]);
    const mesh = maker.mesh();
    const rays = Array.from({ length: 320 }, (_, k) => {
      const w = new Vector3((k % 40) * 0.1 - 2, Math.floor(k / 40) * 0.2 - 0.8, 2).normalize();
      return [0, 0, 0, w.x, w.y, w.z];
    });
    const { single, together } = both(mesh, rays);
    expect(Array.from(single.distance).every(Number.isFinite)).toBe(true);
    expect(together).toEqual(single);
    const back = both(mesh, [...rays].reverse());
    expect(Array.from(back.single.triangle).reverse()).toEqual(Array.from(single.triangle));
  });
});
