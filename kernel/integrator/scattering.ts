/** What a surface that is not clear glass does with light: it is lit by a light that is sampled, and scatters the path on. */
import { evalGlass, sampleGlass, setGlass } from "../bsdf/glass";
import { anisotropy, brushCos, brushSin, coatHasNormal, coatNormalX, coatNormalY, coatNormalZ } from "../bsdf/materialState";
import { outX, outY, outZ } from "../bsdf/microfacet";
import { bsdfPdf, diffuseB, diffuseG, diffuseR, evalBsdf, sampleBsdf, setCoatFrame, setSurface, valueB, valueG, valueR } from "../bsdf/surface";
import { geoX, geoY, geoZ, handedness, shadeX, shadeY, shadeZ, texTangentX, texTangentY, texTangentZ } from "../intersect/intersectionData";
import { FRAME_ENERGY } from "../layout";
import { lightB, lightDistance, lightG, lightPdf, lightR, lightSource, lightX, lightY, lightZ, sampleLight } from "../lights/light";
import { transmittance, transmittanceB, transmittanceG, transmittanceR } from "../lights/transmittance";
import { basis, bitangentX, bitangentY, bitangentZ, luminance, tangentX, tangentY, tangentZ } from "../math";
import { next2D, sampleX, sampleY } from "../sampler";
import {
  clampAfter, directionX, directionY, directionZ, fromEye, hitX, hitY, hitZ, medium, offset, scaleThroughput, scatterPdf, setDirection, setOrigin, throughputB, throughputG, throughputR,
  travelled,
} from "./path";
import { addContribution, apart, DIRECT, GROUND, layer, loseLight, SCATTERED, setSplit, shadowed, splitPhase, UNSCATTERED, unshadowed } from "./result";

// The surface's frame (normal, tangent, bitangent) and geometric normal, and the way back in that frame: shadow rays change those of the hit.
let nx: f32 = 0, ny: f32 = 0, nz: f32 = 0;
let tx: f32 = 0, ty: f32 = 0, tz: f32 = 0;
let bx: f32 = 0, by: f32 = 0, bz: f32 = 0;
let gx: f32 = 0, gy: f32 = 0, gz: f32 = 0;
let vx: f32 = 0, vy: f32 = 0, vz: f32 = 0;

/** Prepares the surface at the hit for the functions below. `frosted` glass scatters by a rough interface of this `eta`. */
export function prepareSurface(frame: usize, material: usize, frosted: bool, eta: f32, outside: bool): void {
  shadingBasis();
  nx = shadeX;
  ny = shadeY;
  nz = shadeZ;
  gx = geoX;
  gy = geoY;
  gz = geoZ;
  tx = tangentX;
  ty = tangentY;
  tz = tangentZ;
  bx = bitangentX;
  by = bitangentY;
  bz = bitangentZ;
  const dx = directionX, dy = directionY, dz = directionZ;
  vx = -(dx * tx + dy * ty + dz * tz);
  vy = -(dx * bx + dy * by + dz * bz);
  vz = -(dx * nx + dy * ny + dz * nz);
  if (frosted) {
    setGlass(material, eta, outside);
    return;
  }
  const kx = coatNormalX, ky = coatNormalY, kz = coatNormalZ;
  if (coatHasNormal) setCoatFrame(kx * tx + ky * ty + kz * tz, kx * bx + ky * by + kz * bz, kx * nx + ky * ny + kz * nz);
  else setCoatFrame(0, 0, 1);
  setSurface(<usize>load<u32>(frame + FRAME_ENERGY), vx, vy, vz);
}

/** Tangents at the hit: any, or along the texture where the surface is brushed. */
function shadingBasis(): void {
  basis(shadeX, shadeY, shadeZ);
  if (!(anisotropy > 0)) return;
  const d: f32 = texTangentX * shadeX + texTangentY * shadeY + texTangentZ * shadeZ;
  let x: f32 = texTangentX - d * shadeX, y: f32 = texTangentY - d * shadeY, z: f32 = texTangentZ - d * shadeZ;
  let n: f32 = x * x + y * y + z * z;
  if (!(n > 0)) {
    x = tangentX;
    y = tangentY;
    z = tangentZ;
    n = 1;
  }
  n = 1 / sqrt<f32>(n);
  x *= n;
  y *= n;
  z *= n;
  const cx: f32 = shadeY * z - shadeZ * y, cy: f32 = shadeZ * x - shadeX * z, cz: f32 = shadeX * y - shadeY * x;
  // Counterclockwise in the image: the other way round where the texture is mirrored.
  const c = brushCos, s: f32 = -handedness * brushSin;
  tangentX = c * x + s * cx;
  tangentY = c * y + s * cy;
  tangentZ = c * z + s * cz;
  bitangentX = c * cx - s * x;
  bitangentY = c * cy - s * y;
  bitangentZ = c * cz - s * z;
}

/** Adds the light of one light, chosen by `which`. `components` also measures how much of it is shadowed at the first surface. */
export function addDirectLight(frame: usize, frosted: bool, which: f32, components: bool): void {
  next2D();
  if (!sampleLight(frame, hitX, hitY, hitZ, which, sampleX, sampleY)) return;
  const wx = lightX, wy = lightY, wz = lightZ, far = lightDistance;
  const side: f32 = wx * gx + wy * gy + wz * gz;
  const lz: f32 = wx * nx + wy * ny + wz * nz;
  if (frosted) evalGlass(vx, vy, vz, wx * tx + wy * ty + wz * tz, wx * bx + wy * by + wz * bz, lz);
  else evalBsdf(vx, vy, vz, wx * tx + wy * ty + wz * tz, wx * bx + wy * by + wz * bz, lz);
  if (!(bsdfPdf > 0 && side * lz > 0)) return;
  const k: f32 = lightPdf > 0 ? 1 / (lightPdf + bsdfPdf) : 1;
  const r: f32 = throughputR * valueR * lightR * k, g: f32 = throughputG * valueG * lightG * k, b: f32 = throughputB * valueB * lightB * k;
  if (!(r + g + b > 0)) return;
  const first = splitPhase == UNSCATTERED;
  if (first) {
    setSplit(DIRECT, lz < 0, diffuseR, diffuseG, diffuseB, valueR, valueG, valueB);
    if (components) unshadowed = luminance(r, g, b);
  }
  const source = lightSource, e: f32 = side > 0 ? offset : -offset;
  // All of it, not only the part that scattered paths leave to sampled lights: those that are stopped tell nothing.
  const lost: f32 = first && apart != 0 && layer == GROUND ? (lightPdf > 0 ? 1 / (k * lightPdf) : 1) : 0;
  if (!transmittance(frame, hitX + gx * e, hitY + gy * e, hitZ + gz * e, wx, wy, wz, far)) {
    if (lost > 0) loseLight(GROUND, r * lost, g * lost, b * lost);
    return;
  }
  if (lost > 0) loseLight(GROUND, r * lost * (1 - transmittanceR), g * lost * (1 - transmittanceG), b * lost * (1 - transmittanceB));
  if (first && components) shadowed = luminance(r * transmittanceR, g * transmittanceG, b * transmittanceB);
  addContribution(r * transmittanceR, g * transmittanceG, b * transmittanceB, clampAfter(frame, 1), source);
}

/** Scatters the path on. `first` where nothing scattered before this surface. Answers whether it goes on. */
export function scatterPath(frosted: bool, first: bool, choice: f32): bool {
  next2D();
  if (!(frosted ? sampleGlass(vx, vy, vz, choice, sampleX, sampleY) : sampleBsdf(vx, vy, vz, choice, sampleX, sampleY))) return false;
  const lx = outX, ly = outY, lz = outZ;
  if (frosted) evalGlass(vx, vy, vz, lx, ly, lz);
  else evalBsdf(vx, vy, vz, lx, ly, lz);
  if (!(bsdfPdf > 0)) return false;
  if (first) setSplit(SCATTERED, lz < 0, diffuseR, diffuseG, diffuseB, valueR, valueG, valueB);
  const inv: f32 = 1 / bsdfPdf;
  scaleThroughput(valueR * inv, valueG * inv, valueB * inv);
  scatterPdf = bsdfPdf;
  travelled = 0;
  fromEye = false;
  setDirection(lx * tx + ly * bx + lz * nx, lx * ty + ly * by + lz * ny, lx * tz + ly * bz + lz * nz);
  const side: f32 = directionX * gx + directionY * gy + directionZ * gz;
  if (side * lz <= 0) return false;
  const e: f32 = side > 0 ? offset : -offset;
  setOrigin(hitX + gx * e, hitY + gy * e, hitZ + gz * e);
  return true;
}

/** Whether the last scattering went to the other side of the surface. */
// @ts-ignore: decorator
@inline
export function wentThrough(): bool {
  return outZ < 0;
}
