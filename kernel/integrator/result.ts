/** What one sample of a pixel comes to: its light, and the features of what it met first. */

/** Light that the path gathered. */
export let pathR: f32 = 0;
export let pathG: f32 = 0;
export let pathB: f32 = 0;
export let pathAlpha: f32 = 0;
/** Part of it that came without being scattered. */
export let unscatteredR: f32 = 0;
export let unscatteredG: f32 = 0;
export let unscatteredB: f32 = 0;
/** Parts that the first surface scattered, diffusely and by its lobes. */
export let scatteredR: f32 = 0;
export let scatteredG: f32 = 0;
export let scatteredB: f32 = 0;
export let specularR: f32 = 0;
export let specularG: f32 = 0;
export let specularB: f32 = 0;
/** Of the first surface that is not clear glass, as seen through it. */
export let albedoR: f32 = 0;
export let albedoG: f32 = 0;
export let albedoB: f32 = 0;
/** Of the first surface, glass or not. */
export let normalX: f32 = 0;
export let normalY: f32 = 0;
export let normalZ: f32 = 0;
export let positionX: f32 = 0;
export let positionY: f32 = 0;
export let positionZ: f32 = 0;
export let firstDistance: f32 = 0;
export let coverage: f32 = 0;
export let partMatteId: u32 = 0;
export let materialMatteId: u32 = 0;
/** Distance to the first surface that is not clear glass; 0 where the eye met none. */
export let guideDepth: f32 = 0;
/** 0 where the eye's path was mirrored by glass: such a sample says nothing of what lies behind. */
export let guideValid: f32 = 1;
/** Ambient occlusion at the first surface, 1 where it is open; luminance that lights would give there, and give. */
export let ao: f32 = 0;
export let unshadowed: f32 = 0;
export let shadowed: f32 = 0;

/** Before anything scattered; while lights are sampled at the first surface; after it scattered. */
export const UNSCATTERED: i32 = 0;
export const DIRECT: i32 = 1;
export const SCATTERED: i32 = 2;
export let splitPhase: i32 = 0;
// Diffuse share of what is added, while it counts as scattered by the first surface.
let diffuseShareR: f32 = 0;
let diffuseShareG: f32 = 0;
let diffuseShareB: f32 = 0;

/** Forgets the last path's light and features. */
export function resetResult(): void {
  pathR = pathG = pathB = pathAlpha = unscatteredR = unscatteredG = unscatteredB = 0;
  albedoR = albedoG = albedoB = 1;
  normalX = normalY = normalZ = positionX = positionY = positionZ = firstDistance = coverage = 0;
  partMatteId = materialMatteId = 0;
  guideValid = 1;
  guideDepth = 0;
  scatteredR = scatteredG = scatteredB = specularR = specularG = specularB = ao = unshadowed = shadowed = 0;
}

// @ts-ignore: decorator
@inline
function ratio(a: f32, b: f32): f32 {
  return b > 0 ? a / b : 0;
}

/** From here on contributions are split by these shares of the diffuse value in the whole. */
export function setSplit(phase: i32, diffuseR: f32, diffuseG: f32, diffuseB: f32, valueR: f32, valueG: f32, valueB: f32): void {
  splitPhase = phase;
  diffuseShareR = ratio(diffuseR, valueR);
  diffuseShareG = ratio(diffuseG, valueG);
  diffuseShareB = ratio(diffuseB, valueB);
}

/** Adds a contribution, scaled down to the limit where one is set. */
export function addContribution(r: f32, g: f32, b: f32, limit: f32): void {
  let k: f32 = 1;
  if (limit > 0) {
    const m = max(r, max(g, b));
    if (m > limit) k = limit / m;
  }
  r *= k;
  g *= k;
  b *= k;
  pathR += r;
  pathG += g;
  pathB += b;
  if (splitPhase == UNSCATTERED) {
    unscatteredR += r;
    unscatteredG += g;
    unscatteredB += b;
    return;
  }
  const dr: f32 = r * diffuseShareR, dg: f32 = g * diffuseShareG, db: f32 = b * diffuseShareB;
  scatteredR += dr;
  scatteredG += dg;
  scatteredB += db;
  specularR += r - dr;
  specularG += g - dg;
  specularB += b - db;
}
