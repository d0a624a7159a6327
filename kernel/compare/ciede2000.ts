/**
 * Colour difference CIEDE2000 (ISO/CIE 11664-6) of four pairs at a time, after Sharma, Wu and Dalal: "The CIEDE2000
 * color-difference formula: implementation notes, supplementary test data, and mathematical observations", Color Research
 * & Application 30, 2005. Hues are unit vectors instead of angles: their mean is the direction of their sum, the sine
 * of half their difference is half their distance, and multiples of an angle are polynomials of its cosine and sine, so that no angle
 * is taken but where blue is near.
 */
import { arcTurn, expNeg } from "../math";

const POW_25_7: f32 = 6103515625;
/** Cosines and sines of 30, 6, 63 and 275 degrees. */
const COS_30: f32 = 0.8660254037844387;
const COS_6: f32 = 0.9945218953682733;
const SIN_6: f32 = 0.10452846326765347;
const COS_63: f32 = 0.4539904997395468;
const SIN_63: f32 = 0.8910065241883678;
const COS_275: f32 = 0.08715574274765817;
const SIN_275: f32 = -0.9961946980917455;
/** Twice 30 degrees, in radians: the largest angle of the rotation term. */
const MOST_TURN: f32 = 1.0471975511965976;

// @ts-ignore: decorator
@inline
function all(v: f32): v128 {
  return f32x4.splat(v);
}

// @ts-ignore: decorator
@inline
function times(a: v128, b: v128): v128 {
  return f32x4.mul(a, b);
}

// @ts-ignore: decorator
@inline
function plus(a: v128, b: v128): v128 {
  return f32x4.add(a, b);
}

// @ts-ignore: decorator
@inline
function minus(a: v128, b: v128): v128 {
  return f32x4.sub(a, b);
}

/** Length of (x, y). */
// @ts-ignore: decorator
@inline
function length(x: v128, y: v128): v128 {
  return f32x4.sqrt(plus(times(x, x), times(y, y)));
}

/** The square root of c^7 / (c^7 + 25^7). */
// @ts-ignore: decorator
@inline
function chromaShare(c: v128): v128 {
  const c3 = times(times(c, c), c);
  const c7 = times(times(c3, c3), c);
  return f32x4.sqrt(f32x4.div(c7, plus(c7, all(POW_25_7))));
}

/** Sine of an angle of at most MOST_TURN; the next term is below 1e-7. */
function sinOf(x: f32): f32 {
  const s: f32 = x * x;
  return x * (1 + s * (<f32>-0.16666667 + s * (<f32>0.008333333 + s * (<f32>-0.00019841270 + s * <f32>2.7557319e-6))));
}

/** The rotation term's sine about a mean hue of 275 degrees, `cosine` and `sine` being of the hue less that. */
function blueTurn(cosine: f32, sine: f32): f32 {
  const off: f32 = arcTurn(sine, cosine) * <f32>(360.0 / 25.0);
  return sinOf(MOST_TURN * expNeg(off * off));
}

/** About 1 is just noticeable; parametric factors are 1. L* 0..100, a* and b* as CIE 15 has them. */
// @ts-ignore: decorator
@inline
export function ciede2000(L1: v128, a1: v128, b1: v128, L2: v128, a2: v128, b2: v128): v128 {
  const half = all(0.5), one = all(1), two = all(2), zero = all(0);
  const plain = times(plus(length(a1, b1), length(a2, b2)), half);
  const stretch = minus(all(1.5), times(half, chromaShare(plain)));
  const x1 = times(stretch, a1), x2 = times(stretch, a2);
  const C1 = length(x1, b1), C2 = length(x2, b2);
  const meanL = minus(times(plus(L1, L2), half), all(50)), meanC = times(plus(C1, C2), half);
  const squareL = times(meanL, meanL);
  const l = f32x4.div(minus(L2, L1), plus(one, f32x4.div(times(all(0.015), squareL), f32x4.sqrt(plus(all(20), squareL)))));
  const chroma = f32x4.div(minus(C2, C1), plus(one, times(all(0.045), meanC)));
  const base = plus(times(l, l), times(chroma, chroma));
  // A grey has no hue.
  const coloured = v128.and(f32x4.gt(C1, zero), f32x4.gt(C2, zero));
  if (!v128.any_true(coloured)) return f32x4.sqrt(base);
  const u1 = f32x4.div(x1, C1), v1 = f32x4.div(b1, C1), u2 = f32x4.div(x2, C2), v2 = f32x4.div(b2, C2);
  const cross = minus(times(u1, v2), times(v1, u2));
  const du = minus(u2, u1), dv = minus(v2, v1);
  const apart = times(half, length(du, dv));
  // Opposite hues have two means: the publication takes that of their angles from 0 to 360.
  const upper = v128.or(f32x4.gt(v1, zero), v128.and(f32x4.eq(v1, zero), f32x4.gt(u1, zero)));
  const ahead = v128.or(f32x4.gt(cross, zero), v128.and(f32x4.eq(cross, zero), upper));
  // The mean of hues far apart is at right angles to their difference: little is left of their sum.
  const far = f32x4.gt(apart, half);
  let c = v128.bitselect(v128.bitselect(dv, f32x4.neg(dv), ahead), plus(u1, u2), far);
  let s = v128.bitselect(v128.bitselect(f32x4.neg(du), du, ahead), plus(v1, v2), far);
  const norm = length(c, s);
  c = f32x4.div(c, norm);
  s = f32x4.div(s, norm);
  const cc = times(c, c), ss = times(s, s);
  const c2 = minus(times(two, cc), one), s2 = times(times(two, s), c);
  const c3 = times(c, minus(times(all(4), cc), all(3))), s3 = times(s, minus(all(3), times(all(4), ss)));
  const c4 = minus(times(two, times(c2, c2)), one), s4 = times(times(two, s2), c2);
  let T = minus(one, times(all(0.17), plus(times(c, all(COS_30)), times(s, half))));
  T = plus(T, times(all(0.24), c2));
  T = plus(T, times(all(0.32), minus(times(c3, all(COS_6)), times(s3, all(SIN_6)))));
  T = minus(T, times(all(0.2), plus(times(c4, all(COS_63)), times(s4, all(SIN_63)))));
  const away = v128.bitselect(apart, f32x4.neg(apart), ahead);
  const hue = f32x4.div(times(times(two, f32x4.sqrt(times(C1, C2))), away), plus(one, times(times(all(0.015), meanC), T)));
  const cosine = plus(times(c, all(COS_275)), times(s, all(SIN_275)));
  let turn = zero;
  // 120 degrees from blue the term's weight is e^-23.
  const near = i32x4.bitmask(v128.and(f32x4.gt(cosine, all(-0.5)), coloured));
  if (near != 0) {
    const sine = minus(times(s, all(COS_275)), times(c, all(SIN_275)));
    if (near & 1) turn = f32x4.replace_lane(turn, 0, blueTurn(f32x4.extract_lane(cosine, 0), f32x4.extract_lane(sine, 0)));
    if (near & 2) turn = f32x4.replace_lane(turn, 1, blueTurn(f32x4.extract_lane(cosine, 1), f32x4.extract_lane(sine, 1)));
    if (near & 4) turn = f32x4.replace_lane(turn, 2, blueTurn(f32x4.extract_lane(cosine, 2), f32x4.extract_lane(sine, 2)));
    if (near & 8) turn = f32x4.replace_lane(turn, 3, blueTurn(f32x4.extract_lane(cosine, 3), f32x4.extract_lane(sine, 3)));
  }
  const rotation = times(times(two, chromaShare(meanC)), turn);
  const withHue = minus(plus(base, times(hue, hue)), times(times(rotation, chroma), hue));
  return f32x4.sqrt(f32x4.max(zero, v128.bitselect(withHue, base, coloured)));
}

/** Of one pair. */
export function ciede2000OfPair(L1: f32, a1: f32, b1: f32, L2: f32, a2: f32, b2: f32): f32 {
  return f32x4.extract_lane(ciede2000(all(L1), all(a1), all(b1), all(L2), all(a2), all(b2)), 0);
}
