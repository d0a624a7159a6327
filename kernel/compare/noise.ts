/**
 * How much two renders differ by their noise alone, from the difference itself: what is rough in it pixel by pixel is noise,
 * what is smooth is change. After Immerkær, "Fast noise variance estimation", Computer Vision and Image Understanding 64,
 * 1996: the mask is the difference of two Laplacians, so edges along rows and columns and even slopes do not count. It is
 * asked at four scales, since what a filter leaves of noise is soft.
 */
import { NOISE_REACH, NOISE_SCALES } from "../layout";
import { extend, inPlane, pitchOf, planeBytes, shrinkByTwo } from "./plane";

/** Pixels to each side over which noise is averaged, of each scale. */
const RADIUS: i32 = 4;
/** Of the mean magnitude under the mask to a standard deviation of normal noise: the square root of pi / 2, by 6. */
const TO_DEVIATION: f32 = 0.20888568955258338;

/** Of the variance at a scale (1, 2, 4, 8 pixels), the share that is left in a mean over 3 × 3. */
function shareOf(level: i32): f32 {
  return level == 0 ? <f32>(1.0 / 9.0) : level == 1 ? <f32>0.5 : 1;
}

/** Bytes that `noiseVariance` works in, beside the planes of its scales. */
export function noiseScratchBytes(width: i32, rows: i32): usize {
  const w = (width + 1) >> 1, h = (rows + 1) >> 1;
  // Two for deviations and sums of rows, two that the smaller scales take turns in.
  return 2 * planeBytes(width, rows) + 2 * planeBytes(w, h);
}

/** Bytes of the variances of all scales, the finest first. */
export function variancesBytes(width: i32, rows: i32): usize {
  let all: usize = 0, w = width, h = rows;
  for (let level: i32 = 0; level < NOISE_SCALES; level++) {
    all += planeBytes(w, h);
    w = (w + 1) >> 1;
    h = (h + 1) >> 1;
  }
  return all;
}

/** Magnitude under the mask, as a standard deviation. */
function deviation(p: usize, width: i32, rows: i32, out: usize): void {
  const pitch = pitchOf(width), factor = f32x4.splat(TO_DEVIATION), two = f32x4.splat(2), four = f32x4.splat(4);
  for (let y: i32 = 0; y < rows; y++) {
    const row = p + <usize>y * pitch, to = out + <usize>y * pitch;
    for (let x: i32 = 0; x < width; x += 4) {
      const m = row + (<usize>x << 2), u = m - pitch, d = m + pitch;
      const outer = f32x4.add(f32x4.add(v128.load(u - 4), v128.load(u, 4)), f32x4.add(v128.load(d - 4), v128.load(d, 4)));
      const next = f32x4.add(f32x4.add(v128.load(u), v128.load(d)), f32x4.add(v128.load(m - 4), v128.load(m, 4)));
      const value = f32x4.add(f32x4.sub(outer, f32x4.mul(two, next)), f32x4.mul(four, v128.load(m)));
      v128.store(to + (<usize>x << 2), f32x4.mul(f32x4.abs(value), factor));
    }
  }
}

/** Adds `share` of the squared mean over 2 RADIUS + 1 either way to the variance, or sets it where `first`. */
function addVariance(p: usize, width: i32, rows: i32, sums: usize, share: f32, variance: usize, first: bool): void {
  const pitch = pitchOf(width), span = 2 * RADIUS + 1;
  const reach = <usize>RADIUS << 2;
  // Sums of a column's pixels, each from the one above: a row comes in below and one goes out above.
  for (let x: i32 = -RADIUS; x < width + RADIUS; x += 4) {
    const o = <usize>(x << 2);
    let sum = f32x4.splat(0);
    for (let k: i32 = -RADIUS; k <= RADIUS; k++) sum = f32x4.add(sum, v128.load(p + o + <usize>k * pitch));
    v128.store(sums + o, sum);
  }
  for (let y: i32 = 1; y < rows; y++) {
    const row = p + <usize>y * pitch, to = sums + <usize>y * pitch;
    const below = row + <usize>RADIUS * pitch, past = row - <usize>(RADIUS + 1) * pitch, above = to - pitch;
    for (let x: i32 = -RADIUS; x < width + RADIUS; x += 4) {
      const o = <usize>(x << 2);
      v128.store(to + o, f32x4.sub(f32x4.add(v128.load(above + o), v128.load(below + o)), v128.load(past + o)));
    }
  }
  const mean = f32x4.splat(<f32>1 / <f32>(span * span)), factor = f32x4.splat(share);
  for (let y: i32 = 0; y < rows; y++) {
    const row = sums + <usize>y * pitch - reach, to = variance + <usize>y * pitch;
    for (let x: i32 = 0; x < width; x += 4) {
      const at = row + (<usize>x << 2), o = to + (<usize>x << 2);
      let sum = f32x4.splat(0);
      for (let k: usize = 0; k < <usize>span << 2; k += 4) sum = f32x4.add(sum, v128.load(at + k));
      const m = f32x4.mul(sum, mean);
      const v = f32x4.mul(f32x4.mul(m, m), factor);
      v128.store(o, first ? v : f32x4.add(v128.load(o), v));
    }
  }
}

/** Adds a plane of half the size, each of its values at the pixels that it is of. */
function addCoarser(fine: usize, width: i32, rows: i32, coarse: usize): void {
  const pitch = pitchOf(width), coarsePitch = pitchOf((width + 1) >> 1);
  for (let y: i32 = 0; y < rows; y++) {
    const to = fine + <usize>y * pitch, from = coarse + <usize>(y >> 1) * coarsePitch;
    for (let x: i32 = 0; x < width; x += 4) {
      const c = v128.load64_zero(from + (<usize>(x >> 1) << 2));
      const o = to + (<usize>x << 2);
      v128.store(o, f32x4.add(v128.load(o), v128.shuffle<f32>(c, c, 0, 0, 1, 1)));
    }
  }
}

/**
 * Variance by which a mean over 3 × 3 pixels of the difference is off, summed over its three planes, which lie `plane` bytes
 * apart and are extended. Rows nearer than NOISE_REACH to an end that is no edge of the picture are not right.
 * `variances` begins with the finest scale, which holds the answer.
 */
export function noiseVariance(planes: usize, plane: usize, width: i32, rows: i32, scratch: usize, variances: usize): void {
  const full = planeBytes(width, rows), half = planeBytes((width + 1) >> 1, (rows + 1) >> 1);
  for (let k: i32 = 0; k < 3; k++) {
    let p = planes + <usize>k * plane, w = width, h = rows, to = variances;
    for (let level: i32 = 0; level < NOISE_SCALES; level++) {
      const deviations = inPlane(scratch, w), sums = inPlane(scratch + full, w);
      deviation(p, w, h, deviations);
      extend(deviations, w, h);
      addVariance(deviations, w, h, sums, shareOf(level), inPlane(to, w), k == 0);
      if (level == NOISE_SCALES - 1) break;
      to += planeBytes(w, h);
      const nextW = (w + 1) >> 1, nextH = (h + 1) >> 1;
      const next = inPlane(scratch + 2 * full + <usize>(level & 1) * half, nextW);
      shrinkByTwo(p, w, h, next);
      extend(next, nextW, nextH);
      p = next;
      w = nextW;
      h = nextH;
    }
  }
  for (let level: i32 = NOISE_SCALES - 2; level >= 0; level--) {
    let at = variances, w = width, h = rows;
    for (let k: i32 = 0; k < level; k++) {
      at += planeBytes(w, h);
      w = (w + 1) >> 1;
      h = (h + 1) >> 1;
    }
    addCoarser(inPlane(at, w), w, h, inPlane(at + planeBytes(w, h), (w + 1) >> 1));
  }
}
