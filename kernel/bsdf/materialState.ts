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
export let coatHasNormal: bool = false;
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

// What an evaluation still needs while a shadow ray reads other materials on its way.
let savedBaseR: f32 = 0;
let savedBaseG: f32 = 0;
let savedBaseB: f32 = 0;
let savedMetalness: f32 = 0;
let savedSpecular: f32 = 0;
let savedCoat: f32 = 0;
let savedSheenR: f32 = 0;
let savedSheenG: f32 = 0;
let savedSheenB: f32 = 0;
let savedTranslucency: f32 = 0;
let savedTranslucentR: f32 = 0;
let savedTranslucentG: f32 = 0;
let savedTranslucentB: f32 = 0;
let savedLayered: bool = false;
let savedFlags: u32 = 0;

/** Saves the material that is shaded. */
export function saveMaterialState(): void {
  savedBaseR = baseR;
  savedBaseG = baseG;
  savedBaseB = baseB;
  savedMetalness = metalness;
  savedSpecular = specular;
  savedCoat = coat;
  savedSheenR = sheenR;
  savedSheenG = sheenG;
  savedSheenB = sheenB;
  savedTranslucency = translucency;
  savedTranslucentR = translucentR;
  savedTranslucentG = translucentG;
  savedTranslucentB = translucentB;
  savedLayered = layered;
  savedFlags = flags;
}

/** Restores what {@link saveMaterialState} saved. */
export function restoreMaterialState(): void {
  baseR = savedBaseR;
  baseG = savedBaseG;
  baseB = savedBaseB;
  metalness = savedMetalness;
  specular = savedSpecular;
  coat = savedCoat;
  sheenR = savedSheenR;
  sheenG = savedSheenG;
  sheenB = savedSheenB;
  translucency = savedTranslucency;
  translucentR = savedTranslucentR;
  translucentG = savedTranslucentG;
  translucentB = savedTranslucentB;
  layered = savedLayered;
  flags = savedFlags;
}
