/**
 * One path from the eye: what it meets, what it gathers. Lamps are drawn at each surface and met by
 * scattered rays, joined by multiple importance sampling (Veach and Guibas, 1995, balance heuristic).
 * Clear glass bends paths. Unless caustics are on, shadow rays go straight through it and are dimmed by
 * the Fresnel loss of each interface and by what the body absorbs, so lamps light rooms through panes
 * without noise; a scattered ray that reached a lamp through glass is then weighed as if the glass were
 * not there.
 */
import {
  FRAME_TREE, FRAME_ROOT, FRAME_INSTANCES, FRAME_LIGHTS, FRAME_LIGHT_COUNT, FRAME_MAX_BOUNCES, FRAME_REFRACTION_DEPTH, FRAME_CLAMP, FRAME_EXTENT,
  FRAME_CAUSTICS, FRAME_GROUND_KIND, FRAME_GROUND_HEIGHT, FRAME_GROUND_X, FRAME_GROUND_Z, FRAME_GROUND_INNER, FRAME_GROUND_OUTER,
  FRAME_GROUND_MATERIAL, FRAME_TRANSPARENT, FRAME_ENERGY, FRAME_PASSES, FRAME_AO_DISTANCE, CAMERA_RAYS, SCATTERED_RAYS, OPAQUE, TRANSPARENT, LIGHT_SHAPES, LIGHT_SHAPE, LIGHT_BYTES,
  INSTANCE_MESH, INSTANCE_FLAGS, INSTANCE_LIGHT_PDF, INSTANCE_MATTE_ID, MATERIAL_ALPHA_MODE, MATERIAL_ABSORPTION, MATERIAL_MATTE_ID,
  THIN, UNLIT, FROSTED, PASS_COMPONENTS,
} from "./layout";
import { closestHitOfCamera } from "./bundle";
import { closestHit, anyHit, hitDistance, hitInstance, branchScratch as scratch } from "./traverse";
import { basis, tangentX, tangentY, tangentZ, bitangentX, bitangentY, bitangentZ, sinCosTurns, sine, cosine, luminance, expNeg } from "./math";
import { next2D, sampleX, sampleY } from "./sample";
import { loadSurface, hitMaterial, geoX, geoY, geoZ, shadeX, shadeY, shadeZ, texTangentX, texTangentY, texTangentZ, handedness } from "./hit";
import { loadMaterial, alphaOf } from "./material";
import { baseR, baseG, baseB, ior, transmission, emissionR, emissionG, emissionB, anisotropy, brushCos, brushSin, flags, coatHasNormal, coatNormalX, coatNormalY, coatNormalZ } from "./look";
import { setSurface, setCoatFrame, evalBsdf, sampleBsdf, fresnel, valueR, valueG, valueB, diffuseR, diffuseG, diffuseB, bsdfPdf, outX, outY, outZ } from "./surface";
import { setGlass, evalGlass, sampleGlass } from "./glass";
import {
  evalEnvironment, environmentPdf, evalSunDisc, sunCount, evalLight, sampleLight, sampleLightPoint, groundLight, lightR, lightG, lightB, lightX, lightY, lightZ, lightDistance, lightPdf,
} from "./light";
import { transmittance, transmittanceR, transmittanceG, transmittanceB } from "./shadow";

/** What the path gathered, and what it met first. */
export let pathR: f32 = 0;
export let pathG: f32 = 0;
export let pathB: f32 = 0;
export let pathAlpha: f32 = 0;
/** Part of it that came without being scattered. */
export let unscatteredR: f32 = 0;
export let unscatteredG: f32 = 0;
export let unscatteredB: f32 = 0;
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
/** Distance to the first surface that is not clear glass; 0 where the eye met none. */
export let guideDepth: f32 = 0;
export let coverage: f32 = 0;
export let partMatteId: u32 = 0;
export let materialMatteId: u32 = 0;
/** 0 where the eye's path was mirrored by glass: such a sample says nothing of what lies behind. */
export let guideValid: f32 = 1;
/** Parts of pathR .. pathB that the first surface scattered, diffusely and by its lobes. */
export let scatteredR: f32 = 0;
export let scatteredG: f32 = 0;
export let scatteredB: f32 = 0;
export let specularR: f32 = 0;
export let specularG: f32 = 0;
export let specularB: f32 = 0;
/** Openness at the first surface; luminance that lamps would give there, and give. */
export let ao: f32 = 0;
export let unshadowed: f32 = 0;
export let shadowed: f32 = 0;

/** A path ends after this many surfaces of all kinds, whatever the limits say. */
const MAX_STEPS: i32 = 128;
/** Lamps that a shadow-only ground looks at. */
const MAX_GROUND_LIGHTS: u32 = 64;

// 0 before anything scattered; 1 while drawing lamps at the first surface; 2 after.
let splitPhase: i32 = 0;
let diffuseShareR: f32 = 0;
let diffuseShareG: f32 = 0;
let diffuseShareB: f32 = 0;

/** Gathers a contribution, scaled down to the limit where one is set. */
function addContribution(r: f32, g: f32, b: f32, limit: f32): void {
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
  if (splitPhase == 0) {
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

// @ts-ignore: decorator
@inline
function ratio(a: f32, b: f32): f32 {
  return b > 0 ? a / b : 0;
}

/** Shadow-only ground: 1 where the light that would come arrives, from one lamp drawn by what it would give. */
function shadowCatcher(frame: usize, x: f32, y: f32, z: f32): f32 {
  const count = min<u32>(load<u32>(frame + FRAME_LIGHT_COUNT), MAX_GROUND_LIGHTS), lamps = <usize>load<u32>(frame + FRAME_LIGHTS);
  // A gradient gives pi times about its mean; a picture of the surround is among the lamps.
  evalEnvironment(frame, 0, 1, 0, false);
  let sky: f32 = luminance(lightR, lightG, lightB);
  evalEnvironment(frame, 1, 0, 0, false);
  sky = (sky + luminance(lightR, lightG, lightB)) * <f32>1.5707963;
  if (environmentPdf(frame, 0, 1, 0) > 0) sky = 0;
  let all = sky;
  for (let i: u32 = 0; i < count; i++) all += groundLight(frame, lamps + <usize>i * LIGHT_BYTES, x, y, z);
  next2D();
  let left: f32 = sampleX * all - sky;
  next2D();
  if (left < 0) {
    sinCosTurns(sampleX);
    const r = sqrt<f32>(sampleY);
    if (!transmittance(frame, x, y, z, r * cosine, sqrt<f32>(1 - sampleY), r * sine, f32.MAX_VALUE)) return 0;
    return luminance(transmittanceR, transmittanceG, transmittanceB);
  }
  for (let i: u32 = 0; i < count; i++) {
    const lamp = lamps + <usize>i * LIGHT_BYTES;
    left -= groundLight(frame, lamp, x, y, z);
    if (left > 0 && i + 1 < count) continue;
    if (!sampleLightPoint(frame, lamp, x, y, z, sampleX, sampleY) || lightY <= 0) return 1;
    return transmittance(frame, x, y, z, lightX, lightY, lightZ, lightDistance) ? luminance(transmittanceR, transmittanceG, transmittanceB) : 0;
  }
  return 1;
}

/** Distance to the base plane if it is met before t, else t. */
// @ts-ignore: decorator
@inline
function intersectGround(frame: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, t: f32): f32 {
  const tp: f32 = (load<f32>(frame + FRAME_GROUND_HEIGHT) - oy) / dy;
  if (!(tp > 0 && tp < t)) return t;
  const x: f32 = ox + tp * dx - load<f32>(frame + FRAME_GROUND_X), z: f32 = oz + tp * dz - load<f32>(frame + FRAME_GROUND_Z);
  const outer = load<f32>(frame + FRAME_GROUND_OUTER);
  return x * x + z * z < outer * outer ? tp : t;
}

/**
 * Where the eye looks through clear glass, both ways are followed: the light that passes first, then
 * what each face mirrored, so that neither is left to chance. Such branches wait here.
 */
const MAX_BRANCHES: i32 = 4;
/** A face that mirrors less than this share of what is seen is left to chance after all. */
const MIN_BRANCH: f32 = 0.01;
let branchCount: i32 = 0;

function pushBranch(r: f32, g: f32, b: f32, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, interfaces: u32, absorbs: usize): void {
  const p = scratch + (<usize>branchCount << 6);
  store<f32>(p, r);
  store<f32>(p, g, 4);
  store<f32>(p, b, 8);
  store<f32>(p, ox, 12);
  store<f32>(p, oy, 16);
  store<f32>(p, oz, 20);
  store<f32>(p, dx, 24);
  store<f32>(p, dy, 28);
  store<f32>(p, dz, 32);
  store<u32>(p, interfaces, 36);
  store<u32>(p, <u32>absorbs, 40);
  branchCount++;
}

export function tracePixelSample(frame: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32): void {
  pathR = pathG = pathB = pathAlpha = unscatteredR = unscatteredG = unscatteredB = 0;
  albedoR = albedoG = albedoB = 1;
  normalX = normalY = normalZ = positionX = positionY = positionZ = firstDistance = coverage = 0;
  partMatteId = materialMatteId = 0;
  guideValid = 1;
  guideDepth = 0;
  scatteredR = scatteredG = scatteredB = specularR = specularG = specularB = ao = unshadowed = shadowed = 0;
  branchCount = 0;
  tracePath(frame, 1, 1, 1, ox, oy, oz, dx, dy, dz, 0, 0, true);
  for (let i: i32 = 0; i < branchCount; i++) {
    const p = scratch + (<usize>i << 6);
    tracePath(
      frame, load<f32>(p), load<f32>(p, 4), load<f32>(p, 8), load<f32>(p, 12), load<f32>(p, 16), load<f32>(p, 20),
      load<f32>(p, 24), load<f32>(p, 28), load<f32>(p, 32), load<u32>(p, 36), <usize>load<u32>(p, 40), false,
    );
  }
}

/**
 * Follows one way from a point: with this throughput, after so many interfaces, inside the body of the
 * finish `absorbs` or 0. `eye` where it is the camera's own.
 */
function tracePath(
  frame: usize, tr: f32, tg: f32, tb: f32, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, interfaces: u32, absorbs: usize, eye: bool,
): void {
  const tree = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), at = <usize>load<u32>(frame + FRAME_INSTANCES);
  const maxBounces = load<u32>(frame + FRAME_MAX_BOUNCES), maxInterfaces = load<u32>(frame + FRAME_REFRACTION_DEPTH);
  const limit = load<f32>(frame + FRAME_CLAMP), extent = load<f32>(frame + FRAME_EXTENT);
  const lampCount = load<u32>(frame + FRAME_LIGHT_COUNT), suns = sunCount(frame), baseOn = load<u32>(frame + FRAME_GROUND_KIND);
  const caustics = load<u32>(frame + FRAME_CAUSTICS) != 0, parts = (load<u32>(frame + FRAME_PASSES) & PASS_COMPONENTS) != 0;
  const energy = <usize>load<u32>(frame + FRAME_ENERGY);
  splitPhase = 0;
  let bounces: u32 = 0;
  let seen = eye; // the eye's own ray, or that ray seen through glass
  let features = eye; // nothing but glass was met so far
  let lastDensity: f32 = 0; // of the scattered ray, 0 where only it could have come this way
  let travelled: f32 = 0; // since the last surface that scattered, for lamps behind glass
  let walked: f32 = 0;
  // What the body that the path is in absorbs a metre.
  let inX: f32 = 0, inY: f32 = 0, inZ: f32 = 0;
  if (absorbs != 0) {
    inX = load<f32>(absorbs, MATERIAL_ABSORPTION);
    inY = load<f32>(absorbs, MATERIAL_ABSORPTION + 4);
    inZ = load<f32>(absorbs, MATERIAL_ABSORPTION + 8);
  }
  for (let step: i32 = 0; step < MAX_STEPS; step++) {
    const met = step == 0 && eye
      ? closestHitOfCamera(tree, root, at, ox, oy, oz, dx, dy, dz)
      : closestHit(tree, root, at, seen ? CAMERA_RAYS : SCATTERED_RAYS | LIGHT_SHAPES, ox, oy, oz, dx, dy, dz, f32.MAX_VALUE);
    let t = met ? hitDistance : f32.MAX_VALUE;
    let onBase = false;
    if (baseOn != 0 && dy < 0 && (seen || baseOn == 1)) {
      const tb0 = intersectGround(frame, ox, oy, oz, dx, dy, dz, t);
      onBase = tb0 < t;
      t = tb0;
    }
    if (!met && !onBase) {
      evalEnvironment(frame, dx, dy, dz, seen);
      let w: f32 = 1;
      if (!seen && lastDensity > 0) {
        const d = environmentPdf(frame, dx, dy, dz);
        if (d > 0) w = lastDensity / (lastDensity + d);
      }
      const bound: f32 = bounces > 1 ? limit : 0;
      addContribution(tr * lightR * w, tg * lightG * w, tb * lightB * w, bound);
      for (let i: u32 = 0; i < suns; i++) {
        if (!evalSunDisc(frame, i, dx, dy, dz) || (seen && load<u32>(frame + FRAME_TRANSPARENT) != 0)) continue;
        w = !seen && lastDensity > 0 ? lastDensity / (lastDensity + lightPdf) : 1;
        addContribution(tr * lightR * w, tg * lightG * w, tb * lightB * w, bounces > 0 && lastDensity == 0 ? limit : bound);
      }
      if (seen) pathAlpha = 1 - min<f32>(luminance(tr, tg, tb), 1);
      return;
    }
    if (inX + inY + inZ > 0) {
      // Beer and Lambert.
      tr *= expNeg(inX * t);
      tg *= expNeg(inY * t);
      tb *= expNeg(inZ * t);
    }
    if (!onBase && (load<u32>(hitInstance + INSTANCE_FLAGS) & LIGHT_SHAPE) != 0) {
      evalLight(<usize>load<u32>(hitInstance + INSTANCE_MESH), dx, dy, dz, t);
      let w: f32 = 1;
      if (lastDensity > 0) {
        const far: f32 = travelled + t;
        w = lastDensity / (lastDensity + lightPdf * (far * far) / (t * t));
      }
      // A lamp mirrored onto a surface by glass cannot be drawn, only met by chance: rare and bright.
      addContribution(tr * lightR * w, tg * lightG * w, tb * lightB * w, bounces > 1 || (bounces > 0 && lastDensity == 0 && !caustics) ? limit : 0);
      return;
    }
    walked += t;
    const px: f32 = ox + t * dx, py: f32 = oy + t * dy, pz: f32 = oz + t * dz;
    // Off the surface by what single precision loses there, so that it does not meet itself.
    const eps: f32 = (abs(px) + abs(py) + abs(pz) + t) * <f32>2e-6 + extent * <f32>1e-6;
    let finish: usize;
    let outside = true;
    let faded: f32 = 0; // share of what lies behind the base plane
    if (onBase) {
      finish = <usize>load<u32>(frame + FRAME_GROUND_MATERIAL);
      geoX = shadeX = geoZ = shadeZ = 0;
      geoY = shadeY = 1;
      // The plane fades into what lies behind it, without a noisy choice between the two.
      const x: f32 = px - load<f32>(frame + FRAME_GROUND_X), z: f32 = pz - load<f32>(frame + FRAME_GROUND_Z);
      const inner = load<f32>(frame + FRAME_GROUND_INNER), outer = load<f32>(frame + FRAME_GROUND_OUTER);
      let k: f32 = (outer - sqrt<f32>(x * x + z * z)) / (outer - inner);
      if (k < 1 || baseOn == 2) {
        k = min<f32>(k, 1);
        k = k * k * (3 - 2 * k);
        evalEnvironment(frame, dx, dy, dz, seen);
        faded = 1 - k;
        if (baseOn == 2) {
          const lr = lightR, lg = lightG, lb = lightB;
          const open: f32 = faded + k * shadowCatcher(frame, px, py + eps, pz);
          addContribution(tr * lr * open, tg * lg * open, tb * lb * open, 0);
          pathAlpha = 1 - open * min<f32>(luminance(tr, tg, tb), 1);
          if (features) {
            albedoR = tr;
            albedoG = tg;
            albedoB = tb;
            normalY = normalY + (coverage == 0 ? k : 0);
            firstDistance = coverage == 0 ? walked : firstDistance;
            guideDepth = walked;
            coverage = 1;
          }
          return;
        }
        addContribution(tr * lightR * faded, tg * lightG * faded, tb * lightB * faded, bounces > 1 ? limit : 0);
        tr *= k;
        tg *= k;
        tb *= k;
      }
    } else {
      finish = hitMaterial(frame, px, py, pz);
      outside = loadSurface(dx, dy, dz);
      if (load<u32>(finish + MATERIAL_ALPHA_MODE) != 0) {
        const alpha = alphaOf(finish);
        next2D();
        if (alpha < 1 && sampleX >= alpha) {
          ox = px + dx * eps;
          oy = py + dy * eps;
          oz = pz + dz * eps;
          travelled += t;
          continue;
        }
      }
    }
    loadMaterial(finish, dx, dy, dz);
    const instance = hitInstance;
    if (coverage == 0 && features) {
      // Where the base plane fades, its features fade with it, or the denoiser would see an edge.
      normalX = shadeX * (1 - faded);
      normalY = shadeY * (1 - faded);
      normalZ = shadeZ * (1 - faded);
      positionX = px;
      positionY = py;
      positionZ = pz;
      firstDistance = walked;
      coverage = 1;
      materialMatteId = load<u32>(finish + MATERIAL_MATTE_ID);
      partMatteId = onBase ? materialMatteId : load<u32>(instance + INSTANCE_MATTE_ID);
    }
    if (seen) pathAlpha = 1 - faded;
    if ((flags & UNLIT) != 0) {
      if (features) {
        albedoR = tr * baseR;
        albedoG = tg * baseG;
        albedoB = tb * baseB;
        guideDepth = walked;
      }
      addContribution(tr * baseR, tg * baseG, tb * baseB, bounces > 1 ? limit : 0);
      return;
    }
    if (emissionR + emissionG + emissionB > 0) {
      let w: f32 = 1;
      const chance = onBase ? <f32>0 : load<f32>(instance + INSTANCE_LIGHT_PDF);
      if (!seen && lastDensity > 0 && chance > 0) {
        const c = abs<f32>(geoX * dx + geoY * dy + geoZ * dz), far: f32 = travelled + t;
        if (c > 0) w = lastDensity / (lastDensity + chance * far * far / c);
      }
      addContribution(tr * emissionR * w, tg * emissionG * w, tb * emissionB * w, bounces > 1 || (bounces > 0 && lastDensity == 0 && !caustics) ? limit : 0);
    }
    next2D();
    const choice = sampleX;
    // One number says whether it is glass, and what is left of it which lamp is drawn.
    const glass = transmission > 0 && sampleY < transmission;
    const which: f32 = glass ? sampleY / transmission : (sampleY - transmission) / (1 - transmission);
    const thin = (flags & THIN) != 0;
    const eta: f32 = thin || outside ? 1 / ior : ior;
    if (glass && interfaces >= maxInterfaces) {
      // Out of depth: straight on, so that what lies behind still shows.
      tr *= baseR;
      tg *= baseG;
      tb *= baseB;
      ox = px - geoX * eps;
      oy = py - geoY * eps;
      oz = pz - geoZ * eps;
      travelled += t;
      continue;
    }
    const frosted = glass && (flags & FROSTED) != 0;
    if (glass) interfaces++;
    if (glass && !frosted) {
      const c: f32 = -(shadeX * dx + shadeY * dy + shadeZ * dz);
      let f = fresnel(c, eta);
      // A sheet reflects from both faces, to and fro: 2f / (1 + f).
      if (thin) f = 2 * f / (1 + f);
      let mirrors = choice < f;
      if (features && branchCount < MAX_BRANCHES && f < 1 && f * max(tr, max(tg, tb)) > MIN_BRANCH) {
        const k: f32 = 2 * c;
        pushBranch(
          tr * f, tg * f, tb * f, px + geoX * eps, py + geoY * eps, pz + geoZ * eps,
          dx + k * shadeX, dy + k * shadeY, dz + k * shadeZ, interfaces, outside || thin ? 0 : finish,
        );
        mirrors = false;
        tr *= 1 - f;
        tg *= 1 - f;
        tb *= 1 - f;
      }
      if (mirrors) {
        const k: f32 = 2 * c;
        dx += k * shadeX;
        dy += k * shadeY;
        dz += k * shadeZ;
        ox = px + geoX * eps;
        oy = py + geoY * eps;
        oz = pz + geoZ * eps;
        if (features) guideValid = 0;
        features = false;
        seen = false;
        lastDensity = 0;
      } else {
        tr *= baseR;
        tg *= baseG;
        tb *= baseB;
        if (!thin) {
          const ct = sqrt<f32>(max<f32>(0, 1 - eta * eta * (1 - c * c)));
          const k: f32 = eta * c - ct;
          dx = eta * dx + k * shadeX;
          dy = eta * dy + k * shadeY;
          dz = eta * dz + k * shadeZ;
          const n: f32 = 1 / sqrt<f32>(dx * dx + dy * dy + dz * dz);
          dx *= n;
          dy *= n;
          dz *= n;
          inX = outside ? load<f32>(finish, MATERIAL_ABSORPTION) : 0;
          inY = outside ? load<f32>(finish, MATERIAL_ABSORPTION + 4) : 0;
          inZ = outside ? load<f32>(finish, MATERIAL_ABSORPTION + 8) : 0;
        }
        ox = px - geoX * eps;
        oy = py - geoY * eps;
        oz = pz - geoZ * eps;
        if (caustics && bounces > 0) lastDensity = 0;
      }
      travelled += t;
      continue;
    }
    if (features) {
      albedoR = tr * (frosted ? 1 : baseR) + faded;
      albedoG = tg * (frosted ? 1 : baseG) + faded;
      albedoB = tb * (frosted ? 1 : baseB) + faded;
      features = false;
      guideDepth = walked;
      if (parts) ambientOcclusion(frame, tree, root, at, px + geoX * eps, py + geoY * eps, pz + geoZ * eps);
    }
    if (bounces >= maxBounces) return;
    bounces++;
    shadingBasis();
    const nx = shadeX, ny = shadeY, nz = shadeZ, gx = geoX, gy = geoY, gz = geoZ;
    const ax = tangentX, ay = tangentY, az = tangentZ, cx = bitangentX, cy = bitangentY, cz = bitangentZ;
    const vx: f32 = -(dx * ax + dy * ay + dz * az), vy: f32 = -(dx * cx + dy * cy + dz * cz), vz: f32 = -(dx * nx + dy * ny + dz * nz);
    if (frosted) setGlass(finish, eta, outside);
    else {
      const kx = coatNormalX, ky = coatNormalY, kz = coatNormalZ;
      if (coatHasNormal) setCoatFrame(kx * ax + ky * ay + kz * az, kx * cx + ky * cy + kz * cz, kx * nx + ky * ny + kz * nz);
      else setCoatFrame(0, 0, 1);
      setSurface(energy, vx, vy, vz);
    }
    const first = splitPhase == 0;
    if (lampCount != 0) {
      next2D();
      if (sampleLight(frame, px, py, pz, which, sampleX, sampleY)) {
        const wx = lightX, wy = lightY, wz = lightZ, far = lightDistance;
        const side: f32 = wx * gx + wy * gy + wz * gz;
        const lz: f32 = wx * nx + wy * ny + wz * nz;
        if (frosted) evalGlass(vx, vy, vz, wx * ax + wy * ay + wz * az, wx * cx + wy * cy + wz * cz, lz);
        else evalBsdf(vx, vy, vz, wx * ax + wy * ay + wz * az, wx * cx + wy * cy + wz * cz, lz);
        if (bsdfPdf > 0 && side * lz > 0) {
          const k: f32 = lightPdf > 0 ? 1 / (lightPdf + bsdfPdf) : 1;
          const r: f32 = tr * valueR * lightR * k, g: f32 = tg * valueG * lightG * k, b: f32 = tb * valueB * lightB * k;
          if (r + g + b > 0) {
            if (first) {
              splitPhase = 1;
              diffuseShareR = ratio(diffuseR, valueR);
              diffuseShareG = ratio(diffuseG, valueG);
              diffuseShareB = ratio(diffuseB, valueB);
              if (parts) unshadowed = luminance(r, g, b);
            }
            const e: f32 = side > 0 ? eps : -eps;
            if (transmittance(frame, px + gx * e, py + gy * e, pz + gz * e, wx, wy, wz, far)) {
              if (first && parts) shadowed = luminance(r * transmittanceR, g * transmittanceG, b * transmittanceB);
              addContribution(r * transmittanceR, g * transmittanceG, b * transmittanceB, bounces > 1 ? limit : 0);
            }
          }
        }
      }
    }
    next2D();
    if (!(frosted ? sampleGlass(vx, vy, vz, choice, sampleX, sampleY) : sampleBsdf(vx, vy, vz, choice, sampleX, sampleY))) return;
    const lx = outX, ly = outY, lz = outZ;
    if (frosted) evalGlass(vx, vy, vz, lx, ly, lz);
    else evalBsdf(vx, vy, vz, lx, ly, lz);
    if (!(bsdfPdf > 0)) return;
    if (first) {
      splitPhase = 2;
      diffuseShareR = ratio(diffuseR, valueR);
      diffuseShareG = ratio(diffuseG, valueG);
      diffuseShareB = ratio(diffuseB, valueB);
    }
    const inv: f32 = 1 / bsdfPdf;
    tr *= valueR * inv;
    tg *= valueG * inv;
    tb *= valueB * inv;
    lastDensity = bsdfPdf;
    travelled = 0;
    seen = false;
    dx = lx * ax + ly * cx + lz * nx;
    dy = lx * ay + ly * cy + lz * ny;
    dz = lx * az + ly * cz + lz * nz;
    const side: f32 = dx * gx + dy * gy + dz * gz;
    if (side * lz <= 0) return;
    if (frosted && lz < 0 && !thin) {
      inX = outside ? load<f32>(finish, MATERIAL_ABSORPTION) : 0;
      inY = outside ? load<f32>(finish, MATERIAL_ABSORPTION + 4) : 0;
      inZ = outside ? load<f32>(finish, MATERIAL_ABSORPTION + 8) : 0;
    }
    const e: f32 = side > 0 ? eps : -eps;
    ox = px + gx * e;
    oy = py + gy * e;
    oz = pz + gz * e;
    // Russian roulette, once the path is dim.
    const most = max(tr, max(tg, tb));
    if (!(most > 0)) return;
    if (bounces > 2 && most < 1) {
      next2D();
      const keep = max<f32>(most, <f32>0.05);
      if (sampleX >= keep) return;
      const k: f32 = 1 / keep;
      tr *= k;
      tg *= k;
      tb *= k;
    }
  }
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
  const bx: f32 = shadeY * z - shadeZ * y, by: f32 = shadeZ * x - shadeX * z, bz: f32 = shadeX * y - shadeY * x;
  // Counterclockwise in the picture: the other way round where the texture is mirrored.
  const c = brushCos, s: f32 = -handedness * brushSin;
  tangentX = c * x + s * bx;
  tangentY = c * y + s * by;
  tangentZ = c * z + s * bz;
  bitangentX = c * bx - s * x;
  bitangentY = c * by - s * y;
  bitangentZ = c * bz - s * z;
}

/** Ambient occlusion at the first surface: one ray into the half space, as far as FRAME_REACH. */
function ambientOcclusion(frame: usize, tree: usize, root: i32, at: usize, x: f32, y: f32, z: f32): void {
  next2D();
  sinCosTurns(sampleX);
  const r = sqrt<f32>(sampleY), h = sqrt<f32>(max<f32>(0, 1 - sampleY));
  basis(geoX, geoY, geoZ);
  const dx: f32 = r * cosine * tangentX + r * sine * bitangentX + h * geoX;
  const dy: f32 = r * cosine * tangentY + r * sine * bitangentY + h * geoY;
  const dz: f32 = r * cosine * tangentZ + r * sine * bitangentZ + h * geoZ;
  ao = anyHit(tree, root, at, OPAQUE | TRANSPARENT, x, y, z, dx, dy, dz, load<f32>(frame + FRAME_AO_DISTANCE)) ? 0 : 1;
}
