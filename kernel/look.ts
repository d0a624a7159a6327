/**
 * The surface that the path stands on, after its textures: written by material.ts, read by surface.ts
 * and glass.ts. Globals, because each worker has its own and a record in memory would be shared.
 */
export let baseR: f32 = 0;
export let baseG: f32 = 0;
export let baseB: f32 = 0;
export let metalness: f32 = 0;
export let roughness: f32 = 0;
export let ior: f32 = 0;
export let specular: f32 = 0;
export let specularR: f32 = 0;
export let specularG: f32 = 0;
export let specularB: f32 = 0;
export let coat: f32 = 0;
export let coatRoughness: f32 = 0;
/** Where a texture bends either normal: the coat's own in the world, or it shares the surface's. */
export let coatBent: bool = false;
export let coatNormalX: f32 = 0;
export let coatNormalY: f32 = 0;
export let coatNormalZ: f32 = 0;
export let sheenR: f32 = 0;
export let sheenG: f32 = 0;
export let sheenB: f32 = 0;
export let sheenRoughness: f32 = 0;
export let anisotropy: f32 = 0;
/** Direction of the brushing from the texture's u, counterclockwise. */
export let brushCos: f32 = 1;
export let brushSin: f32 = 0;
export let translucency: f32 = 0;
export let translucentR: f32 = 0;
export let translucentG: f32 = 0;
export let translucentB: f32 = 0;
export let layered: bool = false;
export let transmission: f32 = 0;
export let emissionR: f32 = 0;
export let emissionG: f32 = 0;
export let emissionB: f32 = 0;
export let flags: u32 = 0;

// What an evaluation still needs while a shadow ray reads other finishes on its way.
let keptBaseR: f32 = 0;
let keptBaseG: f32 = 0;
let keptBaseB: f32 = 0;
let keptMetalness: f32 = 0;
let keptSpecular: f32 = 0;
let keptCoat: f32 = 0;
let keptSheenR: f32 = 0;
let keptSheenG: f32 = 0;
let keptSheenB: f32 = 0;
let keptTranslucency: f32 = 0;
let keptTranslucentR: f32 = 0;
let keptTranslucentG: f32 = 0;
let keptTranslucentB: f32 = 0;
let keptLayered: bool = false;
let keptFlags: u32 = 0;

export function keepLook(): void {
  keptBaseR = baseR;
  keptBaseG = baseG;
  keptBaseB = baseB;
  keptMetalness = metalness;
  keptSpecular = specular;
  keptCoat = coat;
  keptSheenR = sheenR;
  keptSheenG = sheenG;
  keptSheenB = sheenB;
  keptTranslucency = translucency;
  keptTranslucentR = translucentR;
  keptTranslucentG = translucentG;
  keptTranslucentB = translucentB;
  keptLayered = layered;
  keptFlags = flags;
}

export function giveLookBack(): void {
  baseR = keptBaseR;
  baseG = keptBaseG;
  baseB = keptBaseB;
  metalness = keptMetalness;
  specular = keptSpecular;
  coat = keptCoat;
  sheenR = keptSheenR;
  sheenG = keptSheenG;
  sheenB = keptSheenB;
  translucency = keptTranslucency;
  translucentR = keptTranslucentR;
  translucentG = keptTranslucentG;
  translucentB = keptTranslucentB;
  layered = keptLayered;
  flags = keptFlags;
}
