/** What one sample of a pixel comes to: its light, and the features of what it met first. */
import {
  PIXEL_BACKDROP, PIXEL_BACKDROP_COVER, PIXEL_BACKDROP_LOST, PIXEL_GROUND, PIXEL_GROUND_COVER, PIXEL_GROUND_LOST, PIXEL_SHADOW_COVER, PIXEL_SOURCES, PIXEL_TRANSLUCENT,
} from "../layout";
import { luminance } from "../math";

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
// It came from the other side.
let fromBehind: bool = false;

/** What the eye looks at, where clear glass is looked through; what glass mirrors is the subject's. */
export const SUBJECT: u32 = 0;
export const GROUND: u32 = 1;
export const BACKDROP: u32 = 2;
/** Layer that is being lit. */
export let layer: u32 = SUBJECT;
/** Sums of the pixel that keeps its light by source and by layer; 0 where it keeps neither. */
export let apart: usize = 0;
// Sums of the pixel that keeps parts of its light; 0 where it does not.
let parts: usize = 0;

/** Keeps parts of the next samples' light in this pixel's sums too, and where `sources` its sources and layers. With 0 neither. */
// @ts-ignore: decorator
@inline
export function keepParts(pixel: usize, sources: bool): void {
  parts = pixel;
  apart = sources ? pixel : 0;
}

/** Changes the layer that is being lit. */
// @ts-ignore: decorator
@inline
export function setLayer(value: u32): void {
  layer = value;
}

// @ts-ignore: decorator
@inline
function gather3(field: usize, r: f32, g: f32, b: f32): void {
  const p = parts + (field << 2);
  store<f32>(p, load<f32>(p) + r);
  store<f32>(p, load<f32>(p, 4) + g, 4);
  store<f32>(p, load<f32>(p, 8) + b, 8);
}

/** Adds a contribution to the parts that the pixel keeps of its light. */
function addToParts(r: f32, g: f32, b: f32, source: u32): void {
  if (fromBehind && splitPhase != UNSCATTERED) gather3(PIXEL_TRANSLUCENT, r, g, b);
  if (apart == 0) return;
  gather3(PIXEL_SOURCES + source * 3, r, g, b);
  if (layer != SUBJECT) gather3(layer == GROUND ? PIXEL_GROUND : PIXEL_BACKDROP, r, g, b);
}

/** Counts a share of the pixel, as the eye sees it through glass, to ground or backdrop. */
export function coverLayer(which: u32, r: f32, g: f32, b: f32): void {
  if (apart == 0) return;
  const p = apart + ((which == GROUND ? PIXEL_GROUND_COVER : PIXEL_BACKDROP_COVER) << 2);
  store<f32>(p, load<f32>(p) + min<f32>(luminance(r, g, b), 1));
}

/** Light that ground or backdrop lack because something is in its way; negative to give back what was counted too soon. */
export function loseLight(which: u32, r: f32, g: f32, b: f32): void {
  if (apart != 0) gather3(which == GROUND ? PIXEL_GROUND_LOST : PIXEL_BACKDROP_LOST, r, g, b);
}

/** Counts a share of the pixel that a shadow catcher darkens. */
export function coverShadow(share: f32): void {
  if (apart == 0) return;
  const p = apart + (PIXEL_SHADOW_COVER << 2);
  store<f32>(p, load<f32>(p) + share);
}

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

/** From here on contributions are split by these shares of the diffuse value in the whole; `behind` where light comes from the other side. */
export function setSplit(phase: i32, behind: bool, diffuseR: f32, diffuseG: f32, diffuseB: f32, valueR: f32, valueG: f32, valueB: f32): void {
  splitPhase = phase;
  fromBehind = behind;
  diffuseShareR = ratio(diffuseR, valueR);
  diffuseShareG = ratio(diffuseG, valueG);
  diffuseShareB = ratio(diffuseB, valueB);
}

/** Adds a contribution of a source, as LIGHT_SOURCE has it, scaled down to the limit where one is set. */
export function addContribution(r: f32, g: f32, b: f32, limit: f32, source: u32): void {
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
  if (parts != 0) addToParts(r, g, b, source);
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
