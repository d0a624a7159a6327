/**
 * Facets: GGX (Walter et al., "Microfacet models for refraction through rough surfaces", 2007; stretched as
 * in Heitz, "Understanding the masking-shadowing function", 2014, whose height-correlated term is used),
 * visible normals drawn by spherical caps (Dupuy and Benyoub, 2023), and what a smooth face reflects.
 */
import { PI, sinCosTurns, sine, cosine } from "../math";

/** Below this the lobe is too narrow to evaluate in single precision. */
export const MIN_ALPHA: f32 = 0.0016;

// @ts-ignore: decorator
/** x⁵, of Schlick's approximation. */
@inline
export function pow5(x: f32): f32 {
  const x2: f32 = x * x;
  return x2 * x2 * x;
}

/** Exact Fresnel reflectance of a dielectric for light arriving at cosine c under relative index
 *  eta = n(arriving side) / n(other side); 1 past the critical angle. */
export function fresnel(c: f32, eta: f32): f32 {
  const s2: f32 = eta * eta * (1 - c * c);
  if (s2 >= 1) return 1;
  const t = sqrt<f32>(1 - s2);
  const a: f32 = (eta * c - t) / (eta * c + t);
  const b: f32 = (c - eta * t) / (c + eta * t);
  return <f32>0.5 * (a * a + b * b);
}

/** Of the lobe last asked: its shape D V cosine without Fresnel, its density, and the half vector's cosine. */
export let lobeValue: f32 = 0;
export let lobePdf: f32 = 0;
export let lobeCos: f32 = 0;

/** Evaluates the lobe for the pair of directions, by its widths along x and y. */
export function ggx(vx: f32, vy: f32, vz: f32, lx: f32, ly: f32, lz: f32, ax: f32, ay: f32): void {
  let hx: f32 = vx + lx, hy: f32 = vy + ly, hz: f32 = vz + lz;
  const n: f32 = 1 / sqrt<f32>(hx * hx + hy * hy + hz * hz);
  hx *= n;
  hy *= n;
  hz *= n;
  lobeCos = max<f32>(vx * hx + vy * hy + vz * hz, 0);
  const px: f32 = hx / ax, py: f32 = hy / ay;
  const q: f32 = px * px + py * py + hz * hz;
  const d: f32 = 1 / (PI * ax * ay * q * q);
  const sx: f32 = vx * ax, sy: f32 = vy * ay, tx: f32 = lx * ax, ty: f32 = ly * ay;
  const sv = sqrt<f32>(sx * sx + sy * sy + vz * vz);
  const sl = sqrt<f32>(tx * tx + ty * ty + lz * lz);
  lobeValue = d * <f32>0.5 * lz / (lz * sv + vz * sl);
  // Density of visible normals: D / (2 (vz + sqrt(ax² vx² + ay² vy² + vz²))).
  lobePdf = d * <f32>0.5 / (vz + sv);
}

/** The direction that was drawn last. */
export let outX: f32 = 0;
export let outY: f32 = 0;
export let outZ: f32 = 0;

/** Draws a facet that the view vector sees, left in outX .. outZ. */
export function sampleVndf(vx: f32, vy: f32, vz: f32, ax: f32, ay: f32, u: f32, v: f32): void {
  sinCosTurns(u);
  let wx: f32 = vx * ax, wy: f32 = vy * ay, wz = vz;
  let n: f32 = 1 / sqrt<f32>(wx * wx + wy * wy + wz * wz);
  wx *= n;
  wy *= n;
  wz *= n;
  const z: f32 = (1 - v) * (1 + wz) - wz;
  const r = sqrt<f32>(min<f32>(max<f32>(1 - z * z, 0), 1));
  const hx: f32 = (r * cosine + wx) * ax, hy: f32 = (r * sine + wy) * ay, hz: f32 = max<f32>(z + wz, <f32>1e-6);
  n = 1 / sqrt<f32>(hx * hx + hy * hy + hz * hz);
  outX = hx * n;
  outY = hy * n;
  outZ = hz * n;
}
