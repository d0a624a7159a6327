/**
 * Light that a path arrives at: the environment, the sun's disc, a light's shape, a surface that shines. What the last
 * surface could have sampled as a light too is weighted by the balance heuristic (Veach and Guibas, 1995).
 */
import { emissionB, emissionG, emissionR } from "../bsdf/materialState";
import { geoX, geoY, geoZ } from "../intersect/intersectionData";
import { hitInstance } from "../intersect/hit";
import { FRAME_CLAMP, FRAME_TRANSPARENT, INSTANCE_LIGHT_PDF, INSTANCE_MESH, SOURCE_MODEL, SOURCE_SUN, SOURCE_SURROUNDINGS } from "../layout";
import { environmentPdf, evalEnvironment, evalLight, evalSunDisc, lightB, lightG, lightPdf, lightR, lightSource, sunCount } from "../lights/light";
import { luminance } from "../math";
import {
  bounces, clampAfter, clampOfLight, directionX, directionY, directionZ, fromEye, scatterPdf, throughputB, throughputG, throughputR, travelled,
} from "./path";
import { addContribution, apart, BACKDROP, coverLayer, GROUND, layer, loseLight, pathAlpha, setLayer } from "./result";

/** The path met nothing. */
export function addEnvironment(frame: usize): void {
  const dx = directionX, dy = directionY, dz = directionZ;
  evalEnvironment(frame, dx, dy, dz, fromEye);
  let w: f32 = 1;
  if (!fromEye && scatterPdf > 0) {
    const pdf = environmentPdf(frame, dx, dy, dz);
    if (pdf > 0) w = scatterPdf / (scatterPdf + pdf);
  }
  if (fromEye && apart != 0) {
    setLayer(BACKDROP);
    coverLayer(BACKDROP, throughputR, throughputG, throughputB);
  }
  const bound = clampAfter(frame, 1);
  addContribution(throughputR * lightR * w, throughputG * lightG * w, throughputB * lightB * w, bound, SOURCE_SURROUNDINGS);
  if (apart != 0 && expectsEnvironment(frame)) loseLight(GROUND, -throughputR * lightR, -throughputG * lightG, -throughputB * lightB);
  const suns = sunCount(frame);
  for (let i: u32 = 0; i < suns; i++) {
    if (!evalSunDisc(frame, i, dx, dy, dz) || (fromEye && load<u32>(frame + FRAME_TRANSPARENT) != 0)) continue;
    w = !fromEye && scatterPdf > 0 ? scatterPdf / (scatterPdf + lightPdf) : 1;
    const limit = bounces > 0 && scatterPdf == 0 ? load<f32>(frame + FRAME_CLAMP) : bound;
    addContribution(throughputR * lightR * w, throughputG * lightG * w, throughputB * lightB * w, limit, SOURCE_SUN);
  }
  if (fromEye) pathAlpha = 1 - min<f32>(luminance(throughputR, throughputG, throughputB), 1);
}

/** Whether the ground scattered the path, and its surroundings light it by such paths alone: an image is sampled as a light. */
// @ts-ignore: decorator
@inline
function expectsEnvironment(frame: usize): bool {
  return layer == GROUND && bounces == 1 && environmentPdf(frame, 0, 1, 0) == 0;
}

/** The ground has scattered the path: counts the light of its surroundings as lost, until the path arrives there. */
export function expectEnvironment(frame: usize): void {
  if (!expectsEnvironment(frame)) return;
  evalEnvironment(frame, directionX, directionY, directionZ, false);
  loseLight(GROUND, throughputR * lightR, throughputG * lightG, throughputB * lightB);
}

/** The path met the shape of a light after t metres. */
export function addLightShape(frame: usize, t: f32, caustics: bool): void {
  evalLight(<usize>load<u32>(hitInstance + INSTANCE_MESH), directionX, directionY, directionZ, t);
  let w: f32 = 1;
  if (scatterPdf > 0) {
    const far: f32 = travelled + t;
    w = scatterPdf / (scatterPdf + lightPdf * (far * far) / (t * t));
  }
  addContribution(throughputR * lightR * w, throughputG * lightG * w, throughputB * lightB * w, clampOfLight(frame, caustics), lightSource);
}

/** The path met a surface that shines after t metres; `instance` is 0 on the base plane. */
export function addEmission(frame: usize, instance: usize, t: f32, caustics: bool): void {
  let w: f32 = 1;
  const pdf = instance == 0 ? <f32>0 : load<f32>(instance + INSTANCE_LIGHT_PDF);
  if (!fromEye && scatterPdf > 0 && pdf > 0) {
    const c = abs<f32>(geoX * directionX + geoY * directionY + geoZ * directionZ), far: f32 = travelled + t;
    if (c > 0) w = scatterPdf / (scatterPdf + pdf * far * far / c);
  }
  addContribution(throughputR * emissionR * w, throughputG * emissionG * w, throughputB * emissionB * w, clampOfLight(frame, caustics), SOURCE_MODEL);
}
