/**
 * A quick picture of one ray: shaded from a key light with its shadow and a soft surround with contact
 * shading; glass is looked straight through. No paths, so a few samples a pixel are clean.
 */
import {
  FRAME_TREE, FRAME_ROOT, FRAME_INSTANCES, FRAME_EXTENT, FRAME_GROUND_KIND, FRAME_GROUND_HEIGHT, FRAME_GROUND_X, FRAME_GROUND_Z,
  FRAME_GROUND_INNER, FRAME_GROUND_OUTER, FRAME_GROUND_MATERIAL, FRAME_AO_DISTANCE, FRAME_KEY, FRAME_KEY_COLOUR, FRAME_KEY_SPREAD,
  CAMERA_RAYS, OPAQUE, INSTANCE_MATTE_ID, MATERIAL_ALPHA_MODE, MATERIAL_MATTE_ID, THIN, UNLIT, LAYERED,
} from "../layout";
import { closestHitOfCamera } from "../intersect/rayPacket";
import { closestHit, anyHit, hitDistance, hitInstance } from "../intersect/traverse";
import { basis, tangentX, tangentY, tangentZ, bitangentX, bitangentY, bitangentZ, sinCosTurns, sine, cosine } from "../math";
import { next2D, sampleX, sampleY } from "../sampler";
import { loadSurface, hitMaterial, geoX, geoY, geoZ, shadeX, shadeY, shadeZ } from "../intersect/intersectionData";
import { loadMaterial, alphaOf, occlusionOf } from "../bsdf/material";
import { baseR, baseG, baseB, ior, metalness, roughness, specular, transmission, emissionR, emissionG, emissionB, coat, flags } from "../bsdf/materialState";
import { fresnel } from "../bsdf/surface";
import { evalEnvironment, lightR, lightG, lightB } from "../lights/light";
import {
  pathR, pathG, pathB, pathAlpha, unscatteredR, unscatteredG, unscatteredB, albedoR, albedoG, albedoB, normalX, normalY, normalZ, positionX, positionY, positionZ,
  firstDistance, guideDepth, coverage, partMatteId, materialMatteId, guideValid, ao,
} from "./result";

/** Surfaces in a row that are looked through. */
const MAX_PANES: i32 = 24;

// Light from the surround as a surface with this normal gets it, over pi: between horizon and zenith or nadir.
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

export function shadePixelSample(frame: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32): void {
  const tree = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), at = <usize>load<u32>(frame + FRAME_INSTANCES);
  const extent = load<f32>(frame + FRAME_EXTENT), baseOn = load<u32>(frame + FRAME_GROUND_KIND);
  pathR = pathG = pathB = pathAlpha = unscatteredR = unscatteredG = unscatteredB = 0;
  albedoR = albedoG = albedoB = 1;
  normalX = normalY = normalZ = positionX = positionY = positionZ = firstDistance = coverage = 0;
  partMatteId = materialMatteId = 0;
  guideValid = 1;
  guideDepth = 0;
  ao = 1;
  let tr: f32 = 1, tg: f32 = 1, tb: f32 = 1, walked: f32 = 0;
  for (let step: i32 = 0; step < MAX_PANES; step++) {
    const met = step == 0
      ? closestHitOfCamera(tree, root, at, ox, oy, oz, dx, dy, dz)
      : closestHit(tree, root, at, CAMERA_RAYS, ox, oy, oz, dx, dy, dz, f32.MAX_VALUE);
    let t = met ? hitDistance : f32.MAX_VALUE, onBase = false, fade: f32 = 1;
    if (baseOn != 0 && dy < 0) {
      const tp: f32 = (load<f32>(frame + FRAME_GROUND_HEIGHT) - oy) / dy;
      const x: f32 = ox + tp * dx - load<f32>(frame + FRAME_GROUND_X), z: f32 = oz + tp * dz - load<f32>(frame + FRAME_GROUND_Z);
      const inner = load<f32>(frame + FRAME_GROUND_INNER), outer = load<f32>(frame + FRAME_GROUND_OUTER);
      if (tp > 0 && tp < t && x * x + z * z < outer * outer) {
        onBase = true;
        t = tp;
        fade = min<f32>((outer - sqrt<f32>(x * x + z * z)) / (outer - inner), 1);
        fade = fade * fade * (3 - 2 * fade);
      }
    }
    if (!met && !onBase) {
      evalEnvironment(frame, dx, dy, dz, true);
      pathR += tr * lightR;
      pathG += tg * lightG;
      pathB += tb * lightB;
      return;
    }
    walked += t;
    const px: f32 = ox + t * dx, py: f32 = oy + t * dy, pz: f32 = oz + t * dz;
    const eps: f32 = (abs(px) + abs(py) + abs(pz) + t) * <f32>2e-6 + extent * <f32>2e-6;
    let finish: usize;
    let alpha: f32 = 1;
    if (onBase) {
      finish = <usize>load<u32>(frame + FRAME_GROUND_MATERIAL);
      geoX = shadeX = geoZ = shadeZ = 0;
      geoY = shadeY = 1;
    } else {
      finish = hitMaterial(frame, px, py, pz);
      loadSurface(dx, dy, dz);
      if (load<u32>(finish + MATERIAL_ALPHA_MODE) != 0) alpha = alphaOf(finish);
    }
    const instance = hitInstance;
    loadMaterial(finish, dx, dy, dz);
    if (coverage == 0 && alpha > 0) {
      normalX = shadeX * fade;
      normalY = shadeY * fade;
      normalZ = shadeZ * fade;
      positionX = px;
      positionY = py;
      positionZ = pz;
      firstDistance = walked;
      coverage = 1;
      materialMatteId = load<u32>(finish + MATERIAL_MATTE_ID);
      partMatteId = onBase ? materialMatteId : load<u32>(instance + INSTANCE_MATTE_ID);
      pathAlpha = fade;
    }
    const c: f32 = -(shadeX * dx + shadeY * dy + shadeZ * dz);
    // What the surround shows in the mirror's direction, for glass, metal and lacquer alike.
    const k: f32 = 2 * c, mx: f32 = dx + k * shadeX, my: f32 = dy + k * shadeY, mz: f32 = dz + k * shadeZ;
    const through: f32 = onBase ? 1 - fade : 1 - alpha + alpha * transmission;
    const f = fresnel(c, 1 / ior);
    if (through < 1 || transmission > 0) {
      const solid: f32 = 1 - through;
      if (solid > 0) {
        shadeSurface(frame, finish, tree, root, at, px + geoX * eps, py + geoY * eps, pz + geoZ * eps, mx, my, mz, f, onBase && baseOn == 2);
        pathR += tr * solid * shadeLightR;
        pathG += tg * solid * shadeLightG;
        pathB += tb * solid * shadeLightB;
        guideDepth = walked;
        albedoR = tr * baseR;
        albedoG = tg * baseG;
        albedoB = tb * baseB;
        if (through <= 0) return;
      }
      if (transmission > 0) {
        evalEnvironment(frame, mx, my, mz, false);
        pathR += tr * through * f * lightR;
        pathG += tg * through * f * lightG;
        pathB += tb * through * f * lightB;
        // A solid body has a face behind: half of each face's tint, as two are passed.
        const g: f32 = through * (1 - f) * ((flags & THIN) != 0 ? (1 - f) / (1 - f * f) : 1);
        tr *= g * baseR;
        tg *= g * baseG;
        tb *= g * baseB;
      } else {
        tr *= through;
        tg *= through;
        tb *= through;
      }
    }
    if (max(tr, max(tg, tb)) < <f32>0.01) return;
    // Behind the fading plane stands the backdrop.
    if (onBase) {
      evalEnvironment(frame, dx, dy, dz, true);
      pathR += tr * lightR;
      pathG += tg * lightG;
      pathB += tb * lightB;
      return;
    }
    ox = px - geoX * eps;
    oy = py - geoY * eps;
    oz = pz - geoZ * eps;
  }
}

let shadeLightR: f32 = 0;
let shadeLightG: f32 = 0;
let shadeLightB: f32 = 0;

function shadeSurface(frame: usize, finish: usize, tree: usize, root: i32, at: usize, x: f32, y: f32, z: f32, mx: f32, my: f32, mz: f32, f: f32, shadowOnly: bool): void {
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
  const open: f32 = (<f32>0.12 + <f32>0.88 * ao) * occlusionOf(finish);
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
  // The mirror's picture blurs towards the soft light as roughness grows.
  const sr: f32 = (lightR + (er - lightR) * rough) * open, sg: f32 = (lightG + (eg - lightG) * rough) * open, sb: f32 = (lightB + (eb - lightB) * rough) * open;
  const lacquer: f32 = (flags & LAYERED) != 0 ? coat * f : 0;
  const m: f32 = (1 - metalness) * specular * f * (1 - <f32>0.7 * rough) + lacquer;
  shadeLightR = emissionR + d * (1 - m) * baseR * er + (m + metalness * baseR) * sr;
  shadeLightG = emissionG + d * (1 - m) * baseG * eg + (m + metalness * baseG) * sg;
  shadeLightB = emissionB + d * (1 - m) * baseB * eb + (m + metalness * baseB) * sb;
}
