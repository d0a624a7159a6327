/**
 * Rough glass: facets that mirror or bend (Walter et al., "Microfacet models for refraction through
 * rough surfaces", 2007), as the boundary of a solid or, bending nothing, as a thin sheet. What single
 * scattering loses at an angle is given back by the material's own table (energyCompensation.ts).
 * Directions are local as in surface.ts; radiance is kept divided by the square of the index, so
 * nothing is scaled on the way in or out.
 */
import { PI } from "../math";
import { MATERIAL_GLASS, GLASS_CELLS, THIN } from "../layout";
import { baseR, baseG, baseB, roughness, flags } from "./materialState";
import { fresnel, sampleVndf, outX, outY, outZ, MIN_ALPHA } from "./microfacet";
import { valueR, valueG, valueB, diffuseR, diffuseG, diffuseB, bsdfPdf } from "./surface";

let alpha: f32 = 0;
let eta: f32 = 1;
let thin: bool = false;
let table: usize = 0;

/** Reflectance of a facet; a sheet mirrors from both faces, to and fro: 2f / (1 + f). */
// @ts-ignore: decorator
@inline
function mirrored(c: f32): f32 {
  const f = fresnel(c, eta);
  return thin ? 2 * f / (1 + f) : f;
}

/** Takes the material for what follows. `ratio` is the index on the arriving side over that behind. */
export function setGlass(material: usize, ratio: f32, outside: bool): void {
  alpha = max<f32>(roughness * roughness, MIN_ALPHA);
  eta = ratio;
  thin = (flags & THIN) != 0;
  table = <usize>load<u32>(material + MATERIAL_GLASS) + (outside || thin ? 0 : GLASS_CELLS * 4);
}

/** 1 / energy of the table at the view's cosine. */
function energyGain(c: f32): f32 {
  const x: f32 = sqrt<f32>(min<f32>(max<f32>(c, 0), 1)) * <f32>(GLASS_CELLS - 1);
  const i = <u32>min<f32>(x, <f32>(GLASS_CELLS - 2));
  const p = table + (<usize>i << 2);
  return 1 / (load<f32>(p) + (x - <f32>i) * (load<f32>(p, 4) - load<f32>(p)));
}

/** Smith's masking of one direction. */
// @ts-ignore: decorator
@inline
function masking(c: f32): f32 {
  const a2: f32 = alpha * alpha;
  return 2 * c / (c + sqrt<f32>(a2 + (1 - a2) * c * c));
}

/** Value times cosine and density for light from l, on either side, towards v. */
export function evalGlass(vx: f32, vy: f32, vz: f32, lx: f32, ly: f32, lz: f32): void {
  valueR = valueG = valueB = diffuseR = diffuseG = diffuseB = bsdfPdf = 0;
  if (vz <= 0 || lz == 0) return;
  const through = lz < 0;
  // A thin sheet lets light on as it would mirror it.
  const mz: f32 = thin ? abs(lz) : lz;
  let hx: f32, hy: f32, hz: f32;
  if (!through || thin) {
    hx = vx + lx;
    hy = vy + ly;
    hz = vz + mz;
  } else {
    hx = -(eta * vx + lx);
    hy = -(eta * vy + ly);
    hz = -(eta * vz + lz);
    if (eta > 1) {
      hx = -hx;
      hy = -hy;
      hz = -hz;
    }
  }
  let n: f32 = sqrt<f32>(hx * hx + hy * hy + hz * hz);
  if (!(n > 0)) return;
  n = hz < 0 ? -1 / n : 1 / n;
  hx *= n;
  hy *= n;
  hz *= n;
  const c: f32 = vx * hx + vy * hy + vz * hz;
  if (c <= 0) return;
  const a2: f32 = alpha * alpha;
  const q: f32 = hx * hx + hy * hy + hz * hz * a2;
  const d: f32 = a2 / (PI * q * q);
  const facets: f32 = masking(vz) * d * c / vz;
  const f = mirrored(c);
  if (!through || thin) bsdfPdf = (through ? 1 - f : f) * facets / (4 * c);
  else {
    const o: f32 = lx * hx + ly * hy + lz * hz;
    if (o >= 0) return;
    const k: f32 = eta * c + o;
    bsdfPdf = (1 - f) * facets * -o / (k * k);
  }
  const value: f32 = bsdfPdf * masking(abs(lz)) * energyGain(vz);
  valueR = value * (through ? baseR : 1);
  valueG = value * (through ? baseG : 1);
  valueB = value * (through ? baseB : 1);
}

/** Draws a direction; false where there is none. */
export function sampleGlass(vx: f32, vy: f32, vz: f32, choice: f32, u: f32, v: f32): bool {
  sampleVndf(vx, vy, vz, alpha, alpha, u, v);
  const hx = outX, hy = outY, hz = outZ;
  const c: f32 = vx * hx + vy * hy + vz * hz;
  if (c <= 0) return false;
  const f = mirrored(c);
  if (choice < f || thin) {
    outX = 2 * c * hx - vx;
    outY = 2 * c * hy - vy;
    outZ = 2 * c * hz - vz;
    if (outZ <= 0) return false;
    if (choice >= f) outZ = -outZ;
    return true;
  }
  const k: f32 = eta * c - sqrt<f32>(max<f32>(0, 1 - eta * eta * (1 - c * c)));
  outX = k * hx - eta * vx;
  outY = k * hy - eta * vy;
  outZ = k * hz - eta * vz;
  return outZ < 0;
}
