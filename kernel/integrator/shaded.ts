/**
 * A preview render of one ray: shaded from a key light with its shadow and a soft environment with contact
 * shading; glass is looked straight through. No paths, so a few samples a pixel are clean.
 */
import {
  FRAME_TREE, FRAME_ROOT, FRAME_INSTANCES, FRAME_EXTENT, FRAME_GROUND_KIND, FRAME_GROUND_HEIGHT, FRAME_GROUND_X, FRAME_GROUND_Z,
  FRAME_GROUND_INNER, FRAME_GROUND_OUTER, FRAME_GROUND_MATERIAL, FRAME_AO_DISTANCE, FRAME_KEY, FRAME_KEY_COLOUR, FRAME_KEY_SPREAD,
  CAMERA_RAYS, OPAQUE, INSTANCE_MATTE_ID, MATERIAL_ALPHA_MODE, MATERIAL_MATTE_ID, THIN, UNLIT, LAYERED,
} from "../layout";
import { closestHitOfCamera } from "../intersect/rayPacket";
import { closestHit, anyHit } from "../intersect/traverse";
import { hitDistance, hitInstance } from "../intersect/hit";
import { basis, tangentX, tangentY, tangentZ, bitangentX, bitangentY, bitangentZ, sinCosTurns, sine, cosine } from "../math";
import { next2D, sampleX, sampleY } from "../sampler";
import { loadSurface, hitMaterial, geoX, geoY, geoZ, shadeX, shadeY, shadeZ } from "../intersect/intersectionData";
import { loadMaterial, alphaOf, occlusionOf } from "../bsdf/material";
import { baseR, baseG, baseB, ior, metalness, roughness, specular, transmission, emissionR, emissionG, emissionB, coat, flags } from "../bsdf/materialState";
import { fresnel } from "../bsdf/microfacet";
import { evalEnvironment, lightR, lightG, lightB } from "../lights/light";
import {
  pathR, pathG, pathB, pathAlpha, unscatteredR, unscatteredG, unscatteredB, albedoR, albedoG, albedoB, normalX, normalY, normalZ, positionX, positionY, positionZ,
  firstDistance, guideDepth, coverage, partMatteId, materialMatteId, guideValid, ao,
} from "./result";

/** Surfaces in a row that are looked through. */
const MAX_PANES: i32 = 24;

// Light from the environment as a surface with this normal gets it, over pi: between horizon and zenith or nadir.
let softenedR: f32 = 0;
let softenedG: f32 = 0;
let softenedB: f32 = 0;

function soften(frame: usize, y: f32): void {
  evalEnvironment(frame, 1, 0, 0, false);
  const r = lightR, g = lightG, b = lightB;
  evalEnvironment(frame, 0, y >= 0 ? 1 : -1, 0, false);
  const k: f32 = <f32>0.5 * abs(y) + <f32>0.25;
  softenedR = r + (lightR - r) * k;
  softenedG = g + (lightG - g) * k;
  softenedB = b + (lightB - b) * k;
}

/** Light of the surface that shadeSurface was asked for. */
let shadeLightR: f32 = 0;
let shadeLightG: f32 = 0;
let shadeLightB: f32 = 0;

/** How much of the base plane is left where groundHit met it. */
let groundFade: f32 = 1;

/** Distance to the base plane where it is met before t, and how much of it is left there; 0 where it is not. */
// @ts-ignore: decorator
@inline
function groundHit(frame: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, t: f32): f32 {
  const tp: f32 = (load<f32>(frame + FRAME_GROUND_HEIGHT) - oy) / dy;
  const x: f32 = ox + tp * dx - load<f32>(frame + FRAME_GROUND_X), z: f32 = oz + tp * dz - load<f32>(frame + FRAME_GROUND_Z);
  const inner = load<f32>(frame + FRAME_GROUND_INNER), outer = load<f32>(frame + FRAME_GROUND_OUTER);
  if (!(tp > 0 && tp < t && x * x + z * z < outer * outer)) return 0;
  const k: f32 = min<f32>((outer - sqrt<f32>(x * x + z * z)) / (outer - inner), 1);
  groundFade = k * k * (3 - 2 * k);
  return tp;
}

/** What of the light still gets through to the eye. */
let throughputR: f32 = 1;
let throughputG: f32 = 1;
let throughputB: f32 = 1;

/** Adds a share of the environment in a direction, as the eye gets it. */
// @ts-ignore: decorator
@inline
function addEnvironment(frame: usize, dx: f32, dy: f32, dz: f32, seen: bool, share: f32): void {
  evalEnvironment(frame, dx, dy, dz, seen);
  pathR += throughputR * share * lightR;
  pathG += throughputG * share * lightG;
  pathB += throughputB * share * lightB;
}

function beginSample(): void {
  pathR = pathG = pathB = pathAlpha = unscatteredR = unscatteredG = unscatteredB = 0;
  albedoR = albedoG = albedoB = 1;
  normalX = normalY = normalZ = positionX = positionY = positionZ = firstDistance = coverage = 0;
  partMatteId = materialMatteId = 0;
  guideValid = 1;
  guideDepth = 0;
  ao = 1;
  throughputR = throughputG = throughputB = 1;
}

/** Keeps the first surface that is not cut out by its alpha. */
// @ts-ignore: decorator
@inline
function keepFirstSurface(material: usize, instance: usize, onBase: bool, fade: f32, walked: f32, x: f32, y: f32, z: f32): void {
  normalX = shadeX * fade;
  normalY = shadeY * fade;
  normalZ = shadeZ * fade;
  positionX = x;
  positionY = y;
  positionZ = z;
  firstDistance = walked;
  coverage = 1;
  materialMatteId = load<u32>(material + MATERIAL_MATTE_ID);
  partMatteId = onBase ? materialMatteId : load<u32>(instance + INSTANCE_MATTE_ID);
  pathAlpha = fade;
}

/** Takes the light that glass mirrors, and dims what is seen through it. */
// @ts-ignore: decorator
@inline
function passGlass(frame: usize, through: f32, f: f32, mx: f32, my: f32, mz: f32): void {
  addEnvironment(frame, mx, my, mz, false, through * f);
  // A solid body has a face behind: half of each face's tint, as two are passed.
  const g: f32 = through * (1 - f) * ((flags & THIN) != 0 ? (1 - f) / (1 - f * f) : 1);
  throughputR *= g * baseR;
  throughputG *= g * baseG;
  throughputB *= g * baseB;
}

/** Takes the light of the solid part of a surface, which guides the denoiser. */
// @ts-ignore: decorator
@inline
function addSurface(solid: f32, walked: f32): void {
  pathR += throughputR * solid * shadeLightR;
  pathG += throughputG * solid * shadeLightG;
  pathB += throughputB * solid * shadeLightB;
  guideDepth = walked;
  albedoR = throughputR * baseR;
  albedoG = throughputG * baseG;
  albedoB = throughputB * baseB;
}

/** Shades what one ray of the camera meets, and leaves it in result.ts. */
export function shadePixelSample(frame: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32): void {
  const tree = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), at = <usize>load<u32>(frame + FRAME_INSTANCES);
  const extent = load<f32>(frame + FRAME_EXTENT), baseOn = load<u32>(frame + FRAME_GROUND_KIND);
  beginSample();
  let walked: f32 = 0;
  for (let step: i32 = 0; step < MAX_PANES; step++) {
    const met = step == 0
      ? closestHitOfCamera(tree, root, at, ox, oy, oz, dx, dy, dz)
      : closestHit(tree, root, at, CAMERA_RAYS, ox, oy, oz, dx, dy, dz, f32.MAX_VALUE);
    let t = met ? hitDistance : f32.MAX_VALUE, onBase = false, fade: f32 = 1;
    if (baseOn != 0 && dy < 0) {
      const tp = groundHit(frame, ox, oy, oz, dx, dy, dz, t);
      if (tp > 0) {
        onBase = true;
        t = tp;
        fade = groundFade;
      }
    }
    if (!met && !onBase) {
      addEnvironment(frame, dx, dy, dz, true, 1);
      return;
    }
    walked += t;
    const px: f32 = ox + t * dx, py: f32 = oy + t * dy, pz: f32 = oz + t * dz;
    const eps: f32 = (abs(px) + abs(py) + abs(pz) + t) * <f32>2e-6 + extent * <f32>2e-6;
    let material: usize;
    let alpha: f32 = 1;
    if (onBase) {
      material = <usize>load<u32>(frame + FRAME_GROUND_MATERIAL);
      geoX = shadeX = geoZ = shadeZ = 0;
      geoY = shadeY = 1;
    } else {
      material = hitMaterial(frame, px, py, pz);
      loadSurface(dx, dy, dz);
      if (load<u32>(material + MATERIAL_ALPHA_MODE) != 0) alpha = alphaOf(material);
    }
    const instance = hitInstance;
    loadMaterial(material, dx, dy, dz);
    if (coverage == 0 && alpha > 0) keepFirstSurface(material, instance, onBase, fade, walked, px, py, pz);
    const c: f32 = -(shadeX * dx + shadeY * dy + shadeZ * dz);
    // What the environment shows in the mirror's direction, for glass, metal and lacquer alike.
    const k: f32 = 2 * c, mx: f32 = dx + k * shadeX, my: f32 = dy + k * shadeY, mz: f32 = dz + k * shadeZ;
    const through: f32 = onBase ? 1 - fade : 1 - alpha + alpha * transmission;
    const f = fresnel(c, 1 / ior);
    if (through < 1 || transmission > 0) {
      const solid: f32 = 1 - through;
      if (solid > 0) {
        shadeSurface(frame, material, tree, root, at, px + geoX * eps, py + geoY * eps, pz + geoZ * eps, mx, my, mz, f, onBase && baseOn == 2);
        addSurface(solid, walked);
        if (through <= 0) return;
      }
      if (transmission > 0) passGlass(frame, through, f, mx, my, mz);
      else {
        throughputR *= through;
        throughputG *= through;
        throughputB *= through;
      }
    }
    if (max(throughputR, max(throughputG, throughputB)) < <f32>0.01) return;
    // Behind the fading plane stands the backdrop.
    if (onBase) {
      addEnvironment(frame, dx, dy, dz, true, 1);
      return;
    }
    ox = px - geoX * eps;
    oy = py - geoY * eps;
    oz = pz - geoZ * eps;
  }
}

function shadeSurface(frame: usize, material: usize, tree: usize, root: i32, at: usize, x: f32, y: f32, z: f32, mx: f32, my: f32, mz: f32, f: f32, shadowOnly: bool): void {
  if ((flags & UNLIT) != 0) {
    shadeLightR = baseR;
    shadeLightG = baseG;
    shadeLightB = baseB;
    return;
  }
  // Contact: one ray into the half space, not far.
  next2D();
  sinCosTurns(sampleX);
  const r = sqrt<f32>(sampleY), h = sqrt<f32>(max<f32>(0, 1 - sampleY));
  basis(shadeX, shadeY, shadeZ);
  const ax: f32 = r * cosine * tangentX + r * sine * bitangentX + h * shadeX;
  const ay: f32 = r * cosine * tangentY + r * sine * bitangentY + h * shadeY;
  const az: f32 = r * cosine * tangentZ + r * sine * bitangentZ + h * shadeZ;
  ao = anyHit(tree, root, at, OPAQUE, x, y, z, ax, ay, az, load<f32>(frame + FRAME_AO_DISTANCE)) ? 0 : 1;
  const open: f32 = (<f32>0.12 + <f32>0.88 * ao) * occlusionOf(material);
  // The key, from a point of its disc.
  let kx = load<f32>(frame, FRAME_KEY), ky = load<f32>(frame, FRAME_KEY + 4), kz = load<f32>(frame, FRAME_KEY + 8);
  const key: f32 = kx * shadeX + ky * shadeY + kz * shadeZ;
  let lit: f32 = 0;
  if (key > 0) {
    next2D();
    const spread = load<f32>(frame + FRAME_KEY_SPREAD), s: f32 = spread * sqrt<f32>(sampleY);
    sinCosTurns(sampleX);
    basis(kx, ky, kz);
    kx += s * (cosine * tangentX + sine * bitangentX);
    ky += s * (cosine * tangentY + sine * bitangentY);
    kz += s * (cosine * tangentZ + sine * bitangentZ);
    if (!anyHit(tree, root, at, OPAQUE, x, y, z, kx, ky, kz, f32.MAX_VALUE)) lit = key;
  }
  soften(frame, shadeY);
  const er: f32 = softenedR * open + lit * load<f32>(frame, FRAME_KEY_COLOUR), eg: f32 = softenedG * open + lit * load<f32>(frame, FRAME_KEY_COLOUR + 4), eb: f32 = softenedB * open + lit * load<f32>(frame, FRAME_KEY_COLOUR + 8);
  if (shadowOnly) {
    const whole: f32 = softenedG + max<f32>(key, 0) * load<f32>(frame, FRAME_KEY_COLOUR + 4);
    const dark: f32 = whole > 0 ? eg / whole : 1;
    evalEnvironment(frame, -mx, -my, -mz, true);
    shadeLightR = lightR * dark;
    shadeLightG = lightG * dark;
    shadeLightB = lightB * dark;
    return;
  }
  evalEnvironment(frame, mx, my, mz, false);
  const rough: f32 = roughness * roughness;
  const d: f32 = 1 - metalness;
  // The mirror image blurs towards the soft light as roughness grows.
  const sr: f32 = (lightR + (er - lightR) * rough) * open, sg: f32 = (lightG + (eg - lightG) * rough) * open, sb: f32 = (lightB + (eb - lightB) * rough) * open;
  const lacquer: f32 = (flags & LAYERED) != 0 ? coat * f : 0;
  const m: f32 = (1 - metalness) * specular * f * (1 - <f32>0.7 * rough) + lacquer;
  shadeLightR = emissionR + d * (1 - m) * baseR * er + (m + metalness * baseR) * sr;
  shadeLightG = emissionG + d * (1 - m) * baseG * eg + (m + metalness * baseG) * sg;
  shadeLightB = emissionB + d * (1 - m) * baseB * eb + (m + metalness * baseB) * sb;
}
