/** Solids that the demo models are made of. Metres, +Y up, normals for smooth or flat shading. */
import type { Mesh } from '../src/core/model/model.js';

/** x, y, z; metres, y up. */
export type Point = [number, number, number];

/** Triangles that are put together piece by piece. */
export class Solid {
  private readonly p: number[] = [];
  private readonly n: number[] = [];
  private readonly t: number[] = [];
  private readonly i: number[] = [];

  /** @param shift added to texture coordinates, so that boards of one pattern differ. */
  constructor(private readonly shift: [number, number] = [0, 0]) {}

  private vertex(p: Point, n: Point, u = 0, v = 0): number {
    this.p.push(...p);
    this.n.push(...n);
    this.t.push(u + this.shift[0], v + this.shift[1]);
    return this.p.length / 3 - 1;
  }

  /** A flat quad, corners counterclockwise seen from outside; texture coordinates in metres, the first along the longer side as grain runs. */
  quad(a: Point, b: Point, c: Point, d: Point): this {
    const u = sub(b, a);
    const v = sub(d, a);
    const n = unit(cross(u, v));
    const [w, h] = [Math.hypot(...u), Math.hypot(...v)];
    const at = (p: Point, x: number, y: number): number => (w >= h ? this.vertex(p, n, x, y) : this.vertex(p, n, y, x));
    const k = [at(a, 0, 0), at(b, w, 0), at(c, w, h), at(d, 0, h)] as const;
    this.i.push(k[0], k[1], k[2], k[0], k[2], k[3]);
    return this;
  }

  /** A flat polygon that is convex, corners counterclockwise seen from outside. */
  polygon(points: Point[]): this {
    const n = unit(cross(sub(points[1]!, points[0]!), sub(points[2]!, points[0]!)));
    const k = points.map((p) => this.vertex(p, n, p[0], p[2]));
    for (let j = 1; j + 1 < k.length; j++) this.i.push(k[0]!, k[j]!, k[j + 1]!);
    return this;
  }

  /** A box from its lowest to its highest corner, with chamfered edges so that they catch light. */
  box(min: Point, max: Point, chamfer = 0): this {
    const c = Math.min(chamfer, ...[0, 1, 2].map((a) => (max[a]! - min[a]!) / 2.2));
    const at = (s: [number, number, number], inset: [number, number, number]): Point =>
      [0, 1, 2].map((a) => (s[a]! > 0 ? max[a]! - inset[a]! * c : min[a]! + inset[a]! * c)) as Point;
    for (let axis = 0; axis < 3; axis++) {
      const b = (axis + 1) % 3;
      const d = (axis + 2) % 3;
      for (const side of [-1, 1]) {
        const corner = (sb: number, sd: number, ib: number, id: number, ia: number): Point => {
          const s: [number, number, number] = [0, 0, 0];
          const inset: [number, number, number] = [0, 0, 0];
          s[axis] = side;
          s[b] = sb;
          s[d] = sd;
          inset[axis] = ia;
          inset[b] = ib;
          inset[d] = id;
          return at(s, inset);
        };
        const ring = [corner(-1, -1, 1, 1, 0), corner(1, -1, 1, 1, 0), corner(1, 1, 1, 1, 0), corner(-1, 1, 1, 1, 0)];
        this.quad(...((side > 0 ? ring : ring.reverse()) as [Point, Point, Point, Point]));
        if (c > 0) {
          // The chamfer between this face and the next axis' face on either side.
          for (const other of [-1, 1]) {
            const p = [corner(other, -1, 1, 1, 0), corner(other, 1, 1, 1, 0), corner(other, 1, 0, 1, 1), corner(other, -1, 0, 1, 1)];
            this.quad(...((side * other > 0 ? p.reverse() : p) as [Point, Point, Point, Point]));
          }
          for (const sb of [-1, 1]) {
            for (const sd of [-1, 1]) {
              if (axis > 0) continue;
              const p = [corner(sb, sd, 1, 1, 0), corner(sb, sd, 0, 1, 1), corner(sb, sd, 1, 0, 1)];
              this.polygon(side * sb * sd > 0 ? p : p.reverse());
            }
          }
        }
      }
    }
    return this;
  }

  /** A profile (radius, height) turned about the vertical through `centre`; breaks in direction sharper than 40° stay sharp. */
  lathe(profile: [number, number][], centre: Point = [0, 0, 0], around = 64): this {
    const segments = profile.slice(1).map((b, k) => {
      const a = profile[k]!;
      const l = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
      return [(b[1] - a[1]) / l, -(b[0] - a[0]) / l] as [number, number];
    });
    const smooth = (a: [number, number] | undefined, b: [number, number]): [number, number] => {
      if (!a || a[0] * b[0] + a[1] * b[1] < Math.cos((40 * Math.PI) / 180)) return b;
      const l = Math.hypot(a[0] + b[0], a[1] + b[1]);
      return [(a[0] + b[0]) / l, (a[1] + b[1]) / l];
    };
    segments.forEach((normal, k) => {
      // Where an arc begins in the point that the line before it ends in, there is nothing to turn.
      if (normal[0] === 0 && normal[1] === 0) return;
      const n0 = smooth(segments[k - 1], normal);
      const n1 = smooth(segments[k + 1], normal);
      const rows = [profile[k]!, profile[k + 1]!].map((q, row) => {
        const m = row ? n1 : n0;
        return Array.from({ length: around + 1 }, (_, j) => {
          const a = (j / around) * 2 * Math.PI;
          const [c, s] = [Math.cos(a), Math.sin(a)];
          return this.vertex([centre[0] + q[0] * c, centre[1] + q[1], centre[2] - q[0] * s], [m[0] * c, m[1], -m[0] * s], j / around, q[1]);
        });
      });
      for (let j = 0; j < around; j++) {
        const [a, b, c, d] = [rows[0]![j]!, rows[0]![j + 1]!, rows[1]![j + 1]!, rows[1]![j]!];
        if (profile[k]![0] > 1e-9) this.i.push(a, b, c);
        if (profile[k + 1]![0] > 1e-9) this.i.push(a, c, d);
      }
    });
    return this;
  }

  /** A round tube along a line of points, closed by flat ends. */
  tube(path: Point[], radius: number, around = 20): this {
    const along = path.map((_, k) => unit(sub(path[Math.min(k + 1, path.length - 1)]!, path[Math.max(k - 1, 0)]!)));
    let side = unit(cross(along[0]!, Math.abs(along[0]![1]) > 0.9 ? [1, 0, 0] : [0, 1, 0]));
    const rings = path.map((p, k) => {
      // Carried along without twist: what the line turned is taken out of the last side.
      const d = along[k]!;
      side = unit(sub(side, scale(d, dot(side, d))));
      const up = cross(d, side);
      return Array.from({ length: around + 1 }, (_, j) => {
        const a = (j / around) * 2 * Math.PI;
        const n = add(scale(side, Math.cos(a)), scale(up, Math.sin(a)));
        return this.vertex(add(p, scale(n, radius)), n, j / around, k);
      });
    });
    for (let k = 0; k + 1 < rings.length; k++) {
      for (let j = 0; j < around; j++) {
        const [a, b, c, d] = [rings[k]![j]!, rings[k]![j + 1]!, rings[k + 1]![j + 1]!, rings[k + 1]![j]!];
        this.i.push(a, b, c, a, c, d);
      }
    }
    for (const end of [0, path.length - 1]) {
      const ring = rings[end]!.slice(0, around).map((v) => this.p.slice(v * 3, v * 3 + 3) as Point);
      this.polygon(end === 0 ? ring.reverse() : ring);
    }
    return this;
  }

  /** A smooth sheet over 0..1 × 0..1, seen from where u runs to the right and v up; `wide`: metres that u and v go through of the texture. */
  surface(point: (u: number, v: number) => Point, nu: number, nv: number, wide: [number, number] = [1, 1]): this {
    const e = 1e-3;
    const normal = (u: number, v: number): Point => {
      const du = sub(point(u + e, v), point(u - e, v));
      const n = cross(du, sub(point(u, Math.min(v + e, 1)), point(u, Math.max(v - e, 0))));
      // At a pole u leads nowhere.
      return Math.hypot(...n) < 1e-12 ? normal(u, v < 0.5 ? v + 0.01 : v - 0.01) : unit(n);
    };
    const rows = Array.from({ length: nv + 1 }, (_, j) =>
      Array.from({ length: nu + 1 }, (_, k) => {
        const [u, v] = [k / nu, j / nv];
        return this.vertex(point(u, v), normal(u, v), u * wide[0], v * wide[1]);
      }),
    );
    for (let j = 0; j < nv; j++)
      for (let k = 0; k < nu; k++) {
        const [a, b, c, d] = [rows[j]![k]!, rows[j]![k + 1]!, rows[j + 1]![k + 1]!, rows[j + 1]![k]!];
        for (const t of [
          [a, b, c],
          [a, c, d],
        ])
          if (!this.isFlat(t)) this.i.push(...t);
      }
    return this;
  }

  /** Whether corners of a triangle fall together, as they do at a pole. */
  private isFlat(corners: number[]): boolean {
    const at = corners.map((v) => this.p.slice(v * 3, v * 3 + 3) as Point);
    return at.some((p, k) => Math.hypot(...sub(p, at[(k + 1) % 3]!)) < 1e-7);
  }

  mesh(): Mesh {
    return {
      positions: Float32Array.from(this.p),
      indices: Uint32Array.from(this.i),
      normals: Float32Array.from(this.n),
      uvs: Float32Array.from(this.t),
    };
  }
}

/** a + b. */
export const add = (a: Point, b: Point): Point => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
/** a − b. */
export const sub = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
/** a · k. */
export const scale = (a: Point, k: number): Point => [a[0] * k, a[1] * k, a[2] * k];
/** a · b. */
export const dot = (a: Point, b: Point): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
/** a × b. */
export const cross = (a: Point, b: Point): Point => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
/** a at unit length; the zero vector stays. */
export function unit(a: Point): Point {
  const l = Math.hypot(...a) || 1;
  return scale(a, 1 / l);
}

/** A smooth line through points: centripetal Catmull–Rom (Barry and Goldman, 1988). */
export function curve(points: Point[], steps: number): Point[] {
  const out: Point[] = [];
  for (let k = 0; k + 1 < points.length; k++) {
    const p = [k - 1, k, k + 1, k + 2].map((j) => points[Math.min(Math.max(j, 0), points.length - 1)]!);
    const t = [0, 0, 0, 0];
    for (let j = 1; j < 4; j++) t[j] = t[j - 1]! + Math.max(Math.sqrt(Math.hypot(...sub(p[j]!, p[j - 1]!))), 1e-6);
    for (let s = 0; s < steps; s++) {
      const x = t[1]! + ((t[2]! - t[1]!) * s) / steps;
      const mix = (a: Point, b: Point, ta: number, tb: number): Point => add(scale(a, (tb - x) / (tb - ta)), scale(b, (x - ta) / (tb - ta)));
      const [a1, a2, a3] = [0, 1, 2].map((j) => mix(p[j]!, p[j + 1]!, t[j]!, t[j + 1]!)) as [Point, Point, Point];
      out.push(mix(mix(a1, a2, t[0]!, t[2]!), mix(a2, a3, t[1]!, t[3]!), t[1]!, t[2]!));
    }
  }
  out.push(points.at(-1)!);
  return out;
}
