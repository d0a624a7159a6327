/**
 * What an opaque surface does with light: metallic-roughness as in glTF 2.0 (Khronos, appendix B)
 * with clear coat, sheen, specular, anisotropy and diffuse transmission.
 *
 * Highlights: GGX (Walter et al., "Microfacet models for refraction through rough surfaces", 2007;
 * stretched as in Heitz, "Understanding the masking-shadowing function", 2014, whose height-correlated
 * term is used), visible normals drawn by spherical caps (Dupuy and Benyoub, 2023). Sheen: Estevez and
 * Kulla, "Production friendly microfacet sheen BRDF", 2017, with Ashikhmin's term.
 * What single scattering loses is given back to metals, and what lies below a layer gets what the
 * layer lets through both ways, by the tables of energyCompensation.ts: Kulla and Conty, "Revisiting physically
 * based shading at Imageworks", 2017. Such a layer over white returns all light, and is reciprocal.
 *
 * Directions are local: z is the shading normal, x the tangent; both point away from the surface.
 */
import { PI, sinCosTurns, sine, cosine, basis, tangentX, tangentY, tangentZ, bitangentX, bitangentY, bitangentZ } from "../math";
import { ENERGY_SHEEN, ENERGY_MEAN_A, ENERGY_MEAN_B, ENERGY_MEAN_SHEEN, ENERGY_CELLS } from "../layout";
import { setEnergyTables, lookUpEnergy, lookUpEnergyPair, lookUpMeanEnergy, multipleScattering, pairA, pairB } from "./energy";
import { MIN_ALPHA, pow5, ggx, sampleVndf, lobeValue, lobePdf, lobeCos, outX, outY, outZ } from "./microfacet";
import { charlie } from "./sheen";
import {
  baseR, baseG, baseB, metalness, roughness, ior, specular, specularR, specularG, specularB, coat, coatRoughness,
  sheenR, sheenG, sheenB, sheenRoughness, anisotropy, translucency, translucentR, translucentG, translucentB, layered,
} from "./materialState";

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

/** Takes what materialState.ts holds for the evaluations that follow, seen at the cosine. `tables` lie as ENERGY_ says. */
export function setSurface(tables: usize, viewX: f32, viewY: f32, cosView: f32): void {
  setEnergyTables(tables);
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

/** Value times cosine, that of the diffuse lobes alone, and the density, of the pair last evaluated. */
export let valueR: f32 = 0;
export let valueG: f32 = 0;
export let valueB: f32 = 0;
export let diffuseR: f32 = 0;
export let diffuseG: f32 = 0;
export let diffuseB: f32 = 0;
export let bsdfPdf: f32 = 0;

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
    const k: f32 = underCoat * charlie((vz + lz) * n, sheenAlpha) * lz / (4 * (lz + vz - lz * vz));
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
