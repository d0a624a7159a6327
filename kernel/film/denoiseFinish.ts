/** The end of the denoiser: what its levels leave is mended, and colour gets its albedo back. Planes are those of denoise.ts. */
import {
  DENOISE_R, DENOISE_G, DENOISE_B, DENOISE_VARIANCE, DENOISE_ALBEDO, DENOISE_DEPTH, DENOISE_UNSCATTERED, DENOISE_NOISE, DENOISE_FAR,
} from "../layout";
import { luminance } from "../math";
import { ALBEDO_FLOOR, ALBEDO_SCALE, at, luminanceOf, squared } from "./denoise";

/** Neighbours at the same depth that there must be for a point to be compared with them. */
const FEWEST_NEIGHBOURS: i32 = 5;
/** Share of the depth within which a neighbour is at the same depth. */
const SAME_DEPTH: f32 = 0.02;
/** A point is dark that has less than this of its second darkest neighbour's light. */
const DARK: f32 = 0.7;
/** Standard deviations of its neighbours' light that a dark point may stand apart by and still be noise. */
const SPECK_SIGMA: f32 = 3;

// @ts-ignore: decorator
@inline
function lightAt(o: usize, plane: usize): f32 {
  return luminance(load<f32>(at(o, DENOISE_R, plane)), load<f32>(at(o, DENOISE_G, plane)), load<f32>(at(o, DENOISE_B, plane)));
}

let mendedR: f32 = 0;
let mendedG: f32 = 0;
let mendedB: f32 = 0;

/**
 * Whether a point is dark beside all its neighbours at the same depth but one, by no more than noise; then the mended colour
 * has their hue and the light of the second darkest of them. The levels leave such points where a joint or grain sets a pixel
 * apart from all its neighbours. A line that is truly there has two pixels of itself beside each of its own, and stays.
 */
function despeckle(o: usize, g: usize, pitch: usize, plane: usize): bool {
  const l = lightAt(o, plane);
  const up = lightAt(o - pitch, plane), down = lightAt(o + pitch, plane), left = lightAt(o - 4, plane), right = lightAt(o + 4, plane);
  // Most have darker neighbours.
  if (i32(up < l) + i32(down < l) + i32(left < l) + i32(right < l) > 1) return false;
  let count: i32 = 0;
  let darkest: f32 = f32.MAX_VALUE, second: f32 = f32.MAX_VALUE;
  let sum: f32 = 0, r: f32 = 0, gr: f32 = 0, b: f32 = 0;
  const z = load<f32>(at(g, DENOISE_DEPTH, plane));
  for (let j: i32 = -1; j <= 1; j++) {
    for (let i: i32 = -1; i <= 1; i++) {
      if (i == 0 && j == 0) continue;
      const away = <usize>j * pitch + <usize>(i << 2), q = o + away;
      if (abs<f32>(load<f32>(at(g + away, DENOISE_DEPTH, plane)) - z) > z * SAME_DEPTH) continue;
      const light = lightAt(q, plane);
      second = min<f32>(second, max<f32>(darkest, light));
      darkest = min<f32>(darkest, light);
      sum += light;
      r += load<f32>(at(q, DENOISE_R, plane));
      gr += load<f32>(at(q, DENOISE_G, plane));
      b += load<f32>(at(q, DENOISE_B, plane));
      count++;
    }
  }
  if (count < FEWEST_NEIGHBOURS || !(sum > 0) || l >= second * DARK) return false;
  if ((second - l) * (second - l) > SPECK_SIGMA * SPECK_SIGMA * load<f32>(at(g, DENOISE_NOISE, plane))) return false;
  const k: f32 = second / sum;
  mendedR = r * k;
  mendedG = gr * k;
  mendedB = b * k;
  return true;
}

const ALBEDO_BACK: f32 = 1 / ALBEDO_SCALE;

/** A channel of four pixels with their albedo, and with what came straight. */
// @ts-ignore: decorator
@inline
function finished(o: usize, g: usize, k: i32, plane: usize): v128 {
  const albedo = f32x4.add(f32x4.mul(v128.load(at(g, DENOISE_ALBEDO + k, plane)), f32x4.splat(ALBEDO_BACK)), f32x4.splat(ALBEDO_FLOOR));
  return f32x4.add(f32x4.mul(v128.load(at(o, DENOISE_R + k, plane)), albedo), v128.load(at(g, DENOISE_UNSCATTERED + k, plane)));
}

/** Variance of the luminance of four pixels that the levels have left. */
// @ts-ignore: decorator
@inline
function noiseLeft(o: usize, g: usize, plane: usize): v128 {
  const albedo = luminanceOf(v128.load(at(g, DENOISE_ALBEDO, plane)), v128.load(at(g, DENOISE_ALBEDO + 1, plane)), v128.load(at(g, DENOISE_ALBEDO + 2, plane)));
  return f32x4.mul(v128.load(at(o, DENOISE_VARIANCE, plane)), squared(f32x4.add(f32x4.mul(albedo, f32x4.splat(ALBEDO_BACK)), f32x4.splat(ALBEDO_FLOOR))));
}

/** Stores a lane, unless it was mended: then that. */
// @ts-ignore: decorator
@inline
function storeFinished(q: usize, o: usize, g: usize, pitch: usize, plane: usize, r: f32, gr: f32, b: f32): void {
  if (despeckle(o, g, pitch, plane)) {
    r = mendedR * (load<f32>(at(g, DENOISE_ALBEDO, plane)) * ALBEDO_BACK + ALBEDO_FLOOR) + load<f32>(at(g, DENOISE_UNSCATTERED, plane));
    gr = mendedG * (load<f32>(at(g, DENOISE_ALBEDO + 1, plane)) * ALBEDO_BACK + ALBEDO_FLOOR) + load<f32>(at(g, DENOISE_UNSCATTERED + 1, plane));
    b = mendedB * (load<f32>(at(g, DENOISE_ALBEDO + 2, plane)) * ALBEDO_BACK + ALBEDO_FLOOR) + load<f32>(at(g, DENOISE_UNSCATTERED + 2, plane));
  }
  store<f32>(q, r);
  store<f32>(q + 4, gr);
  store<f32>(q + 8, b);
}

/**
 * Multiplies albedo back and adds what came straight: three f32 a pixel at `out`, rows without gaps. What is then left of the
 * noise beside the spread of three by three pixels is taken off their difference from the mean (Lee, "Digital image enhancement
 * and noise filtering by use of local statistics", 1980): the levels find no neighbours for thin things, which stay noisy.
 */
export function denoiseFinish(from: usize, guides: usize, width: i32, height: i32, pitch: usize, plane: usize, out: usize): void {
  const zero = f32x4.splat(0), one = f32x4.splat(1), ninth = f32x4.splat(1.0 / 9.0), beyond = f32x4.splat(<f32>DENOISE_FAR);
  for (let y: i32 = 0; y < height; y++) {
    for (let x: i32 = 0; x < width; x += 4) {
      const offset = <usize>y * pitch + (<usize>x << 2);
      const o = from + offset, g = guides + offset, q = out + <usize>(y * width + x) * 12;
      let r = finished(o, g, 0, plane), gr = finished(o, g, 1, plane), b = finished(o, g, 2, plane);
      const noise = noiseLeft(o, g, plane);
      if (v128.any_true(f32x4.gt(noise, zero))) {
        let mr = zero, mg = zero, mb = zero, squares = zero, farthest = zero;
        for (let j: i32 = -1; j <= 1; j++) {
          for (let i: i32 = -1; i <= 1; i++) {
            const away = <usize>j * pitch + <usize>(i << 2);
            const nr = finished(o + away, g + away, 0, plane), ng = finished(o + away, g + away, 1, plane), nb = finished(o + away, g + away, 2, plane);
            mr = f32x4.add(mr, nr);
            mg = f32x4.add(mg, ng);
            mb = f32x4.add(mb, nb);
            squares = f32x4.add(squares, squared(luminanceOf(nr, ng, nb)));
            farthest = f32x4.pmax(farthest, v128.load(at(g + away, DENOISE_DEPTH, plane)));
          }
        }
        mr = f32x4.mul(mr, ninth);
        mg = f32x4.mul(mg, ninth);
        mb = f32x4.mul(mb, ninth);
        const spread = f32x4.sub(f32x4.mul(squares, ninth), squared(luminanceOf(mr, mg, mb)));
        // At the frame's border neighbours are missing.
        const known = v128.and(f32x4.gt(spread, zero), f32x4.lt(farthest, beyond));
        const share = v128.and(f32x4.pmin(one, f32x4.div(noise, spread)), known);
        r = f32x4.add(r, f32x4.mul(share, f32x4.sub(mr, r)));
        gr = f32x4.add(gr, f32x4.mul(share, f32x4.sub(mg, gr)));
        b = f32x4.add(b, f32x4.mul(share, f32x4.sub(mb, b)));
      }
      const n = width - x;
      storeFinished(q, o, g, pitch, plane, f32x4.extract_lane(r, 0), f32x4.extract_lane(gr, 0), f32x4.extract_lane(b, 0));
      if (n > 1) storeFinished(q + 12, o + 4, g + 4, pitch, plane, f32x4.extract_lane(r, 1), f32x4.extract_lane(gr, 1), f32x4.extract_lane(b, 1));
      if (n > 2) storeFinished(q + 24, o + 8, g + 8, pitch, plane, f32x4.extract_lane(r, 2), f32x4.extract_lane(gr, 2), f32x4.extract_lane(b, 2));
      if (n > 3) storeFinished(q + 36, o + 12, g + 12, pitch, plane, f32x4.extract_lane(r, 3), f32x4.extract_lane(gr, 3), f32x4.extract_lane(b, 3));
    }
  }
}
