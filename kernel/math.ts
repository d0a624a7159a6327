/** Functions of the kernel's own, so that every host gives the same bits. */

/** Pi in single precision. */
export const PI: f32 = 3.14159265358979;

export let sine: f32 = 0;
export let cosine: f32 = 0;

/**
 * Sine and cosine of 2 pi u for u in [0, 1], left in `sine` and `cosine`: reduction to a quarter
 * turn, then Taylor polynomials on [-pi/4, pi/4] (error below 1e-7).
 */
export function sinCosTurns(u: f32): void {
  const q = floor<f32>(u * 4 + <f32>0.5);
  const x: f32 = (u * 4 - q) * <f32>1.57079632679;
  const x2: f32 = x * x;
  const s: f32 = x * (1 + x2 * (<f32>-0.16666667 + x2 * (<f32>0.008333333 + x2 * (<f32>-0.00019841270 + x2 * <f32>2.7557319e-6))));
  const c: f32 = 1 + x2 * (<f32>-0.5 + x2 * (<f32>0.041666668 + x2 * (<f32>-0.0013888889 + x2 * <f32>2.4801587e-5)));
  const k = <i32>q & 3;
  sine = k == 0 ? s : k == 1 ? c : k == 2 ? -s : -c;
  cosine = k == 0 ? c : k == 1 ? -s : k == 2 ? -c : s;
}

export let tangentX: f32 = 0;
export let tangentY: f32 = 0;
export let tangentZ: f32 = 0;
export let bitangentX: f32 = 0;
export let bitangentY: f32 = 0;
export let bitangentZ: f32 = 0;

/** An orthonormal basis around a unit normal. Duff et al., "Building an orthonormal basis, revisited", 2017. */
export function basis(x: f32, y: f32, z: f32): void {
  const s: f32 = z >= 0 ? 1 : -1;
  const a: f32 = <f32>-1 / (s + z);
  const b: f32 = x * y * a;
  tangentX = 1 + s * x * x * a;
  tangentY = s * b;
  tangentZ = -s * x;
  bitangentX = b;
  bitangentY = s + y * y * a;
  bitangentZ = -y;
}

// @ts-ignore: decorator
/** Relative luminance of linear Rec. 709. */
@inline
export function luminance(r: f32, g: f32, b: f32): f32 {
  return <f32>0.2126 * r + <f32>0.7152 * g + <f32>0.0722 * b;
}

/**
 * Angle of (y, x) in turns, -1/2 to 1/2: an odd polynomial of the smaller over the larger,
 * fitted by least squares at Chebyshev's points, error below 1e-7 turns.
 */
export function arcTurn(y: f32, x: f32): f32 {
  const ax = abs<f32>(x), ay = abs<f32>(y);
  const large = max(ax, ay);
  if (large == 0) return 0;
  const q: f32 = min(ax, ay) / large;
  const s: f32 = q * q;
  let a: f32 = q * (<f32>0.159154936 + s * (<f32>-0.053050007 + s * (<f32>0.031789099 + s * (<f32>-0.022345559 + s * (<f32>0.015864398 + s * (<f32>-0.009584106 + s * (<f32>0.003940116 + s * <f32>-0.000768891)))))));
  if (ay > ax) a = <f32>0.25 - a;
  if (x < 0) a = <f32>0.5 - a;
  return y < 0 ? -a : a;
}

/** e^-x for x >= 0. */
export function expNeg(x: f32): f32 {
  if (!(x > 0)) return 1;
  const p: f32 = max<f32>(x * <f32>-1.4426950408889634, -126);
  const w = floor<f32>(p);
  const f: f32 = p - w;
  const e: f32 = 1 + f * (<f32>0.693147577 + f * (<f32>0.240206874 + f * (<f32>0.055658664 + f * (<f32>0.009196802 + f * <f32>0.001789665))));
  return e * reinterpret<f32>(<u32>(<i32>w + 127) << 23);
}
