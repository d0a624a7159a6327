/** The path that is being followed: its ray, its throughput, and what it has been through. */
import { FRAME_CLAMP, MATERIAL_ABSORPTION } from "../layout";
import { expNeg } from "../math";

/** Origin and unit direction of its present ray. */
export let originX: f32 = 0;
export let originY: f32 = 0;
export let originZ: f32 = 0;
export let directionX: f32 = 0;
export let directionY: f32 = 0;
export let directionZ: f32 = 0;
/** Share of the light at its end that reaches the eye. */
export let throughputR: f32 = 0;
export let throughputG: f32 = 0;
export let throughputB: f32 = 0;
/** Scattering surfaces, and interfaces of glass, that it has met. */
export let bounces: u32 = 0;
export let interfaces: u32 = 0;
/** Material of the body that it is in, or 0. */
export let medium: usize = 0;
/** Its present ray is the eye's own, or that ray seen through glass. */
export let fromEye: bool = false;
/** Nothing but glass was met so far, and it is the eye's own: what is met next is a feature of the pixel. */
export let isPrimary: bool = false;
/** Density with which its last surface scattered this way; 0 where only this path could have come this way. */
export let scatterPdf: f32 = 0;
/** Metres since the last surface that scattered, for lights behind glass; and in all. */
export let travelled: f32 = 0;
export let pathLength: f32 = 0;
/** The point where its ray ends, and how far off the surface the next ray starts so that it does not meet itself. */
export let hitX: f32 = 0;
export let hitY: f32 = 0;
export let hitZ: f32 = 0;
export let offset: f32 = 0;

/** A new path: from the eye, or one that only gathers light. */
export function beginPath(eye: bool): void {
  bounces = 0;
  fromEye = isPrimary = eye;
  scatterPdf = travelled = pathLength = 0;
}

// @ts-ignore: decorator
/** What the path's light is multiplied by. */
@inline
export function setThroughput(r: f32, g: f32, b: f32): void {
  throughputR = r;
  throughputG = g;
  throughputB = b;
}

// @ts-ignore: decorator
/** Multiplies it further. */
@inline
export function scaleThroughput(r: f32, g: f32, b: f32): void {
  throughputR *= r;
  throughputG *= g;
  throughputB *= b;
}

// @ts-ignore: decorator
/** Where the next ray starts. */
@inline
export function setOrigin(x: f32, y: f32, z: f32): void {
  originX = x;
  originY = y;
  originZ = z;
}

// @ts-ignore: decorator
/** Unit vector along which it goes. */
@inline
export function setDirection(x: f32, y: f32, z: f32): void {
  directionX = x;
  directionY = y;
  directionZ = z;
}

/** Dims the path by what its medium absorbs over a distance: Beer and Lambert. */
export function absorb(distance: f32): void {
  const r = load<f32>(medium, MATERIAL_ABSORPTION), g = load<f32>(medium, MATERIAL_ABSORPTION + 4), b = load<f32>(medium, MATERIAL_ABSORPTION + 8);
  if (r + g + b > 0) scaleThroughput(expNeg(r * distance), expNeg(g * distance), expNeg(b * distance));
}

/** Ends the present ray after t metres. `extent` is the size of the scene. */
export function advance(t: f32, extent: f32): void {
  pathLength += t;
  hitX = originX + t * directionX;
  hitY = originY + t * directionY;
  hitZ = originZ + t * directionZ;
  // What single precision loses there.
  offset = (abs(hitX) + abs(hitY) + abs(hitZ) + t) * <f32>2e-6 + extent * <f32>1e-6;
}

/** Limit of a contribution once the path has bounced; 0 none. `after` is how many bounces go without. */
// @ts-ignore: decorator
@inline
export function clampAfter(frame: usize, after: u32): f32 {
  return bounces > after ? load<f32>(frame + FRAME_CLAMP) : 0;
}

/** Limit for a light met by chance alone, mirrored onto a surface by glass: rare and bright. */
// @ts-ignore: decorator
@inline
export function clampOfLight(frame: usize, caustics: bool): f32 {
  return bounces > 1 || (bounces > 0 && scatterPdf == 0 && !caustics) ? load<f32>(frame + FRAME_CLAMP) : 0;
}
