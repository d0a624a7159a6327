/**
 * What gives light: the environment (a gradient or an image), suns, lights and emissive triangles. One of
 * the lights is drawn by its power, so that many cost little more than one.
 */
import {
  FRAME_ZENITH, FRAME_HORIZON, FRAME_NADIR, FRAME_BACKDROP_TOP, FRAME_BACKDROP_MIDDLE, FRAME_BACKDROP_BOTTOM, FRAME_ENVIRONMENT, FRAME_ENVIRONMENT_VISIBLE,
  FRAME_TRANSPARENT, FRAME_BACKDROP, FRAME_BACKDROP_FIT, FRAME_BACKDROP_INVERSE_TONE, INVERSE_TONE_CELLS, FRAME_LUT, FRAME_LIGHTS, FRAME_LIGHT_COUNT, FRAME_LIGHT_CDF, FRAME_SUNS, FRAME_SUN_COUNT,
  LIGHT_KIND, LIGHT_SOURCE, LIGHT_PROBABILITY, LIGHT_AREA, LIGHT_OUTER, LIGHT_INNER, LIGHT_CENTRE, LIGHT_U, LIGHT_V, LIGHT_NORMAL, LIGHT_RADIANCE, LIGHT_BYTES,
  LIGHT_DISC, LIGHT_POINT, LIGHT_SPOT, LIGHT_SUN, LIGHT_TRIANGLE, LIGHT_ENVIRONMENT, SOURCE_SURROUNDINGS,
} from "../layout";
import { PI, sinCosTurns, sine, cosine, basis, luminance, tangentX, tangentY, tangentZ, bitangentX, bitangentY, bitangentZ } from "../math";
import { filmX, filmY } from "../film/camera";
import { readTexture, texelR, texelG, texelB } from "../bsdf/texture";
import { environmentRadiance, environmentMapPdf, sampleEnvironmentMap, findCell, environmentR, environmentG, environmentB, environmentX, environmentY, environmentZ } from "./environmentMap";

export let lightR: f32 = 0;
export let lightG: f32 = 0;
export let lightB: f32 = 0;
/** What it comes from: a value of LIGHT_SOURCE. */
export let lightSource: u32 = 0;

function gradient(frame: usize, y: f32, seen: bool): void {
  const middle = frame + (seen ? FRAME_BACKDROP_MIDDLE : FRAME_HORIZON);
  const up = seen ? FRAME_BACKDROP_TOP : FRAME_ZENITH, down = seen ? FRAME_BACKDROP_BOTTOM : FRAME_NADIR;
  const end = frame + (y >= 0 ? up : down);
  const t = sqrt<f32>(min<f32>(abs<f32>(y), 1));
  lightR = load<f32>(middle) + (load<f32>(end) - load<f32>(middle)) * t;
  lightG = load<f32>(middle, 4) + (load<f32>(end, 4) - load<f32>(middle, 4)) * t;
  lightB = load<f32>(middle, 8) + (load<f32>(end, 8) - load<f32>(middle, 8)) * t;
}

/** Makes light of a colour that is to come out of the grade as it is; the table is the grade backwards. */
function displayReferred(look: usize): void {
  const x = sqrt<f32>(min<f32>(luminance(lightR, lightG, lightB), 1)) * <f32>INVERSE_TONE_CELLS;
  const i = min<u32>(<u32>x, INVERSE_TONE_CELLS - 1);
  const cell = look + (<usize>i << 2);
  const gain = load<f32>(cell) + (load<f32>(cell, 4) - load<f32>(cell)) * (x - <f32>i);
  const m = look + ((<usize>INVERSE_TONE_CELLS + 1) << 2);
  const r = lightR * gain, g = lightG * gain, b = lightB * gain;
  lightR = max<f32>(0, load<f32>(m) * r + load<f32>(m, 4) * g + load<f32>(m, 8) * b);
  lightG = max<f32>(0, load<f32>(m, 12) * r + load<f32>(m, 16) * g + load<f32>(m, 20) * b);
  lightB = max<f32>(0, load<f32>(m, 24) * r + load<f32>(m, 28) * g + load<f32>(m, 32) * b);
}

/** Radiance from a direction without suns; `seen` asks for what the camera sees there. */
export function evalEnvironment(frame: usize, dx: f32, dy: f32, dz: f32, seen: bool): void {
  const image = <usize>load<u32>(frame + FRAME_ENVIRONMENT);
  if (seen && load<u32>(frame + FRAME_TRANSPARENT) != 0) lightR = lightG = lightB = 0;
  else if (seen && load<u32>(frame + FRAME_BACKDROP) != 0) {
    // Flat behind the film, whichever way glass bent the ray.
    const u: f32 = load<f32>(frame, FRAME_BACKDROP_FIT) + load<f32>(frame, FRAME_BACKDROP_FIT + 4) * filmX;
    const v: f32 = load<f32>(frame, FRAME_BACKDROP_FIT + 8) + load<f32>(frame, FRAME_BACKDROP_FIT + 12) * filmY;
    readTexture(<usize>load<u32>(frame + FRAME_BACKDROP), <usize>load<u32>(frame + FRAME_LUT), u, v);
    lightR = texelR;
    lightG = texelG;
    lightB = texelB;
    const look = <usize>load<u32>(frame + FRAME_BACKDROP_INVERSE_TONE);
    if (look != 0) displayReferred(look);
  }
  else if (image != 0 && (!seen || load<u32>(frame + FRAME_ENVIRONMENT_VISIBLE) != 0)) {
    environmentRadiance(image, dx, dy, dz);
    lightR = environmentR;
    lightG = environmentG;
    lightB = environmentB;
  } else gradient(frame, dy, seen);
}

/** Density with which sampleLight draws this direction towards the environment's image. */
export function environmentPdf(frame: usize, dx: f32, dy: f32, dz: f32): f32 {
  const image = <usize>load<u32>(frame + FRAME_ENVIRONMENT);
  if (image == 0) return 0;
  // The image is the last of the lights.
  const light = <usize>load<u32>(frame + FRAME_LIGHTS) + <usize>(load<u32>(frame + FRAME_LIGHT_COUNT) - 1) * LIGHT_BYTES;
  return load<f32>(light, LIGHT_PROBABILITY) * environmentMapPdf(image, dx, dy, dz);
}

/** The i-th sun's disc from a direction: true where it stands there; radiance and density are left. */
export function evalSunDisc(frame: usize, i: u32, dx: f32, dy: f32, dz: f32): bool {
  const light = <usize>load<u32>(frame + FRAME_LIGHTS) + <usize>load<u32>(<usize>load<u32>(frame + FRAME_SUNS) + (<usize>i << 2)) * LIGHT_BYTES;
  const x: f32 = dx + load<f32>(light, LIGHT_NORMAL), y: f32 = dy + load<f32>(light, LIGHT_NORMAL + 4), z: f32 = dz + load<f32>(light, LIGHT_NORMAL + 8);
  const outer = load<f32>(light, LIGHT_OUTER);
  // 1 - cos = |difference|² / 2 keeps its digits.
  if (<f32>0.5 * (x * x + y * y + z * z) > outer) return false;
  setLight(light, 1);
  lightPdf = load<f32>(light, LIGHT_PROBABILITY) / (2 * PI * outer);
  return true;
}

/** Suns of a frame. */
export function sunCount(frame: usize): u32 {
  return load<u32>(frame + FRAME_SUN_COUNT);
}

/** Direction and distance to the point drawn last, and its density as solid angle; 0 for what has no extent. */
export let lightX: f32 = 0;
export let lightY: f32 = 0;
export let lightZ: f32 = 0;
export let lightDistance: f32 = 0;
export let lightPdf: f32 = 0;

// @ts-ignore: decorator
@inline
function setLight(light: usize, k: f32): void {
  lightR = k * load<f32>(light, LIGHT_RADIANCE);
  lightG = k * load<f32>(light, LIGHT_RADIANCE + 4);
  lightB = k * load<f32>(light, LIGHT_RADIANCE + 8);
  lightSource = load<u32>(light, LIGHT_SOURCE);
}

/** Radiance of a light's shape that was met at distance t along a ray, and the density of its having been drawn. */
export function evalLight(light: usize, dx: f32, dy: f32, dz: f32, t: f32): void {
  const c: f32 = -(dx * load<f32>(light, LIGHT_NORMAL) + dy * load<f32>(light, LIGHT_NORMAL + 4) + dz * load<f32>(light, LIGHT_NORMAL + 8));
  setLight(light, 1);
  lightPdf = load<f32>(light, LIGHT_PROBABILITY) * t * t / (c * load<f32>(light, LIGHT_AREA));
}

/** Draws a point on one of the lights; false where it does not shine this way. */
export function sampleLight(frame: usize, px: f32, py: f32, pz: f32, choice: f32, u: f32, v: f32): bool {
  const count = load<u32>(frame + FRAME_LIGHT_COUNT);
  const i = findCell(<usize>load<u32>(frame + FRAME_LIGHT_CDF), count, choice);
  const light = <usize>load<u32>(frame + FRAME_LIGHTS) + <usize>i * LIGHT_BYTES;
  return sampleLightPoint(frame, light, px, py, pz, u, v);
}

/** Draws a direction towards a sun that shines along (nx, ny, nz). */
// @ts-ignore: decorator
@inline
function sampleSun(light: usize, chance: f32, nx: f32, ny: f32, nz: f32, u: f32, v: f32): bool {
  const outer = load<f32>(light, LIGHT_OUTER);
  lightDistance = f32.MAX_VALUE;
  if (outer == 0) {
    lightX = -nx;
    lightY = -ny;
    lightZ = -nz;
    lightPdf = 0;
    setLight(light, 1 / chance);
    return true;
  }
  basis(-nx, -ny, -nz);
  sinCosTurns(u);
  const k: f32 = v * outer, s = sqrt<f32>(max<f32>(0, k * (2 - k)));
  lightX = -nx * (1 - k) + s * (cosine * tangentX + sine * bitangentX);
  lightY = -ny * (1 - k) + s * (cosine * tangentY + sine * bitangentY);
  lightZ = -nz * (1 - k) + s * (cosine * tangentZ + sine * bitangentZ);
  lightPdf = chance / (2 * PI * outer);
  setLight(light, 1);
  return true;
}

/** Draws a point on this light. */
export function sampleLightPoint(frame: usize, light: usize, px: f32, py: f32, pz: f32, u: f32, v: f32): bool {
  const kind = load<u32>(light + LIGHT_KIND), chance = load<f32>(light, LIGHT_PROBABILITY);
  const nx = load<f32>(light, LIGHT_NORMAL), ny = load<f32>(light, LIGHT_NORMAL + 4), nz = load<f32>(light, LIGHT_NORMAL + 8);
  if (kind == LIGHT_ENVIRONMENT) {
    const d = sampleEnvironmentMap(<usize>load<u32>(frame + FRAME_ENVIRONMENT), u, v);
    if (!(d > 0)) return false;
    lightX = environmentX;
    lightY = environmentY;
    lightZ = environmentZ;
    lightDistance = f32.MAX_VALUE;
    lightPdf = chance * d;
    evalEnvironment(frame, lightX, lightY, lightZ, false);
    lightSource = SOURCE_SURROUNDINGS;
    return true;
  }
  if (kind == LIGHT_SUN) return sampleSun(light, chance, nx, ny, nz, u, v);
  let a: f32 = 0, b: f32 = 0;
  if (kind == LIGHT_DISC) {
    sinCosTurns(u);
    const r = sqrt<f32>(v);
    a = r * cosine;
    b = r * sine;
  } else if (kind == LIGHT_TRIANGLE) {
    const r = sqrt<f32>(u);
    a = r * (1 - v);
    b = r * v;
  } else if (kind != LIGHT_POINT && kind != LIGHT_SPOT) {
    a = u - <f32>0.5;
    b = v - <f32>0.5;
  }
  const x: f32 = load<f32>(light, LIGHT_CENTRE) + a * load<f32>(light, LIGHT_U) + b * load<f32>(light, LIGHT_V) - px;
  const y: f32 = load<f32>(light, LIGHT_CENTRE + 4) + a * load<f32>(light, LIGHT_U + 4) + b * load<f32>(light, LIGHT_V + 4) - py;
  const z: f32 = load<f32>(light, LIGHT_CENTRE + 8) + a * load<f32>(light, LIGHT_U + 8) + b * load<f32>(light, LIGHT_V + 8) - pz;
  const d2: f32 = x * x + y * y + z * z;
  if (!(d2 > 0)) return false;
  lightDistance = sqrt<f32>(d2);
  const n: f32 = 1 / lightDistance;
  lightX = x * n;
  lightY = y * n;
  lightZ = z * n;
  let c: f32 = -(lightX * nx + lightY * ny + lightZ * nz);
  if (kind == LIGHT_POINT || kind == LIGHT_SPOT) {
    let k: f32 = 1 / (d2 * chance);
    if (kind == LIGHT_SPOT) {
      // KHR_lights_punctual: the square of the share of the way from the outer to the inner cosine.
      const outer = load<f32>(light, LIGHT_OUTER);
      const s: f32 = (c - outer) / max<f32>(<f32>0.001, load<f32>(light, LIGHT_INNER) - outer);
      if (s <= 0) return false;
      k *= s < 1 ? s * s : 1;
    }
    lightPdf = 0;
    setLight(light, k);
    return true;
  }
  // Meshes shine on both sides, lights on one; and a mesh must not stand in its own light.
  if (kind == LIGHT_TRIANGLE) {
    c = abs(c);
    lightDistance *= <f32>0.9999;
  }
  if (!(c > 0)) return false;
  lightPdf = chance * d2 / (c * load<f32>(light, LIGHT_AREA));
  setLight(light, 1);
  return true;
}

/** Illuminance that a light would give a level ground at the point, were nothing in between; rough, for choosing. */
export function groundLight(frame: usize, light: usize, px: f32, py: f32, pz: f32): f32 {
  const kind = load<u32>(light + LIGHT_KIND);
  const l = luminance(load<f32>(light, LIGHT_RADIANCE), load<f32>(light, LIGHT_RADIANCE + 4), load<f32>(light, LIGHT_RADIANCE + 8));
  const ny = load<f32>(light, LIGHT_NORMAL + 4);
  if (kind == LIGHT_ENVIRONMENT) return l * PI;
  if (kind == LIGHT_SUN) {
    const outer = load<f32>(light, LIGHT_OUTER);
    return max<f32>(0, -ny) * l * (outer > 0 ? 2 * PI * outer : 1);
  }
  if (!sampleLightPoint(frame, light, px, py, pz, <f32>0.5, <f32>0.5) || lightY <= 0) return 0;
  const k: f32 = lightY * luminance(lightR, lightG, lightB);
  return lightPdf > 0 ? k * load<f32>(light, LIGHT_PROBABILITY) / lightPdf : k * load<f32>(light, LIGHT_PROBABILITY);
}
