/**
 * What gives light: the surround (a gradient or a picture), suns, lamps and emissive triangles. One of
 * the lamps is drawn by its power, so that many cost little more than one.
 */
import {
  FRAME_ZENITH, FRAME_HORIZON, FRAME_NADIR, FRAME_BACK_TOP, FRAME_BACK_MIDDLE, FRAME_BACK_BOTTOM, FRAME_IMAGE, FRAME_IMAGE_SEEN,
  FRAME_CLEAR, FRAME_PICTURE, FRAME_PICTURE_FIT, FRAME_PICTURE_LOOK, LOOK_CELLS, FRAME_LUT, FRAME_LAMPS, FRAME_LAMP_COUNT, FRAME_CHANCES, FRAME_SUNS, FRAME_SUN_COUNT,
  LAMP_KIND, LAMP_CHANCE, LAMP_AREA, LAMP_OUTER, LAMP_INNER, LAMP_CENTRE, LAMP_U, LAMP_V, LAMP_NORMAL, LAMP_RADIANCE, LAMP_BYTES,
  LAMP_DISC, LAMP_POINT, LAMP_SPOT, LAMP_SUN, LAMP_TRIANGLE, LAMP_SURROUND,
} from "./layout";
import { PI, turn, sine, cosine, basis, luminance, tangentX, tangentY, tangentZ, bitangentX, bitangentY, bitangentZ } from "./math";
import { filmX, filmY } from "./camera";
import { readTexture, texelR, texelG, texelB } from "./texture";
import { imageLight, imageDensity, drawImage, find, imageR, imageG, imageB, imageX, imageY, imageZ } from "./image";

export let lightR: f32 = 0;
export let lightG: f32 = 0;
export let lightB: f32 = 0;

function gradient(frame: usize, y: f32, seen: bool): void {
  const middle = frame + (seen ? FRAME_BACK_MIDDLE : FRAME_HORIZON);
  const up = seen ? FRAME_BACK_TOP : FRAME_ZENITH, down = seen ? FRAME_BACK_BOTTOM : FRAME_NADIR;
  const end = frame + (y >= 0 ? up : down);
  const t = sqrt<f32>(min<f32>(abs<f32>(y), 1));
  lightR = load<f32>(middle) + (load<f32>(end) - load<f32>(middle)) * t;
  lightG = load<f32>(middle, 4) + (load<f32>(end, 4) - load<f32>(middle, 4)) * t;
  lightB = load<f32>(middle, 8) + (load<f32>(end, 8) - load<f32>(middle, 8)) * t;
}

/** Makes light of a colour that is to come out of the grade as it is; the table is the grade backwards. */
function asShown(look: usize): void {
  const x = sqrt<f32>(min<f32>(luminance(lightR, lightG, lightB), 1)) * <f32>LOOK_CELLS;
  const i = min<u32>(<u32>x, LOOK_CELLS - 1);
  const cell = look + (<usize>i << 2);
  const gain = load<f32>(cell) + (load<f32>(cell, 4) - load<f32>(cell)) * (x - <f32>i);
  const m = look + ((<usize>LOOK_CELLS + 1) << 2);
  const r = lightR * gain, g = lightG * gain, b = lightB * gain;
  lightR = max<f32>(0, load<f32>(m) * r + load<f32>(m, 4) * g + load<f32>(m, 8) * b);
  lightG = max<f32>(0, load<f32>(m, 12) * r + load<f32>(m, 16) * g + load<f32>(m, 20) * b);
  lightB = max<f32>(0, load<f32>(m, 24) * r + load<f32>(m, 28) * g + load<f32>(m, 32) * b);
}

/** Radiance from a direction without suns; `seen` asks for what the camera sees there. */
export function surround(frame: usize, dx: f32, dy: f32, dz: f32, seen: bool): void {
  const image = <usize>load<u32>(frame + FRAME_IMAGE);
  if (seen && load<u32>(frame + FRAME_CLEAR) != 0) lightR = lightG = lightB = 0;
  else if (seen && load<u32>(frame + FRAME_PICTURE) != 0) {
    // Flat behind the film, whichever way glass bent the ray.
    const u: f32 = load<f32>(frame, FRAME_PICTURE_FIT) + load<f32>(frame, FRAME_PICTURE_FIT + 4) * filmX;
    const v: f32 = load<f32>(frame, FRAME_PICTURE_FIT + 8) + load<f32>(frame, FRAME_PICTURE_FIT + 12) * filmY;
    readTexture(<usize>load<u32>(frame + FRAME_PICTURE), <usize>load<u32>(frame + FRAME_LUT), u, v);
    lightR = texelR;
    lightG = texelG;
    lightB = texelB;
    const look = <usize>load<u32>(frame + FRAME_PICTURE_LOOK);
    if (look != 0) asShown(look);
  }
  else if (image != 0 && (!seen || load<u32>(frame + FRAME_IMAGE_SEEN) != 0)) {
    imageLight(image, dx, dy, dz);
    lightR = imageR;
    lightG = imageG;
    lightB = imageB;
  } else gradient(frame, dy, seen);
}

/** Density with which drawLamp draws this direction towards the surround's picture. */
export function surroundDensity(frame: usize, dx: f32, dy: f32, dz: f32): f32 {
  const image = <usize>load<u32>(frame + FRAME_IMAGE);
  if (image == 0) return 0;
  // The picture is the last of the lamps.
  const lamp = <usize>load<u32>(frame + FRAME_LAMPS) + <usize>(load<u32>(frame + FRAME_LAMP_COUNT) - 1) * LAMP_BYTES;
  return load<f32>(lamp, LAMP_CHANCE) * imageDensity(image, dx, dy, dz);
}

/** The i-th sun's disc from a direction: true where it stands there; radiance and density are left. */
export function meetSun(frame: usize, i: u32, dx: f32, dy: f32, dz: f32): bool {
  const lamp = <usize>load<u32>(frame + FRAME_LAMPS) + <usize>load<u32>(<usize>load<u32>(frame + FRAME_SUNS) + (<usize>i << 2)) * LAMP_BYTES;
  const x: f32 = dx + load<f32>(lamp, LAMP_NORMAL), y: f32 = dy + load<f32>(lamp, LAMP_NORMAL + 4), z: f32 = dz + load<f32>(lamp, LAMP_NORMAL + 8);
  const outer = load<f32>(lamp, LAMP_OUTER);
  // 1 - cos = |difference|² / 2 keeps its digits.
  if (<f32>0.5 * (x * x + y * y + z * z) > outer) return false;
  setLight(lamp, 1);
  toDensity = load<f32>(lamp, LAMP_CHANCE) / (2 * PI * outer);
  return true;
}

export function sunCount(frame: usize): u32 {
  return load<u32>(frame + FRAME_SUN_COUNT);
}

/** Direction and distance to the point drawn last, and its density as solid angle; 0 for what has no extent. */
export let toX: f32 = 0;
export let toY: f32 = 0;
export let toZ: f32 = 0;
export let toDistance: f32 = 0;
export let toDensity: f32 = 0;

// @ts-ignore: decorator
@inline
function setLight(lamp: usize, k: f32): void {
  lightR = k * load<f32>(lamp, LAMP_RADIANCE);
  lightG = k * load<f32>(lamp, LAMP_RADIANCE + 4);
  lightB = k * load<f32>(lamp, LAMP_RADIANCE + 8);
}

/** Radiance of a lamp's shape that was met at distance t along a ray, and the density of its having been drawn. */
export function metLamp(lamp: usize, dx: f32, dy: f32, dz: f32, t: f32): void {
  const c: f32 = -(dx * load<f32>(lamp, LAMP_NORMAL) + dy * load<f32>(lamp, LAMP_NORMAL + 4) + dz * load<f32>(lamp, LAMP_NORMAL + 8));
  setLight(lamp, 1);
  toDensity = load<f32>(lamp, LAMP_CHANCE) * t * t / (c * load<f32>(lamp, LAMP_AREA));
}

/** Draws a point on one of the lamps; false where it does not shine this way. */
export function drawLamp(frame: usize, px: f32, py: f32, pz: f32, choice: f32, u: f32, v: f32): bool {
  const count = load<u32>(frame + FRAME_LAMP_COUNT);
  const i = find(<usize>load<u32>(frame + FRAME_CHANCES), count, choice);
  const lamp = <usize>load<u32>(frame + FRAME_LAMPS) + <usize>i * LAMP_BYTES;
  return drawPoint(frame, lamp, px, py, pz, u, v);
}

/** Draws a point on this lamp. */
export function drawPoint(frame: usize, lamp: usize, px: f32, py: f32, pz: f32, u: f32, v: f32): bool {
  const kind = load<u32>(lamp + LAMP_KIND), chance = load<f32>(lamp, LAMP_CHANCE);
  const nx = load<f32>(lamp, LAMP_NORMAL), ny = load<f32>(lamp, LAMP_NORMAL + 4), nz = load<f32>(lamp, LAMP_NORMAL + 8);
  if (kind == LAMP_SURROUND) {
    const d = drawImage(<usize>load<u32>(frame + FRAME_IMAGE), u, v);
    if (!(d > 0)) return false;
    toX = imageX;
    toY = imageY;
    toZ = imageZ;
    toDistance = f32.MAX_VALUE;
    toDensity = chance * d;
    surround(frame, toX, toY, toZ, false);
    return true;
  }
  if (kind == LAMP_SUN) {
    const outer = load<f32>(lamp, LAMP_OUTER);
    toDistance = f32.MAX_VALUE;
    if (outer == 0) {
      toX = -nx;
      toY = -ny;
      toZ = -nz;
      toDensity = 0;
      setLight(lamp, 1 / chance);
      return true;
    }
    basis(-nx, -ny, -nz);
    turn(u);
    const k: f32 = v * outer, s = sqrt<f32>(max<f32>(0, k * (2 - k)));
    toX = -nx * (1 - k) + s * (cosine * tangentX + sine * bitangentX);
    toY = -ny * (1 - k) + s * (cosine * tangentY + sine * bitangentY);
    toZ = -nz * (1 - k) + s * (cosine * tangentZ + sine * bitangentZ);
    toDensity = chance / (2 * PI * outer);
    setLight(lamp, 1);
    return true;
  }
  let a: f32 = 0, b: f32 = 0;
  if (kind == LAMP_DISC) {
    turn(u);
    const r = sqrt<f32>(v);
    a = r * cosine;
    b = r * sine;
  } else if (kind == LAMP_TRIANGLE) {
    const r = sqrt<f32>(u);
    a = r * (1 - v);
    b = r * v;
  } else if (kind != LAMP_POINT && kind != LAMP_SPOT) {
    a = u - <f32>0.5;
    b = v - <f32>0.5;
  }
  const x: f32 = load<f32>(lamp, LAMP_CENTRE) + a * load<f32>(lamp, LAMP_U) + b * load<f32>(lamp, LAMP_V) - px;
  const y: f32 = load<f32>(lamp, LAMP_CENTRE + 4) + a * load<f32>(lamp, LAMP_U + 4) + b * load<f32>(lamp, LAMP_V + 4) - py;
  const z: f32 = load<f32>(lamp, LAMP_CENTRE + 8) + a * load<f32>(lamp, LAMP_U + 8) + b * load<f32>(lamp, LAMP_V + 8) - pz;
  const d2: f32 = x * x + y * y + z * z;
  if (!(d2 > 0)) return false;
  toDistance = sqrt<f32>(d2);
  const n: f32 = 1 / toDistance;
  toX = x * n;
  toY = y * n;
  toZ = z * n;
  let c: f32 = -(toX * nx + toY * ny + toZ * nz);
  if (kind == LAMP_POINT || kind == LAMP_SPOT) {
    let k: f32 = 1 / (d2 * chance);
    if (kind == LAMP_SPOT) {
      // KHR_lights_punctual: the square of the share of the way from the outer to the inner cosine.
      const outer = load<f32>(lamp, LAMP_OUTER);
      const s: f32 = (c - outer) / max<f32>(<f32>0.001, load<f32>(lamp, LAMP_INNER) - outer);
      if (s <= 0) return false;
      k *= s < 1 ? s * s : 1;
    }
    toDensity = 0;
    setLight(lamp, k);
    return true;
  }
  // Meshes shine on both sides, lamps on one; and a mesh must not stand in its own light.
  if (kind == LAMP_TRIANGLE) {
    c = abs(c);
    toDistance *= <f32>0.9999;
  }
  if (!(c > 0)) return false;
  toDensity = chance * d2 / (c * load<f32>(lamp, LAMP_AREA));
  setLight(lamp, 1);
  return true;
}

/** Illuminance that a lamp would give a level ground at the point, were nothing in between; rough, for choosing. */
export function groundLight(frame: usize, lamp: usize, px: f32, py: f32, pz: f32): f32 {
  const kind = load<u32>(lamp + LAMP_KIND);
  const l = luminance(load<f32>(lamp, LAMP_RADIANCE), load<f32>(lamp, LAMP_RADIANCE + 4), load<f32>(lamp, LAMP_RADIANCE + 8));
  const ny = load<f32>(lamp, LAMP_NORMAL + 4);
  if (kind == LAMP_SURROUND) return l * PI;
  if (kind == LAMP_SUN) {
    const outer = load<f32>(lamp, LAMP_OUTER);
    return max<f32>(0, -ny) * l * (outer > 0 ? 2 * PI * outer : 1);
  }
  if (!drawPoint(frame, lamp, px, py, pz, <f32>0.5, <f32>0.5) || toY <= 0) return 0;
  const k: f32 = toY * luminance(lightR, lightG, lightB);
  return toDensity > 0 ? k * load<f32>(lamp, LAMP_CHANCE) / toDensity : k * load<f32>(lamp, LAMP_CHANCE);
}
