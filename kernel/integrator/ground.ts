/** The base plane: a plane that fades into what lies behind it, or one that only catches shadows. */
import {
  FRAME_GROUND_HEIGHT, FRAME_GROUND_INNER, FRAME_GROUND_KIND, FRAME_GROUND_OUTER, FRAME_GROUND_X, FRAME_GROUND_Z, FRAME_LIGHTS, FRAME_LIGHT_COUNT, LIGHT_BYTES, SOURCE_SURROUNDINGS,
} from "../layout";
import { geoX, geoY, geoZ, shadeX, shadeY, shadeZ, vertexB, vertexG, vertexR } from "../intersect/intersectionData";
import {
  environmentPdf, evalEnvironment, groundLight, lightB, lightDistance, lightG, lightR, lightX, lightY, lightZ, sampleLightPoint,
} from "../lights/light";
import { transmittance, transmittanceB, transmittanceG, transmittanceR } from "../lights/transmittance";
import { cosine, luminance, sinCosTurns, sine } from "../math";
import { next2D, sampleX, sampleY } from "../sampler";
import {
  clampAfter, directionX, directionY, directionZ, fromEye, hitX, hitY, hitZ, isPrimary, offset, originX, originY, originZ, pathLength, scaleThroughput, throughputB, throughputG, throughputR,
} from "./path";
import { addContribution, albedoB, albedoG, albedoR, apart, BACKDROP, coverage, coverLayer, coverShadow, firstDistance, GROUND, guideDepth, loseLight, normalY, pathAlpha, setLayer } from "./result";

/** Values of FRAME_GROUND_KIND. */
export const PLANE: u32 = 1;
export const SHADOW_CATCHER: u32 = 2;
/** Lights that a shadow catcher looks at. */
const MAX_GROUND_LIGHTS: u32 = 64;

/** Distance along the path's ray to the plane if it is met before t, else t. */
// @ts-ignore: decorator
@inline
export function intersectGround(frame: usize, t: f32): f32 {
  const tp: f32 = (load<f32>(frame + FRAME_GROUND_HEIGHT) - originY) / directionY;
  if (!(tp > 0 && tp < t)) return t;
  const x: f32 = originX + tp * directionX - load<f32>(frame + FRAME_GROUND_X), z: f32 = originZ + tp * directionZ - load<f32>(frame + FRAME_GROUND_Z);
  const outer = load<f32>(frame + FRAME_GROUND_OUTER);
  return x * x + z * z < outer * outer ? tp : t;
}

/**
 * The path meets the plane: its normal, and what lies behind it where it fades, without a noisy choice between the two.
 * Answers the share of the plane itself, which the path goes on with; negative where the path ends there.
 */
export function enterGround(frame: usize): f32 {
  geoX = shadeX = geoZ = shadeZ = 0;
  geoY = shadeY = 1;
  // It has none; those of the surface that was met before are not its own.
  vertexR = vertexG = vertexB = 1;
  const x: f32 = hitX - load<f32>(frame + FRAME_GROUND_X), z: f32 = hitZ - load<f32>(frame + FRAME_GROUND_Z);
  const inner = load<f32>(frame + FRAME_GROUND_INNER), outer = load<f32>(frame + FRAME_GROUND_OUTER);
  const catchesShadows = load<u32>(frame + FRAME_GROUND_KIND) == SHADOW_CATCHER;
  let k: f32 = (outer - sqrt<f32>(x * x + z * z)) / (outer - inner);
  if (k >= 1 && !catchesShadows) {
    coverGround(1);
    return 1;
  }
  k = min<f32>(k, 1);
  k = k * k * (3 - 2 * k);
  evalEnvironment(frame, directionX, directionY, directionZ, fromEye);
  const faded: f32 = 1 - k;
  if (catchesShadows) {
    endAtShadowCatcher(frame, k, faded);
    return -1;
  }
  if (fromEye && apart != 0) {
    setLayer(BACKDROP);
    coverLayer(BACKDROP, throughputR * faded, throughputG * faded, throughputB * faded);
  }
  addContribution(throughputR * lightR * faded, throughputG * lightG * faded, throughputB * lightB * faded, clampAfter(frame, 1), SOURCE_SURROUNDINGS);
  coverGround(k);
  scaleThroughput(k, k, k);
  return k;
}

/** From here on the path lights the ground, where it is the eye's own. `k` is the plane's share. */
// @ts-ignore: decorator
@inline
function coverGround(k: f32): void {
  if (!fromEye || apart == 0) return;
  setLayer(GROUND);
  coverLayer(GROUND, throughputR * k, throughputG * k, throughputB * k);
}

function endAtShadowCatcher(frame: usize, k: f32, faded: f32): void {
  const r = lightR, g = lightG, b = lightB;
  const open: f32 = faded + k * shadowCatcher(frame, hitX, hitY + offset, hitZ);
  setLayer(BACKDROP);
  addContribution(throughputR * r * open, throughputG * g * open, throughputB * b * open, 0, SOURCE_SURROUNDINGS);
  if (apart != 0) {
    const lost: f32 = 1 - open;
    coverLayer(BACKDROP, throughputR, throughputG, throughputB);
    loseLight(BACKDROP, throughputR * r * lost, throughputG * g * lost, throughputB * b * lost);
    coverShadow(lost * min<f32>(luminance(throughputR, throughputG, throughputB), 1));
  }
  pathAlpha = 1 - open * min<f32>(luminance(throughputR, throughputG, throughputB), 1);
  if (!isPrimary) return;
  albedoR = throughputR;
  albedoG = throughputG;
  albedoB = throughputB;
  normalY = normalY + (coverage == 0 ? k : 0);
  firstDistance = coverage == 0 ? pathLength : firstDistance;
  guideDepth = pathLength;
  coverage = 1;
}

/** 1 where the light that would come arrives at a point of the plane, by one light chosen by what it would give. */
function shadowCatcher(frame: usize, x: f32, y: f32, z: f32): f32 {
  const count = min<u32>(load<u32>(frame + FRAME_LIGHT_COUNT), MAX_GROUND_LIGHTS), lights = <usize>load<u32>(frame + FRAME_LIGHTS);
  // A gradient gives pi times about its mean; an environment map is among the lights.
  evalEnvironment(frame, 0, 1, 0, false);
  let sky: f32 = luminance(lightR, lightG, lightB);
  evalEnvironment(frame, 1, 0, 0, false);
  sky = (sky + luminance(lightR, lightG, lightB)) * <f32>1.5707963;
  if (environmentPdf(frame, 0, 1, 0) > 0) sky = 0;
  let all = sky;
  for (let i: u32 = 0; i < count; i++) all += groundLight(frame, lights + <usize>i * LIGHT_BYTES, x, y, z);
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
    const light = lights + <usize>i * LIGHT_BYTES;
    left -= groundLight(frame, light, x, y, z);
    if (left > 0 && i + 1 < count) continue;
    if (!sampleLightPoint(frame, light, x, y, z, sampleX, sampleY) || lightY <= 0) return 1;
    return transmittance(frame, x, y, z, lightX, lightY, lightZ, lightDistance) ? luminance(transmittanceR, transmittanceG, transmittanceB) : 0;
  }
  return 1;
}
