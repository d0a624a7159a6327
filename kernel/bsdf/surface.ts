/**
 * What an opaque surface does with light: metallic-roughness as in glTF 2.0 (Khronos, appendix B)
 * with clear coat, sheen, specular, anisotropy and diffuse transmission.
 *
 * Highlights: GGX (Walter et al., "Microfacet models for refraction through rough surfaces", 2007;
 * stretched as in Heitz, "Understanding the masking-shadowing function", 2014, whose height-correlated
 * term is used), visible normals drawn by spherical caps (Dupuy and Benyoub, 2023). Sheen: Estevez and
 * Kulla, "Production friendly microfacet sheen BRDF", 2017, with Ashikhmin's term.
 * What single scattering loses is given back to metals, and what lies below a layer gets what the
 * layer lets through both ways, by the tables of energy.ts: Kulla and Conty, "Revisiting physically
 * based shading at Imageworks", 2017. Such a layer over white returns all light, and is reciprocal.
 *
 * Directions are local: z is the shading normal, x the tangent; both point away from the surface.
 */
import { PI, sinCosTurns, sine, cosine, basis, tangentX, tangentY, tangentZ, bitangentX, bitangentY, bitangentZ } from "../math";
import { ENERGY_A, ENERGY_B, ENERGY_SHEEN, ENERGY_MEAN_A, ENERGY_MEAN_B, ENERGY_MEAN_SHEEN, ENERGY_CELLS } from "../layout";
import {
  baseR, baseG, baseB, metalness, roughness, ior, specular, specularR, specularG, specularB, coat, coatRoughness,
  sheenR, sheenG, sheenB, sheenRoughness, anisotropy, translucency, translucentR, translucentG, translucentB, layered,
} from "./materialState";

let energy: usize = 0;
let f0R: f32 = 0;
let f0G: f32 = 0;
let f0B: f32 = 0;
let f90: f32 = 0;
let alphaX: f32 = 0;
let alphaY: f32 = 0;
let row: f32 = 0;
// What single scattering of the metal loses at the view's angle, and its colour; 0 where it is no metal.
let missingEnergy: f32 = 0;
let lossR: f32 = 0;
let lossG: f32 = 0;
let lossB: f32 = 0;
// Diffuse light passes the highlight's layer twice.
let dielectric: f32 = 0;
let transmittedView: f32 = 0;
let transmittedMean: f32 = 0;
let coatAlpha: f32 = 0;
let coatRow: f32 = 0;
let coatView: f32 = 1;
// The coat's normal where it is not the surface's, in the surface's frame, and a frame about it.
let coatHasOwnFrame: bool = false;
let coatNX: f32 = 0;
let coatNY: f32 = 0;
let coatNZ: f32 = 1;
let coatTX: f32 = 0;
let coatTY: f32 = 0;
let coatTZ: f32 = 0;
let coatBX: f32 = 0;
let coatBY: f32 = 0;
let coatBZ: f32 = 0;
let coatMean: f32 = 1;
let sheenRow: f32 = 0;
let sheenAlpha: f32 = 0;
let sheenView: f32 = 1;
let sheenMean: f32 = 1;
let sheenMax: f32 = 0;
let chooseDiffuse: f32 = 0;
let chooseTransmission: f32 = 0;
let chooseCoat: f32 = 0;
let chooseLobe: f32 = 0;

/** Below this the lobe is too narrow to evaluate in single precision. */
export const MIN_ALPHA: f32 = 0.0016;

// @ts-ignore: decorator
@inline
function pow5(x: f32): f32 {
  const x2: f32 = x * x;
  return x2 * x2 * x;
}

/** A table over [roughness][root of cosine], between its cells. */
function lookUpEnergy(table: usize, rough: f32, c: f32): f32 {
  const x: f32 = sqrt<f32>(min<f32>(max<f32>(c, 0), 1)) * <f32>(ENERGY_CELLS - 1);
  const i = <u32>min<f32>(x, <f32>(ENERGY_CELLS - 2)), j = <u32>min<f32>(rough, <f32>(ENERGY_CELLS - 2));
  const a: f32 = x - <f32>i, b: f32 = rough - <f32>j;
  const p = energy + table + (<usize>(j * ENERGY_CELLS + i) << 2);
  const low: f32 = load<f32>(p) + a * (load<f32>(p, 4) - load<f32>(p));
  const high: f32 = load<f32>(p, ENERGY_CELLS * 4) + a * (load<f32>(p, ENERGY_CELLS * 4 + 4) - load<f32>(p, ENERGY_CELLS * 4));
  return low + b * (high - low);
}

let pairA: f32 = 0;
let pairB: f32 = 0;

/** Both tables of the highlight at once. */
function lookUpEnergyPair(rough: f32, c: f32): void {
  const x: f32 = sqrt<f32>(min<f32>(max<f32>(c, 0), 1)) * <f32>(ENERGY_CELLS - 1);
  const i = <u32>min<f32>(x, <f32>(ENERGY_CELLS - 2)), j = <u32>min<f32>(rough, <f32>(ENERGY_CELLS - 2));
  const a: f32 = x - <f32>i, b: f32 = rough - <f32>j;
  const p = energy + (<usize>(j * ENERGY_CELLS + i) << 2);
  const lowA: f32 = load<f32>(p, ENERGY_A) + a * (load<f32>(p, ENERGY_A + 4) - load<f32>(p, ENERGY_A));
  const highA: f32 = load<f32>(p, ENERGY_A + ENERGY_CELLS * 4) + a * (load<f32>(p, ENERGY_A + ENERGY_CELLS * 4 + 4) - load<f32>(p, ENERGY_A + ENERGY_CELLS * 4));
  const lowB: f32 = load<f32>(p, ENERGY_B) + a * (load<f32>(p, ENERGY_B + 4) - load<f32>(p, ENERGY_B));
  const highB: f32 = load<f32>(p, ENERGY_B + ENERGY_CELLS * 4) + a * (load<f32>(p, ENERGY_B + ENERGY_CELLS * 4 + 4) - load<f32>(p, ENERGY_B + ENERGY_CELLS * 4));
  pairA = lowA + b * (highA - lowA);
  pairB = lowB + b * (highB - lowB);
}

// @ts-ignore: decorator
@inline
function lookUpMeanEnergy(table: usize, rough: f32): f32 {
  const j = <u32>min<f32>(rough, <f32>(ENERGY_CELLS - 2));
  const p = energy + table + (<usize>j << 2);
  return load<f32>(p) + (rough - <f32>j) * (load<f32>(p, 4) - load<f32>(p));
}

/** Tells setSurface of the coat's own normal, in the surface's frame; (0, 0, 1) where it shares the surface's. */
export function setCoatFrame(x: f32, y: f32, z: f32): void {
  coatHasOwnFrame = z < 1;
  if (!coatHasOwnFrame) return;
  coatNX = x;
  coatNY = y;
  coatNZ = z;
  basis(x, y, z);
  coatTX = tangentX;
  coatTY = tangentY;
  coatTZ = tangentZ;
  coatBX = bitangentX;
  coatBY = bitangentY;
  coatBZ = bitangentZ;
}

/** Takes what look.ts holds for the evaluations that follow, seen at the cosine. `tables` lie as ENERGY_ says. */
export function setSurface(tables: usize, viewX: f32, viewY: f32, cosView: f32): void {
  energy = tables;
  const m = metalness, rough = min<f32>(max<f32>(roughness, 0), 1);
  const e: f32 = (ior - 1) / (ior + 1);
  const d: f32 = e * e * specular;
  const dR: f32 = min<f32>(d * specularR, 1), dG: f32 = min<f32>(d * specularG, 1), dB: f32 = min<f32>(d * specularB, 1);
  f0R = dR + (baseR - dR) * m;
  f0G = dG + (baseG - dG) * m;
  f0B = dB + (baseB - dB) * m;
  f90 = specular + (1 - specular) * m;
  const alpha: f32 = rough * rough;
  // KHR_materials_anisotropy: along the tangent the lobe widens towards 1.
  alphaX = max<f32>(alpha + (1 - alpha) * anisotropy * anisotropy, MIN_ALPHA);
  alphaY = max<f32>(alpha, MIN_ALPHA);
  // A brushed lobe loses about what a round one of its root mean square width does.
  row = (anisotropy > 0 ? sqrt<f32>(sqrt<f32>((alphaX * alphaX + alphaY * alphaY) * <f32>0.5)) : rough) * <f32>(ENERGY_CELLS - 1);
  lookUpEnergyPair(row, cosView);
  const a = pairA, b = pairB;
  missingEnergy = 0;
  const meanA = lookUpMeanEnergy(ENERGY_MEAN_A, row), meanB = lookUpMeanEnergy(ENERGY_MEAN_B, row);
  if (m > 0) {
    const mean: f32 = meanA + meanB;
    missingEnergy = m * (1 - a - b);
    const k: f32 = 1 / (PI * max<f32>(1 - mean, <f32>1e-6));
    lossR = k * multipleScattering(baseR, mean);
    lossG = k * multipleScattering(baseG, mean);
    lossB = k * multipleScattering(baseB, mean);
  }
  dielectric = max(dR, max(dG, dB));
  transmittedView = 1 - dielectric * a - specular * b;
  transmittedMean = 1 - dielectric * meanA - specular * meanB;
  let coatShare: f32 = 0, sheenShare: f32 = 0;
  sheenMax = 0;
  if (layered) {
    if (coat > 0) {
      const r = min<f32>(max<f32>(coatRoughness, 0), 1);
      coatAlpha = max<f32>(r * r, MIN_ALPHA);
      coatRow = r * <f32>(ENERGY_CELLS - 1);
      lookUpEnergyPair(coatRow, coatHasOwnFrame ? coatNX * viewX + coatNY * viewY + coatNZ * cosView : cosView);
      coatShare = coat * (<f32>0.04 * pairA + pairB);
      coatView = 1 - coatShare;
      coatMean = 1 - coat * (<f32>0.04 * lookUpMeanEnergy(ENERGY_MEAN_A, coatRow) + lookUpMeanEnergy(ENERGY_MEAN_B, coatRow));
    }
    sheenMax = max(sheenR, max(sheenG, sheenB));
    if (sheenMax > 0) {
      const r = min<f32>(max<f32>(sheenRoughness, <f32>0.07), 1);
      sheenAlpha = r * r;
      sheenRow = r * <f32>(ENERGY_CELLS - 1);
      sheenShare = sheenMax * lookUpEnergy(ENERGY_SHEEN, sheenRow, cosView);
      sheenView = 1 - sheenShare;
      sheenMean = 1 - sheenMax * lookUpMeanEnergy(ENERGY_MEAN_SHEEN, sheenRow);
    }
  }
  // Chances of the lobes by what each reflects at this angle.
  const base = max(baseR, max(baseG, baseB));
  const under: f32 = 1 - coatShare;
  const all: f32 = under * (1 - m) * transmittedView;
  const through: f32 = all * translucency * max(translucentR, max(translucentG, translucentB));
  const diffuse: f32 = all * (1 - translucency) * base + under * (sheenShare + missingEnergy * base);
  const lobe: f32 = under * (max(f0R, max(f0G, f0B)) * a + f90 * b);
  const sum: f32 = diffuse + through + lobe + coatShare;
  const k: f32 = sum > 0 ? 1 / sum : 0;
  chooseLobe = lobe > 0 ? max<f32>(lobe * k, <f32>0.1) : 0;
  chooseCoat = coatShare * k;
  chooseTransmission = through * k;
  chooseDiffuse = sum > 0 ? max<f32>(diffuse * k, diffuse > 0 ? <f32>0.1 : 0) : 1;
  const n: f32 = 1 / (chooseLobe + chooseCoat + chooseTransmission + chooseDiffuse);
  chooseLobe *= n;
  chooseCoat *= n;
  chooseTransmission *= n;
  chooseDiffuse *= n;
}

/** Colour of light scattered many times among the facets of a metal: F² E / (1 - F (1 - E)), F the mean of Schlick's factor. */
// @ts-ignore: decorator
@inline
function multipleScattering(f0: f32, mean: f32): f32 {
  const f: f32 = f0 + (1 - f0) * <f32>0.047619047619;
  return f * f * mean / (1 - f * (1 - mean));
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

/** Value times cosine, that of the diffuse lobes alone, and the density, of the pair last evaluated. */
export let valueR: f32 = 0;
export let valueG: f32 = 0;
export let valueB: f32 = 0;
export let diffuseR: f32 = 0;
export let diffuseG: f32 = 0;
export let diffuseB: f32 = 0;
export let bsdfPdf: f32 = 0;

// Of the lobe last asked: its shape D V cosine without Fresnel, its density, and the half vector's cosine.
let lobeValue: f32 = 0;
let lobePdf: f32 = 0;
let lobeCos: f32 = 0;

function ggx(vx: f32, vy: f32, vz: f32, lx: f32, ly: f32, lz: f32, ax: f32, ay: f32): void {
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

/** Estevez and Kulla: D = (2 + 1/a) sin^(1/a) / 2 pi, by an exponential of the kernel's own. */
function charlie(hz: f32): f32 {
  const inv: f32 = 1 / sheenAlpha;
  const s2: f32 = max<f32>(1 - hz * hz, <f32>0.0078125);
  return (2 + inv) * power(s2, inv * <f32>0.5) / (2 * PI);
}

/** x^y for x in (0, 1]: base-two logarithm and exponential by fitted polynomials, good to 1e-6. */
function power(x: f32, y: f32): f32 {
  const bits = reinterpret<u32>(x);
  const e = <f32>(<i32>(bits >> 23) - 127);
  const m: f32 = reinterpret<f32>((bits & 0x007fffff) | 0x3f800000) - 1;
  const log: f32 = e + m * (<f32>1.442694767 + m * (<f32>-0.721310723 + m * (<f32>0.480073752 + m * (<f32>-0.353454706 + m * (<f32>0.256179773 + m * (<f32>-0.155600075 + m * (<f32>0.063787677 + m * <f32>-0.012370667)))))));
  const p: f32 = max<f32>(log * y, -126);
  const w = floor<f32>(p);
  const f: f32 = p - w;
  const exp: f32 = 1 + f * (<f32>0.693147577 + f * (<f32>0.240206874 + f * (<f32>0.055658664 + f * (<f32>0.009196802 + f * <f32>0.001789665))));
  return exp * reinterpret<f32>(<u32>(<i32>w + 127) << 23);
}

/** Evaluates the surface for light from l towards v; l may lie below where it is translucent. */
export function evalBsdf(vx: f32, vy: f32, vz: f32, lx: f32, ly: f32, lz: f32): void {
  valueR = valueG = valueB = diffuseR = diffuseG = diffuseB = bsdfPdf = 0;
  if (vz <= 0 || lz == 0) return;
  const c = abs<f32>(lz);
  if (lz < 0 && chooseTransmission == 0) return;
  let layer: f32 = 1, underCoat: f32 = 1;
  if (layered) {
    if (coat > 0) {
      lookUpEnergyPair(coatRow, coatHasOwnFrame ? abs<f32>(coatNX * lx + coatNY * ly + coatNZ * lz) : c);
      const e: f32 = coat * (<f32>0.04 * pairA + pairB);
      layer = underCoat = coatView * (1 - e) / coatMean;
    }
    if (sheenMax > 0) layer *= sheenView * (1 - sheenMax * lookUpEnergy(ENERGY_SHEEN, sheenRow, c)) / sheenMean;
  }
  const m = metalness;
  let kd: f32 = 0, loss: f32 = 0;
  if (m < 1 || missingEnergy > 0) {
    lookUpEnergyPair(row, c);
    const a = pairA, b = pairB;
    if (transmittedMean > 0) kd = layer * (1 - m) * transmittedView * (1 - dielectric * a - specular * b) / transmittedMean * c / PI;
    loss = layer * missingEnergy * (1 - a - b) * c;
  }
  if (lz < 0) {
    const k: f32 = kd * translucency;
    valueR = diffuseR = k * translucentR;
    valueG = diffuseG = k * translucentG;
    valueB = diffuseB = k * translucentB;
    bsdfPdf = chooseTransmission * c / PI;
    return;
  }
  kd *= 1 - translucency;
  diffuseR = kd * baseR;
  diffuseG = kd * baseG;
  diffuseB = kd * baseB;
  ggx(vx, vy, vz, lx, ly, lz, alphaX, alphaY);
  const s: f32 = layer * lobeValue, q = pow5(1 - lobeCos);
  valueR = diffuseR + s * (f0R + (f90 - f0R) * q) + loss * lossR;
  valueG = diffuseG + s * (f0G + (f90 - f0G) * q) + loss * lossG;
  valueB = diffuseB + s * (f0B + (f90 - f0B) * q) + loss * lossB;
  bsdfPdf = chooseDiffuse * c / PI + chooseLobe * lobePdf;
  if (!layered) return;
  if (sheenMax > 0) {
    const n: f32 = 1 / sqrt<f32>((vx + lx) * (vx + lx) + (vy + ly) * (vy + ly) + (vz + lz) * (vz + lz));
    const k: f32 = underCoat * charlie((vz + lz) * n) * lz / (4 * (lz + vz - lz * vz));
    valueR += k * sheenR;
    valueG += k * sheenG;
    valueB += k * sheenB;
  }
  if (coat > 0) {
    if (!coatHasOwnFrame) ggx(vx, vy, vz, lx, ly, lz, coatAlpha, coatAlpha);
    else {
      const cv: f32 = coatNX * vx + coatNY * vy + coatNZ * vz, cl: f32 = coatNX * lx + coatNY * ly + coatNZ * lz;
      if (cv <= 0 || cl <= 0) return;
      ggx(
        coatTX * vx + coatTY * vy + coatTZ * vz, coatBX * vx + coatBY * vy + coatBZ * vz, cv,
        coatTX * lx + coatTY * ly + coatTZ * lz, coatBX * lx + coatBY * ly + coatBZ * lz, cl, coatAlpha, coatAlpha,
      );
    }
    const k: f32 = coat * lobeValue * (<f32>0.04 + <f32>0.96 * pow5(1 - lobeCos));
    valueR += k;
    valueG += k;
    valueB += k;
    bsdfPdf += chooseCoat * lobePdf;
  }
}

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

/** Draws a facet of a coat that has a normal of its own. */
function sampleCoatVndf(vx: f32, vy: f32, vz: f32, u: f32, v: f32): void {
  const cv: f32 = max<f32>(coatNX * vx + coatNY * vy + coatNZ * vz, 0);
  sampleVndf(coatTX * vx + coatTY * vy + coatTZ * vz, coatBX * vx + coatBY * vy + coatBZ * vz, cv, coatAlpha, coatAlpha, u, v);
  const x = outX, y = outY, z = outZ;
  outX = x * coatTX + y * coatBX + z * coatNX;
  outY = x * coatTY + y * coatBY + z * coatNY;
  outZ = x * coatTZ + y * coatBZ + z * coatNZ;
}

/** Draws a direction for the view vector; false where there is none. */
export function sampleBsdf(vx: f32, vy: f32, vz: f32, choice: f32, u: f32, v: f32): bool {
  if (choice < chooseDiffuse + chooseTransmission) {
    sinCosTurns(u);
    const r = sqrt<f32>(v);
    outX = r * cosine;
    outY = r * sine;
    outZ = sqrt<f32>(max<f32>(0, 1 - v));
    if (choice >= chooseDiffuse) outZ = -outZ;
    return outZ != 0;
  }
  const onCoat = choice >= 1 - chooseCoat;
  if (onCoat && coatHasOwnFrame) sampleCoatVndf(vx, vy, vz, u, v);
  else sampleVndf(vx, vy, vz, onCoat ? coatAlpha : alphaX, onCoat ? coatAlpha : alphaY, u, v);
  const k: f32 = 2 * (vx * outX + vy * outY + vz * outZ);
  outX = k * outX - vx;
  outY = k * outY - vy;
  outZ = k * outZ - vz;
  return outZ > 0;
}
