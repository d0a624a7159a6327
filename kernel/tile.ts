/**
 * Renders a rectangle of a frame, adding samples to each pixel's sums. Samples are taken cell by cell
 * (CELL pixels square); a cell whose error is small enough stops early, so what stops does not depend
 * on how the picture is cut into tiles.
 */
import {
  FRAME_SEED, FRAME_SEQUENCE, FRAME_FILTER, FRAME_SHUTTER, FRAME_LENS, FRAME_STRIDE, FRAME_PASSES, FRAME_NOISE, FRAME_LEAST, FRAME_QUICK, FRAME_EXTENT, FRAME_EVEN, FRAME_SHARE,
  FRAME_TREE, FRAME_ROOT, FRAME_INSTANCES, FRAME_PLANE_COUNT, EYE, BUNDLE,
  FILTER_CELLS, CELL, PASS_PARTS, PASS_MATTES, PIXEL_COLOUR, PIXEL_SQUARE, PIXEL_ALBEDO, PIXEL_NORMAL, PIXEL_DEPTH, PIXEL_COVER,
  PIXEL_KNOWN, PIXEL_ALPHA, PIXEL_COUNT, PIXEL_BEHIND, PIXEL_STRAIGHT, PIXEL_SHARE, PIXEL_WHOLE, PIXEL_FLOATS, PIXEL_DIFFUSE, PIXEL_SPECULAR, PIXEL_POSITION, PIXEL_OCCLUSION,
  PIXEL_UNSHADOWED, PIXEL_SHADOWED, PIXEL_PARTS_FLOATS, MATTE_PAIRS,
} from "./layout";
import { luminance } from "./math";
import { startSample, keepSample, takeUpSample, draw, sampleX, sampleY } from "./sample";
import { cameraRay, keepRay, takeUpRay, eyeX, eyeY, eyeZ, rayX, rayY, rayZ, rayDepth, rayStart } from "./camera";
import { startBundle, addRay, traceBundle, expectHit, aside } from "./bundle";
import { setMoment } from "./traverse";
import { traceQuick } from "./quick";
import { DARK } from "./spread";
import {
  trace, pathR, pathG, pathB, pathAlpha, albedoR, albedoG, albedoB, normalX, normalY, normalZ, placeX, placeY, placeZ, firstDistance,
  straightR, straightG, straightB, covered, known, behind, scatteredR, scatteredG, scatteredB, shinyR, shinyG, shinyB, openness, unshadowed, shadowed, partLabel, finishLabel,
} from "./path";

/** Samples between two looks at the error. */
const ROUND: u32 = 8;
/** Fewer rays than this gain nothing by going together. */
const LEAST_TOGETHER: u32 = 6;

// @ts-ignore: decorator
@inline
function gather(p: usize, i: usize, v: f32): void {
  store<f32>(p + (i << 2), load<f32>(p + (i << 2)) + v);
}

/** Where in the pixel's neighbourhood a sample lies: the filter's table, between its cells. */
// @ts-ignore: decorator
@inline
function spreadOf(table: usize, u: f32): f32 {
  const x: f32 = u * <f32>FILTER_CELLS;
  const i = min<u32>(<u32>x, FILTER_CELLS - 1);
  const p = table + (<usize>i << 2);
  return load<f32>(p) + (x - <f32>i) * (load<f32>(p, 4) - load<f32>(p));
}

/** Adds one sample's label to the pixel's pairs; what finds no room is counted to the last. */
function mark(p: usize, label: u32): void {
  if (label == 0) return;
  for (let i: i32 = 0; i < MATTE_PAIRS; i++) {
    const q = p + (<usize>i << 3);
    const there = load<u32>(q);
    if (there == label || there == 0 || i == MATTE_PAIRS - 1) {
      if (there == 0) store<u32>(q, label);
      store<f32>(q, load<f32>(q, 4) + 1, 4);
      return;
    }
  }
}

/** Begins sample s of a pixel: its numbers and the camera's ray. */
function aim(frame: usize, x: u32, y: u32, s: u32): void {
  const table = <usize>load<u32>(frame + FRAME_FILTER);
  startSample(load<u32>(frame + FRAME_SEED), x, y, s, load<u32>(frame + FRAME_SEQUENCE));
  draw();
  const a: f32 = <f32>x + <f32>0.5 + spreadOf(table, sampleX), b: f32 = <f32>y + <f32>0.5 + spreadOf(table, sampleY);
  let u: f32 = 0, v: f32 = 0, moment: f32 = 0;
  if (load<f32>(frame + FRAME_LENS) > 0) {
    draw();
    u = sampleX;
    v = sampleY;
  }
  if (load<u32>(frame + FRAME_SHUTTER) != 0) {
    draw();
    moment = sampleX;
  }
  setMoment(frame, moment);
  cameraRay(frame, a, b, moment, u, v);
}

/** Takes samples from .. to - 1 of a pixel. The eye's rays through one pixel go together where nothing moves and nothing is cut. */
function takeSamples(frame: usize, x: u32, y: u32, from: u32, to: u32, p: usize): void {
  const still = load<u32>(frame + FRAME_SHUTTER) == 0 && load<u32>(frame + FRAME_PLANE_COUNT) == 0;
  while (from < to) {
    const n = still ? min<u32>(to - from, BUNDLE) : 1;
    if (n >= LEAST_TOGETHER) {
      startBundle();
      for (let k: u32 = 0; k < n; k++) {
        aim(frame, x, y, from + k);
        addRay(eyeX, eyeY, eyeZ, rayX, rayY, rayZ, f32.MAX_VALUE);
        keepSample(aside(k));
        keepRay(aside(k) + 16);
      }
      traceBundle(<usize>load<u32>(frame + FRAME_TREE), load<i32>(frame + FRAME_ROOT), <usize>load<u32>(frame + FRAME_INSTANCES), EYE);
      for (let k: u32 = 0; k < n; k++) {
        takeUpSample(aside(k));
        takeUpRay(aside(k) + 16);
        expectHit(k);
        takeSample(frame, p);
      }
    } else for (let k: u32 = 0; k < n; k++) {
      aim(frame, x, y, from + k);
      takeSample(frame, p);
    }
    from += n;
  }
}

/** Follows the sample that was begun and adds it to the pixel's sums. */
function takeSample(frame: usize, p: usize): void {
  const passes = load<u32>(frame + FRAME_PASSES);
  const depth = rayDepth, start = rayStart;
  if (load<u32>(frame + FRAME_QUICK) != 0) traceQuick(frame, eyeX, eyeY, eyeZ, rayX, rayY, rayZ);
  else trace(frame, eyeX, eyeY, eyeZ, rayX, rayY, rayZ);
  gather(p, PIXEL_COLOUR, pathR);
  gather(p, PIXEL_COLOUR + 1, pathG);
  gather(p, PIXEL_COLOUR + 2, pathB);
  gather(p, PIXEL_STRAIGHT, straightR);
  gather(p, PIXEL_STRAIGHT + 1, straightG);
  gather(p, PIXEL_STRAIGHT + 2, straightB);
  const l = luminance(pathR - straightR, pathG - straightG, pathB - straightB);
  gather(p, PIXEL_SQUARE, l * l);
  const whole = luminance(pathR, pathG, pathB);
  gather(p, PIXEL_WHOLE, whole * whole);
  gather(p, PIXEL_ALBEDO, albedoR * known);
  gather(p, PIXEL_ALBEDO + 1, albedoG * known);
  gather(p, PIXEL_ALBEDO + 2, albedoB * known);
  gather(p, PIXEL_KNOWN, known);
  gather(p, PIXEL_NORMAL, normalX);
  gather(p, PIXEL_NORMAL + 1, normalY);
  gather(p, PIXEL_NORMAL + 2, normalZ);
  gather(p, PIXEL_DEPTH, covered > 0 ? (firstDistance + start) * depth : 0);
  gather(p, PIXEL_COVER, covered);
  gather(p, PIXEL_ALPHA, pathAlpha);
  gather(p, PIXEL_COUNT, 1);
  gather(p, PIXEL_BEHIND, known * (behind > 0 ? behind + start : 10 * load<f32>(frame + FRAME_EXTENT)));
  if (passes == 0) return;
  let q = p + (PIXEL_FLOATS << 2);
  if ((passes & PASS_PARTS) != 0) {
    gather(p, PIXEL_DIFFUSE, scatteredR);
    gather(p, PIXEL_DIFFUSE + 1, scatteredG);
    gather(p, PIXEL_DIFFUSE + 2, scatteredB);
    gather(p, PIXEL_SPECULAR, shinyR);
    gather(p, PIXEL_SPECULAR + 1, shinyG);
    gather(p, PIXEL_SPECULAR + 2, shinyB);
    gather(p, PIXEL_POSITION, placeX);
    gather(p, PIXEL_POSITION + 1, placeY);
    gather(p, PIXEL_POSITION + 2, placeZ);
    gather(p, PIXEL_OCCLUSION, openness);
    gather(p, PIXEL_UNSHADOWED, unshadowed);
    gather(p, PIXEL_SHADOWED, shadowed);
    q = p + (PIXEL_PARTS_FLOATS << 2);
  }
  if ((passes & PASS_MATTES) != 0) {
    mark(q, partLabel);
    mark(q + (MATTE_PAIRS << 3), finishLabel);
  }
}

/** Mean relative standard error of a cell's pixels. */
function errorOf(out: usize, stride: usize, width: u32, x0: u32, y0: u32, x1: u32, y1: u32): f32 {
  let sum: f32 = 0;
  for (let y = y0; y < y1; y++) {
    for (let x = x0; x < x1; x++) {
      const p = out + (<usize>(y * width + x) * stride << 2);
      const n: f32 = load<f32>(p, PIXEL_COUNT << 2);
      const l: f32 = luminance(load<f32>(p), load<f32>(p, 4), load<f32>(p, 8)) / n;
      const variance: f32 = max<f32>(0, load<f32>(p, PIXEL_WHOLE << 2) / n - l * l) / (n - 1);
      sum += sqrt<f32>(variance) / max<f32>(l, DARK);
    }
  }
  return sum / <f32>((x1 - x0) * (y1 - y0));
}

/**
 * Takes samples s0 .. s1 of each pixel; x0 and y0 are multiples of CELL. Beyond FRAME_EVEN, where that is
 * not 0, it takes as many for each as the pixel's share says; a call ends or begins there. `out` holds the
 * pixels' sums so far, FRAME_STRIDE floats each.
 */
export function renderTile(frame: usize, x0: u32, y0: u32, width: u32, height: u32, s0: u32, s1: u32, out: usize): void {
  const stride = <usize>load<u32>(frame + FRAME_STRIDE), noise = load<f32>(frame + FRAME_NOISE);
  const least = max<u32>(load<u32>(frame + FRAME_LEAST), 2), even = load<u32>(frame + FRAME_EVEN);
  const scale = load<f32>(frame + FRAME_SHARE), most = load<f32>(frame + FRAME_SHARE + 4);
  for (let cy: u32 = 0; cy < height; cy += CELL) {
    const ey = min<u32>(cy + CELL, height);
    for (let cx: u32 = 0; cx < width; cx += CELL) {
      const ex = min<u32>(cx + CELL, width);
      for (let s = s0; s < s1; ) {
        let until = s1;
        if (noise > 0) {
          if (s >= least && errorOf(out, stride, width, cx, cy, ex, ey) < noise) break;
          until = min<u32>(s < least ? least : s + ROUND, s1);
        }
        for (let y = cy; y < ey; y++) {
          for (let x = cx; x < ex; x++) {
            const p = out + (<usize>(y * width + x) * stride << 2);
            const share = even > 0 && s >= even ? min<f32>(most, load<f32>(p, PIXEL_SHARE << 2) * scale) : 0;
            if (share > 0) {
              const first = <u32>load<f32>(p, PIXEL_COUNT << 2);
              const more = <u32>(share * <f32>(until - even)) - <u32>(share * <f32>(s - even));
              takeSamples(frame, x0 + x, y0 + y, first, first + more, p);
            } else takeSamples(frame, x0 + x, y0 + y, s, until, p);
          }
        }
        s = until;
      }
    }
  }
}
