/** Reads a material with its textures at the hit into materialState.ts, and bends the shading normal by its texture. */
import {
  MATERIAL_BASE, MATERIAL_ALPHA, MATERIAL_METALNESS, MATERIAL_ROUGHNESS, MATERIAL_TRANSMISSION, MATERIAL_IOR, MATERIAL_SPECULAR,
  MATERIAL_SPECULAR_COLOUR, MATERIAL_EMISSION, MATERIAL_COAT, MATERIAL_COAT_ROUGHNESS, MATERIAL_SHEEN, MATERIAL_SHEEN_ROUGHNESS,
  MATERIAL_ANISOTROPY, MATERIAL_TRANSLUCENCY, MATERIAL_TRANSLUCENCY_COLOUR, MATERIAL_ALPHA_MODE, MATERIAL_CUTOFF, MATERIAL_NORMAL_SCALE,
  MATERIAL_OCCLUSION, MATERIAL_FLAGS, MATERIAL_TEXTURES, TEXTURED, LAYERED,
  SLOT_BASE, SLOT_METAL_ROUGH, SLOT_NORMAL, SLOT_OCCLUSION, SLOT_EMISSION, SLOT_TRANSMISSION, SLOT_COAT, SLOT_SHEEN,
  SLOT_SPECULAR, SLOT_SPECULAR_COLOUR, SLOT_COAT_ROUGHNESS, SLOT_SHEEN_ROUGHNESS, SLOT_ANISOTROPY, SLOT_TRANSLUCENCY,
  SLOT_TRANSLUCENCY_COLOUR, SLOT_COAT_NORMAL, MATERIAL_COAT_NORMAL_SCALE, MATERIAL_ANISOTROPY_COS, MATERIAL_ANISOTROPY_SIN,
} from "../layout";
import {
  baseR, baseG, baseB, metalness, roughness, ior, specular, specularR, specularG, specularB, coat, coatRoughness,
  sheenR, sheenG, sheenB, sheenRoughness, anisotropy, translucency, translucentR, translucentG, translucentB, layered,
  transmission, emissionR, emissionG, emissionB, flags, brushCos, brushSin, coatHasNormal, coatNormalX, coatNormalY, coatNormalZ,
} from "./materialState";
import { vertexR, vertexG, vertexB, texTangentX, texTangentY, texTangentZ, handedness, shadeX, shadeY, shadeZ, geoX, geoY, geoZ, setShading } from "../intersect/intersectionData";
import { sampleTexture, texelR, texelG, texelB, texelA } from "./texture";

// @ts-ignore: decorator
@inline
function textureUse(material: usize, slot: usize): usize {
  return <usize>load<u32>(material + MATERIAL_TEXTURES + (slot << 2));
}

/** How much of the surface is there: 1 opaque, 0 nothing. A mask gives one or the other. */
export function alphaOf(material: usize): f32 {
  let alpha = load<f32>(material, MATERIAL_ALPHA);
  const base = textureUse(material, SLOT_BASE);
  if (base != 0) {
    sampleTexture(base);
    alpha *= texelA;
  }
  if (load<u32>(material + MATERIAL_ALPHA_MODE) == 1) return alpha < load<f32>(material, MATERIAL_CUTOFF) ? 0 : 1;
  return min<f32>(max<f32>(alpha, 0), 1);
}

/** Reads what the material is at the hit that loadSurface read, seen along the direction. */
export function loadMaterial(material: usize, dx: f32, dy: f32, dz: f32): void {
  flags = load<u32>(material + MATERIAL_FLAGS);
  baseR = load<f32>(material, MATERIAL_BASE) * vertexR;
  baseG = load<f32>(material, MATERIAL_BASE + 4) * vertexG;
  baseB = load<f32>(material, MATERIAL_BASE + 8) * vertexB;
  metalness = load<f32>(material, MATERIAL_METALNESS);
  roughness = load<f32>(material, MATERIAL_ROUGHNESS);
  transmission = load<f32>(material, MATERIAL_TRANSMISSION);
  ior = load<f32>(material, MATERIAL_IOR);
  specular = load<f32>(material, MATERIAL_SPECULAR);
  specularR = load<f32>(material, MATERIAL_SPECULAR_COLOUR);
  specularG = load<f32>(material, MATERIAL_SPECULAR_COLOUR + 4);
  specularB = load<f32>(material, MATERIAL_SPECULAR_COLOUR + 8);
  emissionR = load<f32>(material, MATERIAL_EMISSION);
  emissionG = load<f32>(material, MATERIAL_EMISSION + 4);
  emissionB = load<f32>(material, MATERIAL_EMISSION + 8);
  anisotropy = load<f32>(material, MATERIAL_ANISOTROPY);
  brushCos = load<f32>(material, MATERIAL_ANISOTROPY_COS);
  brushSin = load<f32>(material, MATERIAL_ANISOTROPY_SIN);
  translucency = load<f32>(material, MATERIAL_TRANSLUCENCY);
  translucentR = load<f32>(material, MATERIAL_TRANSLUCENCY_COLOUR);
  translucentG = load<f32>(material, MATERIAL_TRANSLUCENCY_COLOUR + 4);
  translucentB = load<f32>(material, MATERIAL_TRANSLUCENCY_COLOUR + 8);
  layered = (flags & LAYERED) != 0;
  coatHasNormal = false;
  if (layered) {
    coat = load<f32>(material, MATERIAL_COAT);
    coatRoughness = load<f32>(material, MATERIAL_COAT_ROUGHNESS);
    sheenR = load<f32>(material, MATERIAL_SHEEN);
    sheenG = load<f32>(material, MATERIAL_SHEEN + 4);
    sheenB = load<f32>(material, MATERIAL_SHEEN + 8);
    sheenRoughness = load<f32>(material, MATERIAL_SHEEN_ROUGHNESS);
  } else coat = sheenR = sheenG = sheenB = 0;
  if ((flags & TEXTURED) != 0) loadTextures(material, dx, dy, dz);
}

function loadTextures(material: usize, dx: f32, dy: f32, dz: f32): void {
  let t = textureUse(material, SLOT_BASE);
  if (t != 0) {
    sampleTexture(t);
    baseR *= texelR;
    baseG *= texelG;
    baseB *= texelB;
  }
  t = textureUse(material, SLOT_METAL_ROUGH);
  if (t != 0) {
    sampleTexture(t);
    roughness *= texelG;
    metalness *= texelB;
  }
  t = textureUse(material, SLOT_EMISSION);
  if (t != 0) {
    sampleTexture(t);
    emissionR *= texelR;
    emissionG *= texelG;
    emissionB *= texelB;
  }
  t = textureUse(material, SLOT_TRANSMISSION);
  if (t != 0) {
    sampleTexture(t);
    transmission *= texelR;
  }
  t = textureUse(material, SLOT_COAT);
  if (t != 0) {
    sampleTexture(t);
    coat *= texelR;
  }
  t = textureUse(material, SLOT_SHEEN);
  if (t != 0) {
    sampleTexture(t);
    sheenR *= texelR;
    sheenG *= texelG;
    sheenB *= texelB;
  }
  t = textureUse(material, SLOT_SPECULAR);
  if (t != 0) {
    sampleTexture(t);
    specular *= texelA;
  }
  t = textureUse(material, SLOT_SPECULAR_COLOUR);
  if (t != 0) {
    sampleTexture(t);
    specularR *= texelR;
    specularG *= texelG;
    specularB *= texelB;
  }
  t = textureUse(material, SLOT_COAT_ROUGHNESS);
  if (t != 0) {
    sampleTexture(t);
    coatRoughness *= texelG;
  }
  t = textureUse(material, SLOT_SHEEN_ROUGHNESS);
  if (t != 0) {
    sampleTexture(t);
    sheenRoughness *= texelA;
  }
  t = textureUse(material, SLOT_TRANSLUCENCY);
  if (t != 0) {
    sampleTexture(t);
    translucency *= texelA;
  }
  t = textureUse(material, SLOT_TRANSLUCENCY_COLOUR);
  if (t != 0) {
    sampleTexture(t);
    translucentR *= texelR;
    translucentG *= texelG;
    translucentB *= texelB;
  }
  // Last those that have a direction: what they read of the texture's place is used later.
  const bends = textureUse(material, SLOT_NORMAL), bendsCoat = textureUse(material, SLOT_COAT_NORMAL);
  if (coat > 0 && (bends | bendsCoat) != 0) setCoatNormal(material, bendsCoat, dx, dy, dz);
  t = textureUse(material, SLOT_ANISOTROPY);
  if (t != 0) rotateAnisotropy(t);
  if (bends != 0 && perturbNormal(bends, load<f32>(material, MATERIAL_NORMAL_SCALE))) setShading(perturbedX, perturbedY, perturbedZ, dx, dy, dz);
}

/** KHR_materials_anisotropy: the texture's direction, turned by the material's own angle, and its strength. */
function rotateAnisotropy(t: usize): void {
  sampleTexture(t);
  anisotropy *= texelB;
  const x: f32 = texelR * 2 - 1, y: f32 = texelG * 2 - 1;
  const n: f32 = sqrt<f32>(x * x + y * y);
  if (!(n > 0)) return;
  const c: f32 = (brushCos * x - brushSin * y) / n;
  brushSin = (brushSin * x + brushCos * y) / n;
  brushCos = c;
}

/** KHR_materials_clearcoat: the coat lies smoothly over a bent surface, unless it has a texture of its own. */
function setCoatNormal(material: usize, t: usize, dx: f32, dy: f32, dz: f32): void {
  coatHasNormal = true;
  coatNormalX = shadeX;
  coatNormalY = shadeY;
  coatNormalZ = shadeZ;
  if (t == 0 || !perturbNormal(t, load<f32>(material, MATERIAL_COAT_NORMAL_SCALE))) return;
  if (perturbedX * dx + perturbedY * dy + perturbedZ * dz < 0 && perturbedX * geoX + perturbedY * geoY + perturbedZ * geoZ > 0) {
    coatNormalX = perturbedX;
    coatNormalY = perturbedY;
    coatNormalZ = perturbedZ;
  }
}

let perturbedX: f32 = 0;
let perturbedY: f32 = 0;
let perturbedZ: f32 = 0;

/** The shading normal as a texture bends it, in bentX .. bentZ. Tangent space as glTF has it: x along texture u, y against texture v (its rows go down), z outward. */
function perturbNormal(t: usize, scale: f32): bool {
  sampleTexture(t);
  const d: f32 = texTangentX * shadeX + texTangentY * shadeY + texTangentZ * shadeZ;
  let tx: f32 = texTangentX - d * shadeX, ty: f32 = texTangentY - d * shadeY, tz: f32 = texTangentZ - d * shadeZ;
  const n2: f32 = tx * tx + ty * ty + tz * tz;
  if (!(n2 > 0)) return false;
  const n: f32 = 1 / sqrt<f32>(n2);
  tx *= n;
  ty *= n;
  tz *= n;
  const bx: f32 = shadeY * tz - shadeZ * ty, by: f32 = shadeZ * tx - shadeX * tz, bz: f32 = shadeX * ty - shadeY * tx;
  const x: f32 = (texelR * 2 - 1) * scale, y: f32 = -handedness * (texelG * 2 - 1) * scale, z: f32 = texelB * 2 - 1;
  const nx: f32 = x * tx + y * bx + z * shadeX, ny: f32 = x * ty + y * by + z * shadeY, nz: f32 = x * tz + y * bz + z * shadeZ;
  const m: f32 = sqrt<f32>(nx * nx + ny * ny + nz * nz);
  if (!(m > 0)) return false;
  perturbedX = nx / m;
  perturbedY = ny / m;
  perturbedZ = nz / m;
  return true;
}

/** Share of the surroundings' light that the occlusion texture lets through, for preview renders. */
export function occlusionOf(material: usize): f32 {
  const t = textureUse(material, SLOT_OCCLUSION);
  if (t == 0) return 1;
  sampleTexture(t);
  return 1 + load<f32>(material, MATERIAL_OCCLUSION) * (texelR - 1);
}
