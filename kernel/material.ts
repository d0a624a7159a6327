/** Reads a finish with its textures at the hit into look.ts, and bends the shading normal by its texture. */
import {
  FINISH_BASE, FINISH_ALPHA, FINISH_METALNESS, FINISH_ROUGHNESS, FINISH_TRANSMISSION, FINISH_IOR, FINISH_SPECULAR,
  FINISH_SPECULAR_COLOUR, FINISH_EMISSION, FINISH_COAT, FINISH_COAT_ROUGHNESS, FINISH_SHEEN, FINISH_SHEEN_ROUGHNESS,
  FINISH_ANISOTROPY, FINISH_TRANSLUCENCY, FINISH_TRANSLUCENCY_COLOUR, FINISH_ALPHA_MODE, FINISH_CUTOFF, FINISH_NORMAL_SCALE,
  FINISH_OCCLUSION, FINISH_FLAGS, FINISH_TEXTURES, TEXTURED, LAYERED,
  SLOT_BASE, SLOT_METAL_ROUGH, SLOT_NORMAL, SLOT_OCCLUSION, SLOT_EMISSION, SLOT_TRANSMISSION, SLOT_COAT, SLOT_SHEEN,
  SLOT_SPECULAR, SLOT_SPECULAR_COLOUR, SLOT_COAT_ROUGHNESS, SLOT_SHEEN_ROUGHNESS, SLOT_ANISOTROPY, SLOT_TRANSLUCENCY,
  SLOT_TRANSLUCENCY_COLOUR, SLOT_COAT_NORMAL, FINISH_COAT_NORMAL_SCALE, FINISH_ANISOTROPY_COS, FINISH_ANISOTROPY_SIN,
} from "./layout";
import {
  baseR, baseG, baseB, metalness, roughness, ior, specular, specularR, specularG, specularB, coat, coatRoughness,
  sheenR, sheenG, sheenB, sheenRoughness, anisotropy, translucency, translucentR, translucentG, translucentB, layered,
  transmission, emissionR, emissionG, emissionB, flags, brushCos, brushSin, coatBent, coatNormalX, coatNormalY, coatNormalZ,
} from "./look";
import { vertexR, vertexG, vertexB, alongX, alongY, alongZ, handed, shadeX, shadeY, shadeZ, geoX, geoY, geoZ, setShading } from "./hit";
import { sampleTexture, texelR, texelG, texelB, texelA } from "./texture";

// @ts-ignore: decorator
@inline
function use(finish: usize, slot: usize): usize {
  return <usize>load<u32>(finish + FINISH_TEXTURES + (slot << 2));
}

/** How much of the surface is there: 1 opaque, 0 nothing. A mask gives one or the other. */
export function alphaOf(finish: usize): f32 {
  let alpha = load<f32>(finish, FINISH_ALPHA);
  const base = use(finish, SLOT_BASE);
  if (base != 0) {
    sampleTexture(base);
    alpha *= texelA;
  }
  if (load<u32>(finish + FINISH_ALPHA_MODE) == 1) return alpha < load<f32>(finish, FINISH_CUTOFF) ? 0 : 1;
  return min<f32>(max<f32>(alpha, 0), 1);
}

/** Reads what the finish is at the hit that readHit told of, seen along the direction. */
export function readFinish(finish: usize, dx: f32, dy: f32, dz: f32): void {
  flags = load<u32>(finish + FINISH_FLAGS);
  baseR = load<f32>(finish, FINISH_BASE) * vertexR;
  baseG = load<f32>(finish, FINISH_BASE + 4) * vertexG;
  baseB = load<f32>(finish, FINISH_BASE + 8) * vertexB;
  metalness = load<f32>(finish, FINISH_METALNESS);
  roughness = load<f32>(finish, FINISH_ROUGHNESS);
  transmission = load<f32>(finish, FINISH_TRANSMISSION);
  ior = load<f32>(finish, FINISH_IOR);
  specular = load<f32>(finish, FINISH_SPECULAR);
  specularR = load<f32>(finish, FINISH_SPECULAR_COLOUR);
  specularG = load<f32>(finish, FINISH_SPECULAR_COLOUR + 4);
  specularB = load<f32>(finish, FINISH_SPECULAR_COLOUR + 8);
  emissionR = load<f32>(finish, FINISH_EMISSION);
  emissionG = load<f32>(finish, FINISH_EMISSION + 4);
  emissionB = load<f32>(finish, FINISH_EMISSION + 8);
  anisotropy = load<f32>(finish, FINISH_ANISOTROPY);
  brushCos = load<f32>(finish, FINISH_ANISOTROPY_COS);
  brushSin = load<f32>(finish, FINISH_ANISOTROPY_SIN);
  translucency = load<f32>(finish, FINISH_TRANSLUCENCY);
  translucentR = load<f32>(finish, FINISH_TRANSLUCENCY_COLOUR);
  translucentG = load<f32>(finish, FINISH_TRANSLUCENCY_COLOUR + 4);
  translucentB = load<f32>(finish, FINISH_TRANSLUCENCY_COLOUR + 8);
  layered = (flags & LAYERED) != 0;
  coatBent = false;
  if (layered) {
    coat = load<f32>(finish, FINISH_COAT);
    coatRoughness = load<f32>(finish, FINISH_COAT_ROUGHNESS);
    sheenR = load<f32>(finish, FINISH_SHEEN);
    sheenG = load<f32>(finish, FINISH_SHEEN + 4);
    sheenB = load<f32>(finish, FINISH_SHEEN + 8);
    sheenRoughness = load<f32>(finish, FINISH_SHEEN_ROUGHNESS);
  } else coat = sheenR = sheenG = sheenB = 0;
  if ((flags & TEXTURED) != 0) readTextures(finish, dx, dy, dz);
}

function readTextures(finish: usize, dx: f32, dy: f32, dz: f32): void {
  let t = use(finish, SLOT_BASE);
  if (t != 0) {
    sampleTexture(t);
    baseR *= texelR;
    baseG *= texelG;
    baseB *= texelB;
  }
  t = use(finish, SLOT_METAL_ROUGH);
  if (t != 0) {
    sampleTexture(t);
    roughness *= texelG;
    metalness *= texelB;
  }
  t = use(finish, SLOT_EMISSION);
  if (t != 0) {
    sampleTexture(t);
    emissionR *= texelR;
    emissionG *= texelG;
    emissionB *= texelB;
  }
  t = use(finish, SLOT_TRANSMISSION);
  if (t != 0) {
    sampleTexture(t);
    transmission *= texelR;
  }
  t = use(finish, SLOT_COAT);
  if (t != 0) {
    sampleTexture(t);
    coat *= texelR;
  }
  t = use(finish, SLOT_SHEEN);
  if (t != 0) {
    sampleTexture(t);
    sheenR *= texelR;
    sheenG *= texelG;
    sheenB *= texelB;
  }
  t = use(finish, SLOT_SPECULAR);
  if (t != 0) {
    sampleTexture(t);
    specular *= texelA;
  }
  t = use(finish, SLOT_SPECULAR_COLOUR);
  if (t != 0) {
    sampleTexture(t);
    specularR *= texelR;
    specularG *= texelG;
    specularB *= texelB;
  }
  t = use(finish, SLOT_COAT_ROUGHNESS);
  if (t != 0) {
    sampleTexture(t);
    coatRoughness *= texelG;
  }
  t = use(finish, SLOT_SHEEN_ROUGHNESS);
  if (t != 0) {
    sampleTexture(t);
    sheenRoughness *= texelA;
  }
  t = use(finish, SLOT_TRANSLUCENCY);
  if (t != 0) {
    sampleTexture(t);
    translucency *= texelA;
  }
  t = use(finish, SLOT_TRANSLUCENCY_COLOUR);
  if (t != 0) {
    sampleTexture(t);
    translucentR *= texelR;
    translucentG *= texelG;
    translucentB *= texelB;
  }
  // Last those that have a direction: what they read of the texture's place is used later.
  const bends = use(finish, SLOT_NORMAL), bendsCoat = use(finish, SLOT_COAT_NORMAL);
  if (coat > 0 && (bends | bendsCoat) != 0) setCoatNormal(finish, bendsCoat, dx, dy, dz);
  t = use(finish, SLOT_ANISOTROPY);
  if (t != 0) turnBrush(t);
  if (bends != 0 && bend(bends, load<f32>(finish, FINISH_NORMAL_SCALE))) setShading(bentX, bentY, bentZ, dx, dy, dz);
}

/** KHR_materials_anisotropy: the texture's direction, turned by the finish's own angle, and its strength. */
function turnBrush(t: usize): void {
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
function setCoatNormal(finish: usize, t: usize, dx: f32, dy: f32, dz: f32): void {
  coatBent = true;
  coatNormalX = shadeX;
  coatNormalY = shadeY;
  coatNormalZ = shadeZ;
  if (t == 0 || !bend(t, load<f32>(finish, FINISH_COAT_NORMAL_SCALE))) return;
  if (bentX * dx + bentY * dy + bentZ * dz < 0 && bentX * geoX + bentY * geoY + bentZ * geoZ > 0) {
    coatNormalX = bentX;
    coatNormalY = bentY;
    coatNormalZ = bentZ;
  }
}

let bentX: f32 = 0;
let bentY: f32 = 0;
let bentZ: f32 = 0;

/** The shading normal as a texture bends it, in bentX .. bentZ. Tangent space as glTF has it: x along texture u, y against texture v (its rows go down), z outward. */
function bend(t: usize, scale: f32): bool {
  sampleTexture(t);
  const d: f32 = alongX * shadeX + alongY * shadeY + alongZ * shadeZ;
  let tx: f32 = alongX - d * shadeX, ty: f32 = alongY - d * shadeY, tz: f32 = alongZ - d * shadeZ;
  const n2: f32 = tx * tx + ty * ty + tz * tz;
  if (!(n2 > 0)) return false;
  const n: f32 = 1 / sqrt<f32>(n2);
  tx *= n;
  ty *= n;
  tz *= n;
  const bx: f32 = shadeY * tz - shadeZ * ty, by: f32 = shadeZ * tx - shadeX * tz, bz: f32 = shadeX * ty - shadeY * tx;
  const x: f32 = (texelR * 2 - 1) * scale, y: f32 = -handed * (texelG * 2 - 1) * scale, z: f32 = texelB * 2 - 1;
  const nx: f32 = x * tx + y * bx + z * shadeX, ny: f32 = x * ty + y * by + z * shadeY, nz: f32 = x * tz + y * bz + z * shadeZ;
  const m: f32 = sqrt<f32>(nx * nx + ny * ny + nz * nz);
  if (!(m > 0)) return false;
  bentX = nx / m;
  bentY = ny / m;
  bentZ = nz / m;
  return true;
}

/** Share of the surroundings' light that the occlusion texture lets through, for quick pictures. */
export function occlusionOf(finish: usize): f32 {
  const t = use(finish, SLOT_OCCLUSION);
  if (t == 0) return 1;
  sampleTexture(t);
  return 1 + load<f32>(finish, FINISH_OCCLUSION) * (texelR - 1);
}
