/** Points of B-spline curves, as STEP, IFC and IGES state them. */
import type { Vec3 } from '../../core/math/bounds.js';

/** A B-spline curve, rational where it has weights. */
export interface Spline {
  degree: number;
  points: Vec3[];
  /** As many as points; absent where all are one. */
  weights?: number[];
  /** points + degree + 1 of them, never falling. */
  knots: number[];
}

/** The point at a parameter, by de Boor's algorithm in homogeneous coordinates (Piegl and Tiller, The NURBS Book, 1997, A4.1). */
export function pointOn({ degree, points, weights, knots }: Spline, u: number): Vec3 {
  let span = degree;
  while (span < points.length - 1 && u >= knots[span + 1]!) span++;
  const d = Array.from({ length: degree + 1 }, (_, i) => {
    const k = span - degree + i;
    const w = weights?.[k] ?? 1;
    return [...points[k]!.map((c) => c * w), w];
  });
  for (let r = 1; r <= degree; r++) {
    for (let j = degree; j >= r; j--) {
      const [from, to] = [knots[span - degree + j]!, knots[span + 1 + j - r]!];
      const a = to > from ? (u - from) / (to - from) : 0;
      for (let c = 0; c < 4; c++) d[j]![c] = (1 - a) * d[j - 1]![c]! + a * d[j]![c]!;
    }
  }
  const [x, y, z, w] = d[degree]!;
  return [x! / w!, y! / w!, z! / w!];
}

/** Points from one parameter to another, `pieces` to each span of knots; none where the numbers do not fit together. */
export function pointsOn(spline: Spline, from?: number, to?: number, pieces = 8): Vec3[] {
  const { degree, points, knots, weights } = spline;
  const fits =
    Number.isInteger(degree) && degree >= 1 && points.length > degree && knots.length === points.length + degree + 1 && knots.every(Number.isFinite);
  if (!fits || (weights && (weights.length !== points.length || weights.some((w) => !(w > 0))))) return [];
  if (knots.some((k, i) => i > 0 && k < knots[i - 1]!)) return [];
  const [first, last] = [from ?? knots[degree]!, to ?? knots[points.length]!];
  const stops = [first, ...knots.filter((k, i) => k > first && k < last && k !== knots[i - 1]), last];
  const n = degree === 1 ? 1 : pieces;
  const out: Vec3[] = [pointOn(spline, first)];
  for (let i = 1; i < stops.length; i++)
    for (let k = 1; k <= n; k++) out.push(pointOn(spline, stops[i - 1]! + ((stops[i]! - stops[i - 1]!) * k) / n));
  return out;
}
