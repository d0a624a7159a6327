/**
 * By how much two pictures of one size differ beyond their noise, in rows: means over 3 × 3 pixels in L*a*b*, told apart by
 * CIEDE2000, less what the noise around them explains.
 */
import { ciede2000 } from "./ciede2000";
import { labPlanes } from "./lab";
import { noiseScratchBytes, noiseVariance, variancesBytes } from "./noise";
import { extend, inPlane, pitchOf, planeBytes, shrink } from "./plane";

/** Standard deviations of the noise that are taken off a difference before it counts. */
const NOISE_FACTOR: f32 = 3;
/** CIEDE2000 is at most about so many times the distance in L*a*b*: chroma is stretched by up to 1.5, and the rotation term adds to it. */
const MOST_PER_LAB: f32 = 2.2;

/** Bytes that `differenceOfRows` works in. */
export function differenceScratchBytes(width: i32, rows: i32): usize {
  return 9 * planeBytes(width, rows) + variancesBytes(width, rows) + noiseScratchBytes(width, rows);
}

/** Sums over 3 × 3 pixels about four of them. */
// @ts-ignore: decorator
@inline
function sumOfNine(p: usize, pitch: usize): v128 {
  const u = p - pitch, d = p + pitch;
  const left = f32x4.add(f32x4.add(v128.load(u - 4), v128.load(p - 4)), v128.load(d - 4));
  const middle = f32x4.add(f32x4.add(v128.load(u), v128.load(p)), v128.load(d));
  return f32x4.add(f32x4.add(left, middle), f32x4.add(f32x4.add(v128.load(u, 4), v128.load(p, 4)), v128.load(d, 4)));
}

/**
 * Of `rows` rows of two pictures (RGBA bytes without gaps), tells rows `from` to before `to`: `values` becomes the difference beyond noise
 * of each pixel, without gaps and with room for three more; 0 where it cannot come to `least`. Rows nearer than NOISE_REACH to an end that is no edge
 * of the picture are not right, and `from` and the first row are multiples of 8. `lightness` of both pictures stays in
 * scratch for `shrinkLightness`.
 */
export function differenceOfRows(first: usize, second: usize, width: i32, rows: i32, from: i32, to: i32, table: usize, ground: u32, least: f32, scratch: usize, values: usize): void {
  const plane = planeBytes(width, rows), pitch = pitchOf(width);
  const a = inPlane(scratch, width), b = a + 3 * plane, d = b + 3 * plane;
  labPlanes(first, width, rows, table, ground, a, plane);
  labPlanes(second, width, rows, table, ground, b, plane);
  for (let k: usize = 0; k < 3; k++) {
    const pa = a + k * plane, pb = b + k * plane, pd = d + k * plane;
    for (let y: i32 = 0; y < rows; y++)
      for (let x: i32 = 0; x < width; x += 4) {
        const o = <usize>y * pitch + (<usize>x << 2);
        v128.store(pd + o, f32x4.sub(v128.load(pa + o), v128.load(pb + o)));
      }
    extend(pb, width, rows);
    extend(pd, width, rows);
  }
  const variances = scratch + 9 * plane, work = variances + variancesBytes(width, rows);
  noiseVariance(d, plane, width, rows, work, variances);
  const variance = inPlane(variances, width);
  const zero = f32x4.splat(0), ninth = f32x4.splat(<f32>(1.0 / 9.0)), factor = f32x4.splat(NOISE_FACTOR), atLeast = f32x4.splat(least), perLab = f32x4.splat(1 / MOST_PER_LAB);
  for (let y = from; y < to; y++) {
    const row = <usize>y * pitch, out = values + (<usize>((y - from) * width) << 2);
    for (let x: i32 = 0; x < width; x += 4) {
      const o = row + (<usize>x << 2);
      const dl = f32x4.mul(sumOfNine(d + o, pitch), ninth), da = f32x4.mul(sumOfNine(d + plane + o, pitch), ninth), db = f32x4.mul(sumOfNine(d + 2 * plane + o, pitch), ninth);
      const squared = f32x4.add(f32x4.add(f32x4.mul(dl, dl), f32x4.mul(da, da)), f32x4.mul(db, db));
      const allowed = f32x4.mul(factor, f32x4.sqrt(v128.load(variance + o)));
      const reach = f32x4.mul(f32x4.add(atLeast, allowed), perLab);
      const may = f32x4.ge(squared, f32x4.mul(reach, reach));
      let beyond = zero;
      if (v128.any_true(may)) {
        const l = f32x4.mul(sumOfNine(b + o, pitch), ninth), m = f32x4.mul(sumOfNine(b + plane + o, pitch), ninth), n = f32x4.mul(sumOfNine(b + 2 * plane + o, pitch), ninth);
        const by = ciede2000(f32x4.add(l, dl), f32x4.add(m, da), f32x4.add(n, db), l, m, n);
        beyond = v128.and(may, f32x4.max(zero, f32x4.sub(by, allowed)));
      }
      v128.store(out + (<usize>x << 2), beyond);
    }
  }
}

/** Lightness of rows `from` to before `to` of both pictures, smaller by `factor`, into two planes. */
export function shrinkLightness(scratch: usize, width: i32, rows: i32, from: i32, to: i32, factor: i32, first: usize, second: usize): void {
  const plane = planeBytes(width, rows), pitch = pitchOf(width);
  const a = inPlane(scratch, width) + <usize>from * pitch, count = (to - from + factor - 1) / factor;
  shrink(a, width, to - from, factor, first, count);
  shrink(a + 3 * plane, width, to - from, factor, second, count);
}
