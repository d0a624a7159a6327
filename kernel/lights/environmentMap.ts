/**
 * The environment as an equirectangular image: its light from a direction, and directions drawn by its
 * brightness (Pharr, Jakob, Humphreys, "Physically Based Rendering", 12.5: a cumulative table of the
 * rows and one of the columns in each row). Longitude is linear in x, latitude in y.
 */
import { ENV_WIDTH, ENV_HEIGHT, ENV_TEXELS, ENV_MARGINAL_CDF, ENV_CONDITIONAL_CDF, ENV_COS, ENV_SIN, ENV_STRENGTH } from "../layout";
import { PI, sinCosTurns, sine, cosine, arcTurn } from "../math";

export let environmentR: f32 = 0;
export let environmentG: f32 = 0;
export let environmentB: f32 = 0;
export let environmentX: f32 = 0;
export let environmentY: f32 = 0;
export let environmentZ: f32 = 0;
let column: f32 = 0;
let row: f32 = 0;

/** Place of a direction in the image, both 0..1. */
function locate(image: usize, dx: f32, dy: f32, dz: f32): void {
  const c = load<f32>(image, ENV_COS), s = load<f32>(image, ENV_SIN);
  // Turned back by the environment's own turn.
  const x: f32 = c * dx - s * dz, z: f32 = s * dx + c * dz;
  column = arcTurn(x, -z) + <f32>0.5;
  column -= floor<f32>(column);
  const y = min<f32>(max<f32>(dy, -1), 1);
  // Angle from the zenith by its half-angle tangent, exact at the poles.
  row = 2 * arcTurn(sqrt<f32>(max<f32>(0, x * x + z * z)), 1 + y) * 2;
  if (1 + y <= 0) row = 1;
}

// @ts-ignore: decorator
@inline
function addTexel(p: usize, k: f32): void {
  environmentR += k * load<f32>(p);
  environmentG += k * load<f32>(p, 4);
  environmentB += k * load<f32>(p, 8);
}

/** Radiance from a direction, between texels. */
export function environmentRadiance(image: usize, dx: f32, dy: f32, dz: f32): void {
  locate(image, dx, dy, dz);
  const w = load<u32>(image + ENV_WIDTH), h = load<u32>(image + ENV_HEIGHT);
  const texels = <usize>load<u32>(image + ENV_TEXELS);
  const x: f32 = column * <f32>w - <f32>0.5, y = min<f32>(max<f32>(row * <f32>h - <f32>0.5, 0), <f32>(h - 1));
  const fx = floor<f32>(x), fy = floor<f32>(y);
  const a: f32 = x - fx, b: f32 = y - fy;
  const x0 = fx < 0 ? w - 1 : min<u32>(<u32>fx, w - 1), x1 = x0 + 1 == w ? 0 : x0 + 1;
  const y0 = min<u32>(<u32>fy, h - 1), y1 = min<u32>(y0 + 1, h - 1);
  environmentR = environmentG = environmentB = 0;
  addTexel(texels + <usize>(y0 * w + x0) * 12, (1 - a) * (1 - b));
  addTexel(texels + <usize>(y0 * w + x1) * 12, a * (1 - b));
  addTexel(texels + <usize>(y1 * w + x0) * 12, (1 - a) * b);
  addTexel(texels + <usize>(y1 * w + x1) * 12, a * b);
  const k = load<f32>(image, ENV_STRENGTH);
  environmentR *= k;
  environmentG *= k;
  environmentB *= k;
}

/** The largest i with table[i] <= u, below count. */
// @ts-ignore: decorator
@inline
export function findCell(table: usize, count: u32, u: f32): u32 {
  let low: u32 = 0, high = count;
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if (load<f32>(table + (<usize>mid << 2)) <= u) low = mid;
    else high = mid;
  }
  return low;
}

/** Density over solid angle with which drawImage draws a direction. */
export function environmentMapPdf(image: usize, dx: f32, dy: f32, dz: f32): f32 {
  locate(image, dx, dy, dz);
  const w = load<u32>(image + ENV_WIDTH), h = load<u32>(image + ENV_HEIGHT);
  const x = min<u32>(<u32>(column * <f32>w), w - 1), y = min<u32>(<u32>(row * <f32>h), h - 1);
  return cellPdf(image, w, h, x, y, sqrt<f32>(max<f32>(0, 1 - dy * dy)));
}

function cellPdf(image: usize, w: u32, h: u32, x: u32, y: u32, level: f32): f32 {
  const rows = <usize>load<u32>(image + ENV_MARGINAL_CDF) + (<usize>y << 2);
  const columns = <usize>load<u32>(image + ENV_CONDITIONAL_CDF) + (<usize>(y * (w + 1) + x) << 2);
  const p: f32 = (load<f32>(rows, 4) - load<f32>(rows)) * (load<f32>(columns, 4) - load<f32>(columns));
  return level > 0 ? p * <f32>w * <f32>h / (2 * PI * PI * level) : 0;
}

/** Draws a direction into imageX .. imageZ; its density, 0 where none can be drawn. */
export function sampleEnvironmentMap(image: usize, u: f32, v: f32): f32 {
  const w = load<u32>(image + ENV_WIDTH), h = load<u32>(image + ENV_HEIGHT);
  const rows = <usize>load<u32>(image + ENV_MARGINAL_CDF);
  const y = findCell(rows, h, v);
  const r0 = load<f32>(rows + (<usize>y << 2)), r1 = load<f32>(rows + (<usize>y << 2), 4);
  const columns = <usize>load<u32>(image + ENV_CONDITIONAL_CDF) + (<usize>(y * (w + 1)) << 2);
  const x = findCell(columns, w, u);
  const c0 = load<f32>(columns + (<usize>x << 2)), c1 = load<f32>(columns + (<usize>x << 2), 4);
  if (!(r1 > r0 && c1 > c0)) return 0;
  const a: f32 = (<f32>x + (u - c0) / (c1 - c0)) / <f32>w, b: f32 = (<f32>y + (v - r0) / (r1 - r0)) / <f32>h;
  sinCosTurns(b * <f32>0.5);
  const level = sine;
  environmentY = cosine;
  sinCosTurns(a);
  // The middle column looks to -Z, and x grows to the right of one who looks there.
  const px: f32 = -level * sine, pz: f32 = level * cosine;
  const c = load<f32>(image, ENV_COS), s = load<f32>(image, ENV_SIN);
  environmentX = c * px + s * pz;
  environmentZ = c * pz - s * px;
  return cellPdf(image, w, h, x, y, level);
}
