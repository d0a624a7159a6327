/**
 * Where a frame is denoised, most of its samples go where the filter helps least: to edges, thin things
 * and whatever else differs from its neighbours, at the cost of what is smooth and will be filtered. Each
 * pixel's need is its standard error, which spends a given number of samples best (Rousselle, Knaus and
 * Zwicker, "Adaptive sampling and reconstruction using greedy error minimization", 2011), times what the
 * filter is foreseen to leave of it. A pixel's need is foreseen within its own square, so the bits do not
 * depend on how a frame is cut into tiles; the host then looks at the needs of the whole frame and
 * sets FRAME_SHARE so that they spend what is left (engine/sampling/adaptiveSampling.ts).
 */
import { FRAME_SAMPLES, FRAME_STRIDE, NEED_CELL, PIXEL_ALBEDO, PIXEL_GUIDE_DEPTH, PIXEL_COLOUR, PIXEL_COUNT, PIXEL_COVERAGE, PIXEL_GUIDE_COUNT, PIXEL_NORMAL, PIXEL_SAMPLE_NEED, PIXEL_LUMINANCE_SQ } from "../layout";
import { luminance } from "../math";

/** Luminance below which an error counts against this, not against the pixel: dark noise is not seen. */
export const DARK: f32 = 0.05;
/** What is left of the error of a pixel whose neighbours are all alike. */
const FILTERED: f32 = 0.05;
/** Relative standard error of the whole that is not seen: a pixel below it is done. */
const NO_SURFACE: f32 = 0.001;
/** Need of a pixel that needs nothing more. */
const MIN_SAMPLES: f32 = 1e-6;
/** Squared distances of guides at which a neighbour counts 1/e. */
const NORMAL_SIGMA: f32 = 0.06;
const ALBEDO_SIGMA: f32 = 0.01;
const COVERAGE_SIGMA: f32 = 0.02;
/** Share of the distance by which neighbours may stand apart, after their slope. */
const DEPTH_SIGMA: f32 = 0.01;

// @ts-ignore: decorator
@inline
function loadPixel(p: usize, i: usize): f32 {
  return load<f32>(p + (i << 2));
}

// @ts-ignore: decorator
@inline
function squared(x: f32): f32 {
  return x * x;
}

/** Standard deviation of a sample's luminance, beside the pixel's own. */
function deviation(p: usize): f32 {
  const n = loadPixel(p, PIXEL_COUNT);
  const l: f32 = luminance(loadPixel(p, PIXEL_COLOUR), loadPixel(p, PIXEL_COLOUR + 1), loadPixel(p, PIXEL_COLOUR + 2)) / n;
  return sqrt<f32>(max<f32>(0, loadPixel(p, PIXEL_LUMINANCE_SQ) / n - l * l)) / max<f32>(l, DARK);
}

/** How alike two pixels' guides are, 0 to 1. */
function similarity(p: usize, q: usize): f32 {
  const n: f32 = 1 / loadPixel(p, PIXEL_COUNT), m: f32 = 1 / loadPixel(q, PIXEL_COUNT);
  const kp: f32 = 1 / max<f32>(loadPixel(p, PIXEL_GUIDE_COUNT), 1), kq: f32 = 1 / max<f32>(loadPixel(q, PIXEL_GUIDE_COUNT), 1);
  let d: f32 = 0, a: f32 = 0;
  for (let k: i32 = 0; k < 3; k++) {
    d += squared(loadPixel(p, PIXEL_NORMAL + k) * n - loadPixel(q, PIXEL_NORMAL + k) * m);
    a += squared(loadPixel(p, PIXEL_ALBEDO + k) * kp - loadPixel(q, PIXEL_ALBEDO + k) * kq);
  }
  const c = squared(loadPixel(p, PIXEL_COVERAGE) * n - loadPixel(q, PIXEL_COVERAGE) * m);
  const x: f32 = d / NORMAL_SIGMA + a / ALBEDO_SIGMA + c / COVERAGE_SIGMA;
  // (1 - x / 8)^8, as the filter takes e^-x.
  let w: f32 = max<f32>(0, 1 - x * <f32>0.125);
  w *= w;
  w *= w;
  return w * w;
}

/** How much its two neighbours along one way are like a pixel: their guides, and that all three lie on one plane. */
function pairWeight(p: usize, before: usize, after: usize): f32 {
  const z: f32 = loadPixel(p, PIXEL_GUIDE_DEPTH) / max<f32>(loadPixel(p, PIXEL_GUIDE_COUNT), 1);
  const zb: f32 = loadPixel(before, PIXEL_GUIDE_DEPTH) / max<f32>(loadPixel(before, PIXEL_GUIDE_COUNT), 1), za: f32 = loadPixel(after, PIXEL_GUIDE_DEPTH) / max<f32>(loadPixel(after, PIXEL_GUIDE_COUNT), 1);
  const bent: f32 = abs(zb + za - 2 * z) / max<f32>(z, 1e-6);
  const flat: f32 = max<f32>(0, 1 - bent / DEPTH_SIGMA);
  return (similarity(p, before) + similarity(p, after)) * <f32>0.5 * flat;
}

/** Writes PIXEL_SHARE, the need, of the pixels of a square that have all taken their first samples, of `all` in the mean. */
function estimateNeedOfCell(out: usize, stride: usize, width: u32, x0: u32, y0: u32, x1: u32, y1: u32, all: f32): void {
  const right = stride << 2, down = <usize>width * right;
  for (let y = y0; y < y1; y++) {
    for (let x = x0; x < x1; x++) {
      const p = out + <usize>y * down + <usize>x * right;
      const l = x > x0, r = x + 1 < x1, u = y > y0, d = y + 1 < y1;
      // The error of a single pixel is too noisy to go by.
      let error = deviation(p), near: f32 = 1;
      if (l) error += deviation(p - right), near++;
      if (r) error += deviation(p + right), near++;
      if (u) error += deviation(p - down), near++;
      if (d) error += deviation(p + down), near++;
      error /= near;
      const across: f32 = l && r ? pairWeight(p, p - right, p + right) : l ? similarity(p, p - right) : similarity(p, p + right);
      const along: f32 = u && d ? pairWeight(p, p - down, p + down) : u ? similarity(p, p - down) : similarity(p, p + down);
      const left: f32 = 1 - (1 - FILTERED) * across * along;
      // Never quite 0, which means not yet foreseen.
      store<f32>(p + (PIXEL_SAMPLE_NEED << 2), error * sqrt<f32>(1 / all) < NO_SURFACE ? MIN_SAMPLES : max<f32>(MIN_SAMPLES, error * left));
    }
  }
}

/** Foresees what each pixel of a tile needs; `out` holds the pixels' sums, rows without gaps. */
export function estimateNeed(frame: usize, width: u32, height: u32, out: usize): void {
  const stride = <usize>load<u32>(frame + FRAME_STRIDE), all = <f32>load<u32>(frame + FRAME_SAMPLES);
  for (let y: u32 = 0; y < height; y += NEED_CELL)
    for (let x: u32 = 0; x < width; x += NEED_CELL) estimateNeedOfCell(out, stride, width, x, y, min<u32>(x + NEED_CELL, width), min<u32>(y + NEED_CELL, height), all);
}
