/**
 * One path from the eye: what it meets, what it gathers. Lights are sampled at each surface and met by
 * scattered rays, joined by multiple importance sampling (Veach and Guibas, 1995, balance heuristic).
 * Clear glass bends paths. Unless caustics are on, shadow rays go straight through it and are dimmed by
 * the Fresnel loss of each interface and by what the body absorbs, so lights reach rooms through panes
 * without noise; a scattered ray that reached a light through glass is then weighted as if the glass were
 * not there.
 */
import { alphaOf, loadMaterial } from "../bsdf/material";
import { baseB, baseG, baseR, emissionB, emissionG, emissionR, flags, ior, transmission } from "../bsdf/materialState";
import { hitMaterial, loadSurface } from "../intersect/intersectionData";
import { closestHitOfCamera } from "../intersect/rayPacket";
import { closestHit } from "../intersect/traverse";
import { hitDistance, hitInstance } from "../intersect/hit";
import {
  CAMERA_RAYS, FRAME_CAUSTICS, FRAME_EXTENT, FRAME_GROUND_KIND, FRAME_GROUND_MATERIAL, FRAME_INSTANCES, FRAME_LIGHT_COUNT, FRAME_MAX_BOUNCES, FRAME_PASSES, FRAME_REFRACTION_DEPTH,
  FRAME_ROOT, FRAME_TREE, FROSTED, INSTANCE_FLAGS, LIGHT_SHAPE, LIGHT_SHAPES, MATERIAL_ALPHA_MODE, PASS_COMPONENTS, SCATTERED_RAYS, SOURCE_MODEL, THIN, UNLIT,
} from "../layout";
import { next2D, sampleX, sampleY } from "../sampler";
import { branchCount, clearBranches, crossInterface, passStraight, takeBranch } from "./dielectric";
import { addEmission, addEnvironment, addLightShape, expectEnvironment } from "./emitters";
import { ambientOcclusion, recordFirstHit, recordGuide } from "./features";
import { enterGround, intersectGround, PLANE } from "./ground";
import {
  absorb, advance, beginPath, bounces, clampAfter, directionX, directionY, directionZ, fromEye, hitX, hitY, hitZ, interfaces, isPrimary, medium, offset, originX, originY, originZ,
  scaleThroughput, setDirection, setOrigin, setThroughput, throughputB, throughputG, throughputR, travelled,
} from "./path";
import { addContribution, apart, coverage, pathAlpha, resetResult, setLayer, splitPhase, SUBJECT, UNSCATTERED } from "./result";
import { addDirectLight, prepareSurface, scatterPath, wentThrough } from "./scattering";

/** A path ends after this many surfaces of all kinds, whatever the limits say. */
const MAX_STEPS: i32 = 128;
/** Bounces after which dim paths are ended by chance, and the least chance to go on. */
const ROULETTE_BOUNCES: u32 = 2;
const MIN_SURVIVAL: f32 = 0.05;

/** Traces one sample of a pixel along this ray; what it comes to is in result.ts. */
export function tracePixelSample(frame: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32): void {
  resetResult();
  clearBranches();
  setThroughput(1, 1, 1);
  setOrigin(ox, oy, oz);
  setDirection(dx, dy, dz);
  interfaces = 0;
  medium = 0;
  tracePath(frame, true);
  for (let i: i32 = 0; i < branchCount; i++) {
    takeBranch(i);
    tracePath(frame, false);
  }
}

/** Follows the path to its end. `eye` where its first ray is the camera's own. */
function tracePath(frame: usize, eye: bool): void {
  const tree = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), instances = <usize>load<u32>(frame + FRAME_INSTANCES);
  const ground = load<u32>(frame + FRAME_GROUND_KIND), extent = load<f32>(frame + FRAME_EXTENT), caustics = load<u32>(frame + FRAME_CAUSTICS) != 0;
  splitPhase = UNSCATTERED;
  setLayer(SUBJECT);
  beginPath(eye);
  for (let step: i32 = 0; step < MAX_STEPS; step++) {
    const met = step == 0 && eye
      ? closestHitOfCamera(tree, root, instances, originX, originY, originZ, directionX, directionY, directionZ)
      : closestHit(tree, root, instances, fromEye ? CAMERA_RAYS : SCATTERED_RAYS | LIGHT_SHAPES, originX, originY, originZ, directionX, directionY, directionZ, f32.MAX_VALUE);
    let t = met ? hitDistance : f32.MAX_VALUE;
    let onGround = false;
    if (ground != 0 && directionY < 0 && (fromEye || ground == PLANE)) {
      const toGround = intersectGround(frame, t);
      onGround = toGround < t;
      t = toGround;
    }
    if (!met && !onGround) {
      addEnvironment(frame);
      return;
    }
    if (medium != 0) absorb(t);
    if (!onGround && (load<u32>(hitInstance + INSTANCE_FLAGS) & LIGHT_SHAPE) != 0) {
      addLightShape(frame, t, caustics);
      return;
    }
    advance(t, extent);
    let material = <usize>load<u32>(frame + FRAME_GROUND_MATERIAL);
    let outside = true;
    let faded: f32 = 0; // share of what lies behind the base plane
    if (onGround) {
      const share = enterGround(frame);
      if (share < 0) return;
      faded = 1 - share;
    } else {
      material = hitMaterial(frame, hitX, hitY, hitZ);
      outside = loadSurface(directionX, directionY, directionZ);
      if (isCutOut(material)) {
        setOrigin(hitX + directionX * offset, hitY + directionY * offset, hitZ + directionZ * offset);
        travelled += t;
        continue;
      }
    }
    loadMaterial(material, directionX, directionY, directionZ);
    const instance = onGround ? <usize>0 : hitInstance;
    if (coverage == 0 && isPrimary) recordFirstHit(material, instance, faded);
    if (fromEye) pathAlpha = 1 - faded;
    if (!leaveSurface(frame, material, instance, outside, faded, t, caustics)) return;
  }
}

/** Whether alpha lets the path through the surface that it met; what is blended is left to chance. */
// @ts-ignore: decorator
@inline
function isCutOut(material: usize): bool {
  if (load<u32>(material + MATERIAL_ALPHA_MODE) == 0) return false;
  const alpha = alphaOf(material);
  next2D();
  return alpha < 1 && sampleX >= alpha;
}

/** Adds what the surface shines and chooses how the path goes on: through glass, or scattered. Answers whether it goes on. */
function leaveSurface(frame: usize, material: usize, instance: usize, outside: bool, faded: f32, t: f32, caustics: bool): bool {
  if ((flags & UNLIT) != 0) {
    if (isPrimary) recordGuide(baseR, baseG, baseB, 0);
    addContribution(throughputR * baseR, throughputG * baseG, throughputB * baseB, clampAfter(frame, 1), SOURCE_MODEL);
    return false;
  }
  if (emissionR + emissionG + emissionB > 0) addEmission(frame, instance, t, caustics);
  next2D();
  const choice = sampleX;
  // One number says whether it is glass, and what is left of it which light is sampled.
  const glass = transmission > 0 && sampleY < transmission;
  const which: f32 = glass ? sampleY / transmission : (sampleY - transmission) / (1 - transmission);
  const thin = (flags & THIN) != 0;
  const eta: f32 = thin || outside ? 1 / ior : ior;
  const frosted = glass && (flags & FROSTED) != 0;
  if (glass) {
    const exhausted = interfaces >= load<u32>(frame + FRAME_REFRACTION_DEPTH);
    if (!exhausted) interfaces++;
    if (exhausted || !frosted) {
      if (exhausted) passStraight();
      else crossInterface(material, eta, thin, outside, choice, caustics);
      travelled += t;
      return true;
    }
  }
  return scatterAt(frame, material, frosted, thin, eta, outside, faded, choice, which);
}

/** Lights the surface by one light and scatters the path on. Answers whether it goes on. */
function scatterAt(
  frame: usize, material: usize, frosted: bool, thin: bool, eta: f32, outside: bool, faded: f32, choice: f32, which: f32,
): bool {
  const components = (load<u32>(frame + FRAME_PASSES) & PASS_COMPONENTS) != 0;
  if (isPrimary) {
    recordGuide(frosted ? 1 : baseR, frosted ? 1 : baseG, frosted ? 1 : baseB, faded);
    isPrimary = false;
    if (components) ambientOcclusion(frame);
  }
  if (bounces >= load<u32>(frame + FRAME_MAX_BOUNCES)) return false;
  bounces++;
  prepareSurface(frame, material, frosted, eta, outside);
  const first = splitPhase == UNSCATTERED;
  if (load<u32>(frame + FRAME_LIGHT_COUNT) != 0) addDirectLight(frame, frosted, which, components);
  if (!scatterPath(frosted, first, choice)) return false;
  if (first && apart != 0) expectEnvironment(frame);
  if (frosted && wentThrough() && !thin) medium = outside ? material : 0;
  return survives();
}

/** Russian roulette, once the path is dim. */
// @ts-ignore: decorator
@inline
function survives(): bool {
  const most = max(throughputR, max(throughputG, throughputB));
  if (!(most > 0)) return false;
  if (bounces <= ROULETTE_BOUNCES || most >= 1) return true;
  next2D();
  const chance = max<f32>(most, MIN_SURVIVAL);
  if (sampleX >= chance) return false;
  const k: f32 = 1 / chance;
  scaleThroughput(k, k, k);
  return true;
}
