/** Curves of STEP (ISO 10303-42) and IFC as chains of points. Both name the same things, with and without "IFC" before and a label within. */
import { mat4, vec3 } from 'gl-matrix';
import type { Vec3 } from '../../core/math/bounds.js';
import { identity } from '../../core/math/matrix.js';
import { pointsOn } from './nurbs.js';
import { type Entity, isList, isRef, numberOf, type Part21, refsIn, type Value } from './part21.js';

/** Pieces of a full circle. */
const ROUND = 96;

/** Pieces that an arc of so many radians is drawn in. */
export const spanCount = (turn: number): number => Math.max(2, Math.min(4 * ROUND, Math.ceil((Math.abs(turn) / (2 * Math.PI)) * ROUND - 1e-6)));

const DEEPEST = 32;

/** Chains of points, in the file's unit. */
type Chains = Vec3[][];

/** Both ends of every piece of the chains, six numbers each. */
export function polylinePoints(chains: Chains): number[] {
  return chains.flatMap((chain) => chain.slice(1).flatMap((p, i) => [...chain[i]!, ...p]));
}

/** Curves of a STEP file as points. */
export class Curves {
  constructor(
    private readonly file: Part21,
    /** Radians in the file's unit of angles. */
    private readonly angle: number,
  ) {}

  /** An entity by its plain name, without STEP's label. */
  private plain(id: number): Entity | null {
    const all = this.file.all(id);
    const first = all[0];
    if (!first) return null;
    if (first.type.startsWith('IFC')) return { type: first.type.slice(3), args: first.args };
    return { type: first.type.replaceAll('_', ''), args: all.length === 1 ? first.args.slice(1) : first.args };
  }

  /** The entity that a value refers to. */
  private at(v: Value | undefined): Entity | null {
    return isRef(v) ? this.plain(v.ref) : null;
  }

  point(v: Value | undefined): Vec3 | null {
    const e = this.at(v);
    if (e?.type === 'VERTEXPOINT') return this.point(e.args[0]);
    if (e?.type !== 'CARTESIANPOINT' && e?.type !== 'DIRECTION') return null;
    return isList(e.args[0]) ? numbers(e.args[0]) : null;
  }

  /** A frame: where it stands and how it is turned; the identity where nothing is said. AXIS2PLACEMENT of both kinds. */
  placement(v: Value | undefined): mat4 {
    const e = this.at(v);
    const m = identity();
    if (!e || !/^AXIS2PLACEMENT/.test(e.type)) return m;
    const origin = this.point(e.args[0]) ?? [0, 0, 0];
    const flat = e.type === 'AXIS2PLACEMENT2D';
    const z: Vec3 = flat ? [0, 0, 1] : (this.point(e.args[1]) ?? [0, 0, 1]);
    const x: Vec3 = this.point(e.args[flat ? 1 : 2]) ?? (Math.abs(z[0]) < 0.9 * Math.hypot(...z) ? [1, 0, 0] : [0, 1, 0]);
    return frame(origin, x, z);
  }

  /** A move with a size, CARTESIANTRANSFORMATIONOPERATOR: axes 1 and 2, origin, scale, axis 3. */
  operator(v: Value | undefined): mat4 {
    const e = this.at(v);
    if (!e || !/^CARTESIANTRANSFORMATIONOPERATOR/.test(e.type)) return identity();
    const x = this.point(e.args[0]) ?? [1, 0, 0];
    const y = this.point(e.args[1]) ?? [0, 1, 0];
    const z = this.point(e.args[4]) ?? (vec3.cross([0, 0, 0], x, y) as Vec3);
    const m = frame(this.point(e.args[2]) ?? [0, 0, 0], x, z);
    const scale = numberOf(e.args[3], 1);
    return mat4.scale(m, m, [scale, scale, scale]);
  }

  /** Chains of a curve, or of a set of them; none of what is no curve or cannot be read. */
  chains(id: number, depth = 0): Chains {
    if (depth > DEEPEST) return [];
    const e = this.plain(id);
    if (!e) return [];
    const below = (v: Value | undefined): Chains => refsIn(v).flatMap((r) => this.chains(r, depth + 1));
    const { args } = e;
    switch (e.type) {
      case 'GEOMETRICCURVESET':
      case 'GEOMETRICSET':
      case 'COMPOSITECURVE':
      case 'CONNECTEDEDGESET':
        return below(args[0]);
      case 'COMPOSITECURVESEGMENT':
        return isRef(args[2]) ? this.chains(args[2].ref, depth + 1) : [];
      case 'POLYLINE': {
        const points = refsIn(args[0]).map((ref) => this.point({ ref }));
        return points.every((p) => p !== null) ? [points] : [];
      }
      case 'INDEXEDPOLYCURVE':
        return this.indexed(args);
      case 'CIRCLE':
      case 'ELLIPSE':
        return [this.arc(e, 0, 2 * Math.PI)];
      case 'TRIMMEDCURVE':
        return this.trimmed(args);
      case 'EDGECURVE': {
        const basis = this.at(args[2]);
        const [a, b] = [this.point(args[0]), this.point(args[1])];
        return basis && a && b ? this.between(basis, a, b, args[3] !== 'F') : [];
      }
      default:
        return this.spline(id);
    }
  }

  /** IfcIndexedPolyCurve: coordinates in one list, and pieces of line or arc that refer to it from 1 on. */
  private indexed(args: Value[]): Chains {
    const list = this.at(args[0])?.args[0];
    if (!isList(list)) return [];
    const points = list.map((row) => (isList(row) ? numbers(row) : null));
    if (points.some((p) => p === null)) return [];
    const segments = isList(args[1]) ? args[1] : null;
    if (!segments) return [points as Vec3[]];
    return segments.map((segment) => {
      if (!segment || typeof segment !== 'object' || !('type' in segment) || !isList(segment.args[0])) return [];
      const at = segment.args[0].map((i) => points[numberOf(i) - 1]);
      if (at.some((p) => !p)) return [];
      const chain = at as Vec3[];
      return segment.type === 'IFCARCINDEX' && chain.length === 3 ? arcThrough(chain[0]!, chain[1]!, chain[2]!) : chain;
    });
  }

  /** Points of a circle or an ellipse between two angles, in radians. */
  private arc({ type, args }: Entity, from: number, to: number): Vec3[] {
    const place = this.placement(args[0]);
    const a = numberOf(args[1]);
    const b = type === 'ELLIPSE' ? numberOf(args[2]) : a;
    if (!(a > 0 && b > 0 && Number.isFinite(from) && Number.isFinite(to))) return [];
    const pieces = spanCount(to - from);
    return Array.from({ length: pieces + 1 }, (_, i) => {
      const t = from + ((to - from) * i) / pieces;
      return vec3.transformMat4([0, 0, 0], [a * Math.cos(t), b * Math.sin(t), 0], place) as Vec3;
    });
  }

  /** The angle of a circle or an ellipse at which a point lies. */
  private angleAt({ type, args }: Entity, p: Vec3): number {
    const [x, y] = vec3.transformMat4([0, 0, 0], p, mat4.invert(identity(), this.placement(args[0]))!) as Vec3;
    const a = numberOf(args[1]);
    return Math.atan2(y / (type === 'ELLIPSE' ? numberOf(args[2]) : a), x / a);
  }

  private between(basis: Entity, a: Vec3, b: Vec3, along: boolean): Chains {
    if (basis.type === 'LINE') return [[a, b]];
    if (basis.type !== 'CIRCLE' && basis.type !== 'ELLIPSE') return [];
    const [from, to] = along ? [a, b].map((p) => this.angleAt(basis, p)) : [b, a].map((p) => this.angleAt(basis, p));
    return [this.arc(basis, from!, to! > from! + 1e-9 ? to! : to! + 2 * Math.PI)];
  }

  /** Trimmed by parameters, or by points: either is taken, whichever is there. */
  private trimmed(args: Value[]): Chains {
    const basis = this.at(args[0]);
    if (!basis) return [];
    const trims = [args[1], args[2]].map((v) => (isList(v) ? v : []));
    const along = args[3] !== 'F';
    const ends = trims.map((list) => list.map((v) => this.point(v)).find((p) => p !== null) ?? null);
    const at = trims.map((list) => list.map((v) => numberOf(v)).find((v) => Number.isFinite(v)));
    if (basis.type === 'LINE') {
      const [a, b] = ends.map((end, i) => end ?? this.onLine(basis, at[i]));
      return a && b ? [[a, b]] : [];
    }
    if (basis.type === 'CIRCLE' || basis.type === 'ELLIPSE') {
      const turns = at.map((t, i) => (t !== undefined ? t * this.angle : ends[i] ? this.angleAt(basis, ends[i]) : undefined));
      const [from, to] = along ? turns : [turns[1], turns[0]];
      if (from === undefined || to === undefined) return [];
      const turn = (((to - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
      return [this.arc(basis, from, from + (turn < 1e-9 ? 2 * Math.PI : turn))];
    }
    const ref = isRef(args[0]) ? args[0].ref : -1;
    const [from, to] = along ? at : [at[1], at[0]];
    return this.spline(ref, from, to);
  }

  /** A point of a line at a parameter, which counts its vector's lengths. */
  private onLine({ args }: Entity, t: number | undefined): Vec3 | null {
    const from = this.point(args[0]);
    const vector = this.at(args[1]);
    const way = vector && this.point(vector.args[0]);
    if (!from || !way || t === undefined) return null;
    return vec3.scaleAndAdd([0, 0, 0], from, vec3.normalize([0, 0, 0], way), t * numberOf(vector.args[1], 1)) as Vec3;
  }

  /** B-splines with knots: of one type, or STEP's of several types in one entity, where weights are one of them. */
  private spline(id: number, from?: number, to?: number): Chains {
    const all = this.file.all(id);
    const single = this.plain(id);
    let [head, knots, weights]: (Value[] | undefined)[] = [];
    if (single && /^(RATIONAL)?BSPLINECURVEWITHKNOTS$/.test(single.type)) {
      head = single.args;
      knots = single.args.slice(5);
      weights = single.args.slice(8);
    } else {
      const own = (type: string): Value[] | undefined => all.find((e) => e.type === type)?.args;
      [head, knots, weights] = [own('B_SPLINE_CURVE'), own('B_SPLINE_CURVE_WITH_KNOTS'), own('RATIONAL_B_SPLINE_CURVE')];
    }
    if (!head || !knots || !isList(knots[0]) || !isList(knots[1])) return [];
    const [times, values] = [knots[0].map((v) => numberOf(v)), knots[1].map((v) => numberOf(v))];
    const points = refsIn(head[1]).map((ref) => this.point({ ref }));
    // Multiplicities beyond the points would only fill memory.
    if (points.some((p) => p === null) || times.some((n) => !(n >= 0 && n <= points.length + 1))) return [];
    const list = weights?.[0];
    return [
      pointsOn(
        {
          degree: numberOf(head[0]),
          points: points as Vec3[],
          knots: values.flatMap((v, i) => new Array<number>(times[i] ?? 0).fill(v)),
          ...(isList(list) && { weights: list.map((v) => numberOf(v)) }),
        },
        from,
        to,
      ),
    ];
  }
}

const numbers = (list: Value[]): Vec3 | null => {
  const [x, y, z] = [0, 1, 2].map((i) => numberOf(list[i], i < 2 ? NaN : 0));
  return Number.isFinite(x!) && Number.isFinite(y!) && Number.isFinite(z!) ? [x!, y!, z!] : null;
};

/** Columns x, y, z, origin; x is taken off z as ISO 10303-42 builds its axes. */
function frame(origin: Vec3, x: Vec3, z: Vec3): mat4 {
  const up = vec3.normalize([0, 0, 0], z) as Vec3;
  const along = vec3.scaleAndAdd([0, 0, 0], x, up, -vec3.dot(x, up));
  vec3.normalize(along, along);
  const side = vec3.cross([0, 0, 0], up, along);
  const m = identity();
  [along, side, up, origin].forEach((axis, k) => {
    for (let i = 0; i < 3; i++) m[k * 4 + i] = axis[i]!;
  });
  return m;
}

/** The arc from a over b to c; straight where they lie in a line. */
export function arcThrough(a: Vec3, b: Vec3, c: Vec3): Vec3[] {
  const u = vec3.subtract([0, 0, 0], b, a) as Vec3;
  const v = vec3.subtract([0, 0, 0], c, a) as Vec3;
  const n = vec3.cross([0, 0, 0], u, v) as Vec3;
  const [uu, vv, nn] = [vec3.squaredLength(u), vec3.squaredLength(v), vec3.squaredLength(n)];
  if (!(nn > 1e-18 * uu * vv)) return [a, b, c];
  // Middle of the circle through three points: ((|u|² v − |v|² u) × n) / 2|n|², seen from a.
  const across = vec3.cross([0, 0, 0], [0, 1, 2].map((i) => uu * v[i]! - vv * u[i]!) as Vec3, n) as Vec3;
  const middle = vec3.scaleAndAdd([0, 0, 0], a, across, 1 / (2 * nn)) as Vec3;
  const x = vec3.subtract([0, 0, 0], a, middle) as Vec3;
  const y = vec3.cross([0, 0, 0], vec3.normalize([0, 0, 0], n), x) as Vec3;
  const to = vec3.subtract([0, 0, 0], c, middle) as Vec3;
  const turn = Math.atan2(vec3.dot(to, y), vec3.dot(to, x));
  const whole = turn > 0 ? turn : turn + 2 * Math.PI;
  const pieces = spanCount(whole);
  return Array.from({ length: pieces + 1 }, (_, i) => {
    const t = (whole * i) / pieces;
    return [0, 1, 2].map((k) => middle[k]! + Math.cos(t) * x[k]! + Math.sin(t) * y[k]!) as Vec3;
  });
}
