/**
 * Clear glass: the path is mirrored or bent. Where the eye looks through it, both ways are followed: the light that
 * passes first, then what each face mirrored, so that neither is left to chance. Such branches wait here.
 */
import { baseB, baseG, baseR } from "../bsdf/materialState";
import { fresnel } from "../bsdf/microfacet";
import { geoX, geoY, geoZ, shadeX, shadeY, shadeZ } from "../intersect/intersectionData";
import { branchScratch as scratch } from "../intersect/walk";
import {
  bounces, directionX, directionY, directionZ, fromEye, hitX, hitY, hitZ, interfaces, isPrimary, medium, offset, scaleThroughput, scatterPdf, setDirection, setOrigin, setThroughput,
  throughputB, throughputG, throughputR,
} from "./path";
import { guideValid } from "./result";

const MAX_BRANCHES: i32 = 4;
/** A face that mirrors less than this share of what is seen is left to chance after all. */
const MIN_BRANCH: f32 = 0.01;
export let branchCount: i32 = 0;

// @ts-ignore: decorator
/** Forgets the ways that wait to be followed. */
@inline
export function clearBranches(): void {
  branchCount = 0;
}

/** Lays aside the mirrored way with share f, in this direction, inside this medium. */
function pushBranch(f: f32, dx: f32, dy: f32, dz: f32, inside: usize): void {
  const p = scratch + (<usize>branchCount << 6);
  store<f32>(p, throughputR * f);
  store<f32>(p, throughputG * f, 4);
  store<f32>(p, throughputB * f, 8);
  store<f32>(p, hitX + geoX * offset, 12);
  store<f32>(p, hitY + geoY * offset, 16);
  store<f32>(p, hitZ + geoZ * offset, 20);
  store<f32>(p, dx, 24);
  store<f32>(p, dy, 28);
  store<f32>(p, dz, 32);
  store<u32>(p, interfaces, 36);
  store<u32>(p, <u32>inside, 40);
  branchCount++;
}

/** Makes the ith branch the path that is followed. */
export function takeBranch(i: i32): void {
  const p = scratch + (<usize>i << 6);
  setThroughput(load<f32>(p), load<f32>(p, 4), load<f32>(p, 8));
  setOrigin(load<f32>(p, 12), load<f32>(p, 16), load<f32>(p, 20));
  setDirection(load<f32>(p, 24), load<f32>(p, 28), load<f32>(p, 32));
  interfaces = load<u32>(p, 36);
  medium = <usize>load<u32>(p, 40);
}

/** Straight on through a surface, at the end of the refraction depth, so that what lies behind still shows. */
export function passStraight(): void {
  scaleThroughput(baseR, baseG, baseB);
  setOrigin(hitX - geoX * offset, hitY - geoY * offset, hitZ - geoZ * offset);
}

/** Mirrors or bends the path at an interface; `choice` says which where both are left to chance. `eta` is the ratio of refractive indices. */
export function crossInterface(material: usize, eta: f32, thin: bool, outside: bool, choice: f32, caustics: bool): void {
  const c: f32 = -(shadeX * directionX + shadeY * directionY + shadeZ * directionZ);
  let f = fresnel(c, eta);
  // A sheet reflects from both faces, to and fro: 2f / (1 + f).
  if (thin) f = 2 * f / (1 + f);
  const k: f32 = 2 * c;
  const mx: f32 = directionX + k * shadeX, my: f32 = directionY + k * shadeY, mz: f32 = directionZ + k * shadeZ;
  let mirrors = choice < f;
  if (isPrimary && branchCount < MAX_BRANCHES && f < 1 && f * max(throughputR, max(throughputG, throughputB)) > MIN_BRANCH) {
    pushBranch(f, mx, my, mz, outside || thin ? 0 : material);
    mirrors = false;
    scaleThroughput(1 - f, 1 - f, 1 - f);
  }
  if (mirrors) {
    setDirection(mx, my, mz);
    setOrigin(hitX + geoX * offset, hitY + geoY * offset, hitZ + geoZ * offset);
    if (isPrimary) guideValid = 0;
    isPrimary = false;
    fromEye = false;
    scatterPdf = 0;
    return;
  }
  passStraight();
  if (!thin) {
    bend(c, eta);
    medium = outside ? material : 0;
  }
  if (caustics && bounces > 0) scatterPdf = 0;
}

/** Snell's law; c is the cosine of incidence. */
function bend(c: f32, eta: f32): void {
  const ct = sqrt<f32>(max<f32>(0, 1 - eta * eta * (1 - c * c)));
  const k: f32 = eta * c - ct;
  const x: f32 = eta * directionX + k * shadeX, y: f32 = eta * directionY + k * shadeY, z: f32 = eta * directionZ + k * shadeZ;
  const n: f32 = 1 / sqrt<f32>(x * x + y * y + z * z);
  setDirection(x * n, y * n, z * n);
}
