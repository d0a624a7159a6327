/**
 * Renders a rectangle of a frame, adding samples to each pixel's sums. Samples are taken cell by cell
 * (CELL pixels square); a cell whose error is small enough stops early, so what stops does not depend
 * on how the frame is cut into tiles.
 */
import {
  FRAME_SEED, FRAME_SEQUENCE, FRAME_FILTER, FRAME_SHUTTER, FRAME_LENS, FRAME_STRIDE, FRAME_PASSES, FRAME_NOISE, FRAME_MIN_SAMPLES, FRAME_QUICK, FRAME_EXTENT, FRAME_BASE_SAMPLES, FRAME_ADAPTIVE_SCALE,
  FRAME_TREE, FRAME_ROOT, FRAME_INSTANCES, FRAME_PLANE_COUNT, CAMERA_RAYS, PACKET_RAYS,
  FILTER_CELLS, CELL, PASS_COMPONENTS, PASS_MATTES, PIXEL_COLOUR, PIXEL_SCATTERED_SQ, PIXEL_ALBEDO, PIXEL_NORMAL, PIXEL_DEPTH, PIXEL_COVERAGE,
  PIXEL_GUIDE_COUNT, PIXEL_ALPHA, PIXEL_COUNT, PIXEL_GUIDE_DEPTH, PIXEL_UNSCATTERED, PIXEL_SAMPLE_NEED, PIXEL_LUMINANCE_SQ, PIXEL_FLOATS, PIXEL_DIFFUSE, PIXEL_SPECULAR, PIXEL_POSITION, PIXEL_OCCLUSION,
  PIXEL_UNSHADOWED, PIXEL_SHADOWED, PIXEL_COMPONENTS_FLOATS, PASS_APART, PIXEL_APART_FLOATS, MATTE_PAIRS,
} from "../layout";
import { luminance } from "../math";
import { beginSample, saveSampler, restoreSampler, next2D, sampleX, sampleY } from "../sampler";
import { cameraRay, saveRay, restoreRay, eyeX, eyeY, eyeZ, rayX, rayY, rayZ, rayDepth, rayStart } from "./camera";
import { beginPacket, addRay, closestHitPacket, announceRay, packetScratch } from "../intersect/rayPacket";
import { setShutterTime } from "../intersect/shutter";
import { shadePixelSample } from "../integrator/shaded";
import { DARK } from "./adaptive";
import { tracePixelSample } from "../integrator/integrator";
import {
  pathR, pathG, pathB, pathAlpha, albedoR, albedoG, albedoB, normalX, normalY, normalZ, positionX, positionY, positionZ, firstDistance,
  unscatteredR, unscatteredG, unscatteredB, coverage, guideValid, guideDepth, scatteredR, scatteredG, scatteredB, specularR, specularG, specularB, ao, unshadowed, shadowed, partMatteId, materialMatteId, keepParts,
} from "../integrator/result";

/** Samples between two looks at the error. */
const ROUND: u32 = 8;
/** Fewer rays than this gain nothing by going together. */
const MIN_PACKET_SAMPLES: u32 = 6;

// @ts-ignore: decorator
@inline
function gather(p: usize, i: usize, v: f32): void {
  store<f32>(p + (i << 2), load<f32>(p + (i << 2)) + v);
}

/** Where in the pixel's neighbourhood a sample lies: the filter's table, between its cells. */
// @ts-ignore: decorator
@inline
function filterOffset(table: usize, u: f32): f32 {
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
function generateRay(frame: usize, x: u32, y: u32, s: u32): void {
  const table = <usize>load<u32>(frame + FRAME_FILTER);
  beginSample(load<u32>(frame + FRAME_SEED), x, y, s, load<u32>(frame + FRAME_SEQUENCE));
  next2D();
  const a: f32 = <f32>x + <f32>0.5 + filterOffset(table, sampleX), b: f32 = <f32>y + <f32>0.5 + filterOffset(table, sampleY);
  let u: f32 = 0, v: f32 = 0, moment: f32 = 0;
  if (load<f32>(frame + FRAME_LENS) > 0) {
    next2D();
    u = sampleX;
    v = sampleY;
  }
  if (load<u32>(frame + FRAME_SHUTTER) != 0) {
    next2D();
    moment = sampleX;
  }
  setShutterTime(frame, moment);
  cameraRay(frame, a, b, moment, u, v);
}

/** Takes samples from .. to - 1 of a pixel. The eye's rays through one pixel go together where nothing moves and nothing is cut. */
function traceSamples(frame: usize, x: u32, y: u32, from: u32, to: u32, p: usize): void {
  const still = load<u32>(frame + FRAME_SHUTTER) == 0 && load<u32>(frame + FRAME_PLANE_COUNT) == 0;
  while (from < to) {
    const n = still ? min<u32>(to - from, PACKET_RAYS) : 1;
    if (n >= MIN_PACKET_SAMPLES) {
      beginPacket();
      for (let k: u32 = 0; k < n; k++) {
        generateRay(frame, x, y, from + k);
        addRay(eyeX, eyeY, eyeZ, rayX, rayY, rayZ, f32.MAX_VALUE);
        saveSampler(packetScratch(k));
        saveRay(packetScratch(k) + 16);
      }
      closestHitPacket(<usize>load<u32>(frame + FRAME_TREE), load<i32>(frame + FRAME_ROOT), <usize>load<u32>(frame + FRAME_INSTANCES), CAMERA_RAYS);
      for (let k: u32 = 0; k < n; k++) {
        restoreSampler(packetScratch(k));
        restoreRay(packetScratch(k) + 16);
        announceRay(k);
        traceOneSample(frame, p);
      }
    } else for (let k: u32 = 0; k < n; k++) {
      generateRay(frame, x, y, from + k);
      traceOneSample(frame, p);
    }
    from += n;
  }
}

/** Follows the sample that was begun and adds it to the pixel's sums. */
function traceOneSample(frame: usize, p: usize): void {
  const passes = load<u32>(frame + FRAME_PASSES);
  const depth = rayDepth, start = rayStart;
  keepParts((passes & PASS_COMPONENTS) != 0 ? p : 0, (passes & PASS_APART) != 0);
  if (load<u32>(frame + FRAME_QUICK) != 0) shadePixelSample(frame, eyeX, eyeY, eyeZ, rayX, rayY, rayZ);
  else tracePixelSample(frame, eyeX, eyeY, eyeZ, rayX, rayY, rayZ);
  gather(p, PIXEL_COLOUR, pathR);
  gather(p, PIXEL_COLOUR + 1, pathG);
  gather(p, PIXEL_COLOUR + 2, pathB);
  gather(p, PIXEL_UNSCATTERED, unscatteredR);
  gather(p, PIXEL_UNSCATTERED + 1, unscatteredG);
  gather(p, PIXEL_UNSCATTERED + 2, unscatteredB);
  const l = luminance(pathR - unscatteredR, pathG - unscatteredG, pathB - unscatteredB);
  gather(p, PIXEL_SCATTERED_SQ, l * l);
  const whole = luminance(pathR, pathG, pathB);
  gather(p, PIXEL_LUMINANCE_SQ, whole * whole);
  gather(p, PIXEL_ALBEDO, albedoR * guideValid);
  gather(p, PIXEL_ALBEDO + 1, albedoG * guideValid);
  gather(p, PIXEL_ALBEDO + 2, albedoB * guideValid);
  gather(p, PIXEL_GUIDE_COUNT, guideValid);
  gather(p, PIXEL_NORMAL, normalX);
  gather(p, PIXEL_NORMAL + 1, normalY);
  gather(p, PIXEL_NORMAL + 2, normalZ);
  gather(p, PIXEL_DEPTH, coverage > 0 ? (firstDistance + start) * depth : 0);
  gather(p, PIXEL_COVERAGE, coverage);
  gather(p, PIXEL_ALPHA, pathAlpha);
  gather(p, PIXEL_COUNT, 1);
  gather(p, PIXEL_GUIDE_DEPTH, guideValid * (guideDepth > 0 ? guideDepth + start : 10 * load<f32>(frame + FRAME_EXTENT)));
  if (passes == 0) return;
  let q = p + (PIXEL_FLOATS << 2);
  if ((passes & PASS_COMPONENTS) != 0) {
    gather(p, PIXEL_DIFFUSE, scatteredR);
    gather(p, PIXEL_DIFFUSE + 1, scatteredG);
    gather(p, PIXEL_DIFFUSE + 2, scatteredB);
    gather(p, PIXEL_SPECULAR, specularR);
    gather(p, PIXEL_SPECULAR + 1, specularG);
    gather(p, PIXEL_SPECULAR + 2, specularB);
    gather(p, PIXEL_POSITION, positionX);
    gather(p, PIXEL_POSITION + 1, positionY);
    gather(p, PIXEL_POSITION + 2, positionZ);
    gather(p, PIXEL_OCCLUSION, ao);
    gather(p, PIXEL_UNSHADOWED, unshadowed);
    gather(p, PIXEL_SHADOWED, shadowed);
    q = p + ((passes & PASS_APART) != 0 ? PIXEL_APART_FLOATS << 2 : PIXEL_COMPONENTS_FLOATS << 2);
  }
  if ((passes & PASS_MATTES) != 0) {
    mark(q, partMatteId);
    mark(q + (MATTE_PAIRS << 3), materialMatteId);
  }
}

/** Mean relative standard error of a cell's pixels. */
function relativeErrorOf(out: usize, stride: usize, width: u32, x0: u32, y0: u32, x1: u32, y1: u32): f32 {
  let sum: f32 = 0;
  for (let y = y0; y < y1; y++) {
    for (let x = x0; x < x1; x++) {
      const p = out + (<usize>(y * width + x) * stride << 2);
      const n: f32 = load<f32>(p, PIXEL_COUNT << 2);
      const l: f32 = luminance(load<f32>(p), load<f32>(p, 4), load<f32>(p, 8)) / n;
      const variance: f32 = max<f32>(0, load<f32>(p, PIXEL_LUMINANCE_SQ << 2) / n - l * l) / (n - 1);
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
  const least = max<u32>(load<u32>(frame + FRAME_MIN_SAMPLES), 2), even = load<u32>(frame + FRAME_BASE_SAMPLES);
  const scale = load<f32>(frame + FRAME_ADAPTIVE_SCALE), most = load<f32>(frame + FRAME_ADAPTIVE_SCALE + 4);
  for (let cy: u32 = 0; cy < height; cy += CELL) {
    const ey = min<u32>(cy + CELL, height);
    for (let cx: u32 = 0; cx < width; cx += CELL) {
      const ex = min<u32>(cx + CELL, width);
      for (let s = s0; s < s1; ) {
        let until = s1;
        if (noise > 0) {
          if (s >= least && relativeErrorOf(out, stride, width, cx, cy, ex, ey) < noise) break;
          until = min<u32>(s < least ? least : s + ROUND, s1);
        }
        for (let y = cy; y < ey; y++) {
          for (let x = cx; x < ex; x++) {
            const p = out + (<usize>(y * width + x) * stride << 2);
            const share = even > 0 && s >= even ? min<f32>(most, load<f32>(p, PIXEL_SAMPLE_NEED << 2) * scale) : 0;
            if (share > 0) {
              const first = <u32>load<f32>(p, PIXEL_COUNT << 2);
              const more = <u32>(share * <f32>(until - even)) - <u32>(share * <f32>(s - even));
              traceSamples(frame, x0 + x, y0 + y, first, first + more, p);
            } else traceSamples(frame, x0 + x, y0 + y, s, until, p);
          }
        }
        s = until;
      }
    }
  }
}
