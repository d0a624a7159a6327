/**
 * An edge-avoiding filter in levels: each averages five by five pixels that stand twice as far apart as
 * at the level before (Dammertz et al., "Edge-avoiding à-trous wavelet transform for fast global
 * illumination filtering", 2010). Neighbours count by normal, albedo, depth along the surface, and by
 * how far their luminance lies apart beside its standard deviation, which is carried through the levels
 * (Schied et al., "Spatiotemporal variance-guided filtering", 2017, without its time). Colour is divided
 * by albedo first and multiplied back after, so textures stay; light that came straight is left as it is.
 *
 * Works on planes of a whole frame, in sets of DENOISE_SET that levels read and write in turn, and one
 * of guides. All share `pitch`, bytes from row to row, and `plane`, bytes from plane to plane; a pointer
 * to a set is to the tile's first pixel in its first plane. Around the frame lie DENOISE_MARGIN pixels
 * of zeroes whose depth is DENOISE_FAR, so nothing there counts. Four pixels at a time.
 */
import {
  PIXEL_COLOUR, PIXEL_SCATTERED_SQ, PIXEL_ALBEDO, PIXEL_NORMAL, PIXEL_GUIDE_DEPTH, PIXEL_GUIDE_COUNT, PIXEL_COUNT, PIXEL_UNSCATTERED,
  DENOISE_R, DENOISE_G, DENOISE_B, DENOISE_VARIANCE, DENOISE_LUMINANCE, DENOISE_NORMAL, DENOISE_ALBEDO, DENOISE_DEPTH, DENOISE_UNSCATTERED, DENOISE_NOISE,
} from "../layout";
import { luminance } from "../math";

/** Added to albedo before dividing, so that black stays finite. */
export const ALBEDO_FLOOR: f32 = 0.02;
/** Standard deviations of luminance at which a neighbour counts 1/e. */
const COLOUR_SIGMA: f32 = 3;
/** What is left of the variance of luminance that is smoothed before the first level compares by it; its noise shares neighbours. */
const SMOOTHED: f32 = 0.4;
const NORMAL_SIGMA: f32 = 0.06;
const ALBEDO_SIGMA: f32 = 0.03;
/** Share of the depth that a neighbour may stand off the surface's slope. */
const DEPTH_SIGMA: f32 = 0.006;
/** Share of the slope over a level's step that it may stand off besides: surfaces bend. */
const DEPTH_SLOPE: f32 = 0.3;
/** e^-x is taken as (1 - x / 8)^8, which ends; the eighth is in the guides' scale already. */
const EIGHTH: f32 = 0.125;
const NORMAL_SCALE: f32 = sqrt<f32>(EIGHTH / NORMAL_SIGMA);
export const ALBEDO_SCALE: f32 = sqrt<f32>(EIGHTH / ALBEDO_SIGMA);

// @ts-ignore: decorator
@inline
function loadPixel(p: usize, i: usize): f32 {
  return load<f32>(p + (i << 2));
}

// @ts-ignore: decorator
@inline
export function at(p: usize, k: i32, plane: usize): usize {
  return p + <usize>k * plane;
}

// @ts-ignore: decorator
@inline
export function squared(v: v128): v128 {
  return f32x4.mul(v, v);
}

/** Turns a tile's sums, `stride` floats a pixel without gaps, into the first set, its luminance unsmoothed in a plane of its own, and the guides. */
export function denoisePrepare(input: usize, width: i32, height: i32, stride: u32, out: usize, light: usize, guides: usize, pitch: usize, plane: usize): void {
  for (let y: i32 = 0; y < height; y++) {
    for (let x: i32 = 0; x < width; x++) {
      const s = input + (<usize>((y * width + x) * stride) << 2);
      const o = out + <usize>y * pitch + (<usize>x << 2), g = guides + <usize>y * pitch + (<usize>x << 2);
      const n = loadPixel(s, PIXEL_COUNT);
      const inv: f32 = n > 0 ? 1 / n : 0;
      const zr: f32 = loadPixel(s, PIXEL_UNSCATTERED) * inv, zg: f32 = loadPixel(s, PIXEL_UNSCATTERED + 1) * inv, zb: f32 = loadPixel(s, PIXEL_UNSCATTERED + 2) * inv;
      const cr: f32 = loadPixel(s, PIXEL_COLOUR) * inv - zr, cg: f32 = loadPixel(s, PIXEL_COLOUR + 1) * inv - zg, cb: f32 = loadPixel(s, PIXEL_COLOUR + 2) * inv - zb;
      const known = loadPixel(s, PIXEL_GUIDE_COUNT);
      const ka: f32 = known > 0 ? 1 / known : 0;
      const lost: f32 = known > 0 ? 0 : 1;
      const ar: f32 = loadPixel(s, PIXEL_ALBEDO) * ka + lost, ag: f32 = loadPixel(s, PIXEL_ALBEDO + 1) * ka + lost, ab: f32 = loadPixel(s, PIXEL_ALBEDO + 2) * ka + lost;
      const l = luminance(cr, cg, cb);
      const al: f32 = luminance(ar, ag, ab) + ALBEDO_FLOOR;
      const variance: f32 = max<f32>(0, loadPixel(s, PIXEL_SCATTERED_SQ) * inv - l * l) / max<f32>(n - 1, 1);
      const r: f32 = cr / (ar + ALBEDO_FLOOR), gr: f32 = cg / (ag + ALBEDO_FLOOR), b: f32 = cb / (ab + ALBEDO_FLOOR);
      store<f32>(at(o, DENOISE_R, plane), r);
      store<f32>(at(o, DENOISE_G, plane), gr);
      store<f32>(at(o, DENOISE_B, plane), b);
      store<f32>(at(o, DENOISE_VARIANCE, plane), variance / (al * al));
      store<f32>(light + <usize>y * pitch + (<usize>x << 2), luminance(r, gr, b));
      for (let k: i32 = 0; k < 3; k++) store<f32>(at(g, DENOISE_NORMAL + k, plane), loadPixel(s, <usize>(PIXEL_NORMAL + k)) * inv * NORMAL_SCALE);
      store<f32>(at(g, DENOISE_ALBEDO, plane), ar * ALBEDO_SCALE);
      store<f32>(at(g, DENOISE_ALBEDO + 1, plane), ag * ALBEDO_SCALE);
      store<f32>(at(g, DENOISE_ALBEDO + 2, plane), ab * ALBEDO_SCALE);
      store<f32>(at(g, DENOISE_DEPTH, plane), loadPixel(s, PIXEL_GUIDE_DEPTH) * ka);
      store<f32>(at(g, DENOISE_UNSCATTERED, plane), zr);
      store<f32>(at(g, DENOISE_UNSCATTERED + 1, plane), zg);
      store<f32>(at(g, DENOISE_UNSCATTERED + 2, plane), zb);
    }
  }
}

// @ts-ignore: decorator
@inline
export function luminanceOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, f32x4.splat(0.2126)), f32x4.mul(g, f32x4.splat(0.7152))), f32x4.mul(b, f32x4.splat(0.0722)));
}

/** The smaller of two slopes, by amount: the other may lie across an edge. */
// @ts-ignore: decorator
@inline
function minFinite(a: v128, b: v128): v128 {
  return v128.bitselect(a, b, f32x4.lt(f32x4.abs(a), f32x4.abs(b)));
}

/** The spline 1 4 6 4 1, over its middle. */
// @ts-ignore: decorator
@inline
function spline(i: i32): f32 {
  return i == 0 ? 1 : <f32>0.5;
}

/** Weighted over three by three pixels. */
// @ts-ignore: decorator
@inline
function smooth(p: usize, pitch: usize): v128 {
  const quarter = f32x4.splat(0.25), half = f32x4.splat(0.5);
  let sum = f32x4.splat(0);
  for (let j: i32 = -1; j <= 1; j++) {
    const q = p + <usize>j * pitch;
    const row = f32x4.add(f32x4.mul(v128.load(q), half), f32x4.mul(f32x4.add(v128.load(q - 4), v128.load(q + 4)), quarter));
    sum = f32x4.add(sum, f32x4.mul(row, j == 0 ? half : quarter));
  }
  return sum;
}

/** Smooths luminance and variance over a tile: the first level compares luminance by more than one pixel, since noise hides what single ones say. */
export function denoiseSmooth(from: usize, into: usize, guides: usize, width: i32, height: i32, pitch: usize, plane: usize): void {
  for (let y: i32 = 0; y < height; y++) {
    for (let x: i32 = 0; x < width; x += 4) {
      const offset = <usize>y * pitch + (<usize>x << 2);
      const n = min(width - x, 4), t = into + offset;
      keepUnscattered(at(t, DENOISE_LUMINANCE, plane), smooth(from + offset, pitch), n);
      const v = at(t, DENOISE_VARIANCE, plane);
      keepUnscattered(at(guides + offset, DENOISE_NOISE, plane), f32x4.sub(smooth(v, pitch), v128.load(v)), n);
    }
  }
}

/** One level over a tile: `from` is read, around the tile too, and `into` is written. */
export function denoiseLevel(from: usize, into: usize, guides: usize, width: i32, height: i32, pitch: usize, plane: usize, level: i32): void {
  const step: usize = <usize>4 << level;
  const zero = f32x4.splat(0), one = f32x4.splat(1), tiny = f32x4.splat(1e-7);
  const kc = f32x4.splat(COLOUR_SIGMA * COLOUR_SIGMA / EIGHTH), kz = f32x4.splat(EIGHTH);
  const pixels = f32x4.splat(<f32>(1 << level));
  for (let y: i32 = 0; y < height; y++) {
    for (let x: i32 = 0; x < width; x += 4) {
      const offset = <usize>y * pitch + (<usize>x << 2);
      const o = from + offset, g = guides + offset, t = into + offset;
      const r = v128.load(at(o, DENOISE_R, plane)), gr = v128.load(at(o, DENOISE_G, plane)), b = v128.load(at(o, DENOISE_B, plane));
      const v = v128.load(at(o, DENOISE_VARIANCE, plane)), l = v128.load(at(o, DENOISE_LUMINANCE, plane));
      // Variance of single pixels is too noisy to compare by.
      const vs = smooth(at(o, DENOISE_VARIANCE, plane), pitch);
      const n = min(width - x, 4);
      if (!v128.any_true(f32x4.gt(vs, f32x4.splat(1e-10)))) {
        // Samples that all agree leave nothing to filter: backdrop, mostly.
        storePixel(t, plane, n, r, gr, b, v, l);
        continue;
      }
      const nx = v128.load(at(g, DENOISE_NORMAL, plane)), ny = v128.load(at(g, DENOISE_NORMAL + 1, plane)), nz = v128.load(at(g, DENOISE_NORMAL + 2, plane));
      const ar = v128.load(at(g, DENOISE_ALBEDO, plane)), ag = v128.load(at(g, DENOISE_ALBEDO + 1, plane)), ab = v128.load(at(g, DENOISE_ALBEDO + 2, plane));
      const dp = at(g, DENOISE_DEPTH, plane);
      const z = v128.load(dp);
      const zx = f32x4.mul(pixels, minFinite(f32x4.sub(v128.load(dp + 4), z), f32x4.sub(z, v128.load(dp - 4))));
      const zy = f32x4.mul(pixels, minFinite(f32x4.sub(v128.load(dp + pitch), z), f32x4.sub(z, v128.load(dp - pitch))));
      const room = f32x4.add(f32x4.mul(z, f32x4.splat(DEPTH_SIGMA)), f32x4.mul(f32x4.add(f32x4.abs(zx), f32x4.abs(zy)), f32x4.splat(DEPTH_SLOPE)));
      const kd = f32x4.div(kz, f32x4.add(room, tiny));
      const kl = level == 0 ? f32x4.mul(kc, f32x4.splat(0.5 * SMOOTHED)) : f32x4.mul(kc, f32x4.splat(0.5));
      let sr = r, sg = gr, sb = b, sv = v, sw = one;
      for (let j: i32 = -1; j <= 1; j++) {
        const kj = spline(j);
        const zj = f32x4.add(z, f32x4.mul(zy, f32x4.splat(<f32>j)));
        for (let i: i32 = -1; i <= 1; i++) {
          if (i == 0 && j == 0) continue;
          const away = <usize>j * (pitch << level) + <usize>i * step;
          const q = o + away, h = g + away;
          const off = f32x4.mul(kd, f32x4.abs(f32x4.sub(v128.load(at(h, DENOISE_DEPTH, plane)), f32x4.add(zj, f32x4.mul(zx, f32x4.splat(<f32>i))))));
          // A pixel whose few samples all ended in the dark has no variance of its own; its neighbours' tell.
          const both = f32x4.add(vs, f32x4.pmax(vs, v128.load(at(q, DENOISE_VARIANCE, plane))));
          const el = f32x4.div(squared(f32x4.sub(v128.load(at(q, DENOISE_LUMINANCE, plane)), l)), f32x4.mul(kl, f32x4.add(both, tiny)));
          const en = f32x4.add(f32x4.add(squared(f32x4.sub(v128.load(at(h, DENOISE_NORMAL, plane)), nx)), squared(f32x4.sub(v128.load(at(h, DENOISE_NORMAL + 1, plane)), ny))), squared(f32x4.sub(v128.load(at(h, DENOISE_NORMAL + 2, plane)), nz)));
          const ea = f32x4.add(f32x4.add(squared(f32x4.sub(v128.load(at(h, DENOISE_ALBEDO, plane)), ar)), squared(f32x4.sub(v128.load(at(h, DENOISE_ALBEDO + 1, plane)), ag))), squared(f32x4.sub(v128.load(at(h, DENOISE_ALBEDO + 2, plane)), ab)));
          let w = f32x4.pmax(zero, f32x4.sub(one, f32x4.add(f32x4.add(off, el), f32x4.add(en, ea))));
          w = f32x4.mul(squared(squared(squared(w))), f32x4.splat(kj * spline(i)));
          sw = f32x4.add(sw, w);
          sr = f32x4.add(sr, f32x4.mul(w, v128.load(at(q, DENOISE_R, plane))));
          sg = f32x4.add(sg, f32x4.mul(w, v128.load(at(q, DENOISE_G, plane))));
          sb = f32x4.add(sb, f32x4.mul(w, v128.load(at(q, DENOISE_B, plane))));
          sv = f32x4.add(sv, f32x4.mul(squared(w), v128.load(at(q, DENOISE_VARIANCE, plane))));
        }
      }
      const k = f32x4.div(one, sw);
      const fr = f32x4.mul(sr, k), fg = f32x4.mul(sg, k), fb = f32x4.mul(sb, k);
      storePixel(t, plane, n, fr, fg, fb, f32x4.mul(sv, squared(k)), luminanceOf(fr, fg, fb));
    }
  }
}

/** Keeps n of four results: what follows in the row is another tile's, or nobody's. */
// @ts-ignore: decorator
@inline
function storePixel(t: usize, plane: usize, n: i32, r: v128, g: v128, b: v128, v: v128, l: v128): void {
  keepUnscattered(at(t, DENOISE_R, plane), r, n);
  keepUnscattered(at(t, DENOISE_G, plane), g, n);
  keepUnscattered(at(t, DENOISE_B, plane), b, n);
  keepUnscattered(at(t, DENOISE_VARIANCE, plane), v, n);
  keepUnscattered(at(t, DENOISE_LUMINANCE, plane), l, n);
}

// @ts-ignore: decorator
@inline
function keepUnscattered(p: usize, v: v128, n: i32): void {
  if (n == 4) v128.store(p, v);
  else {
    v128.store_lane<f32>(p, v, 0);
    if (n > 1) v128.store_lane<f32>(p + 4, v, 1);
    if (n > 2) v128.store_lane<f32>(p + 8, v, 2);
  }
}
