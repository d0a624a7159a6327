/** Materials to and from glTF materials with the ratified extensions, and where their textures lie. */
import type { Document, Material as GltfMaterial, Texture as GltfTexture, TextureInfo } from '@gltf-transform/core';
import {
  type Anisotropy,
  type Clearcoat,
  type DiffuseTransmission,
  type EmissiveStrength,
  type IOR,
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsDiffuseTransmission,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSheen,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRTextureTransform,
  type PBRSpecularGlossiness,
  type Sheen,
  type Specular,
  type Transform,
  type Transmission,
  type Unlit,
  type Volume,
} from '@gltf-transform/extensions';
import { absorptionOf, type Material, IDENTITY_UV, type TextureSlot, type TextureUse } from '../../core/materials/material.js';
import type { Rgb } from '../../core/units/colour.js';

const rounded = (colour: Rgb): Rgb => colour.map(Math.fround) as Rgb;

type Use = (texture: GltfTexture | null, info: TextureInfo | null) => Promise<TextureUse | undefined>;

/** KHR_texture_transform: scale, then rotate, then move. */
export function textureMatrix(transform: Pick<Transform, 'getOffset' | 'getRotation' | 'getScale'> | null): TextureUse['matrix'] {
  if (!transform) return [...IDENTITY_UV];
  const [x, y] = transform.getOffset();
  const [sx, sy] = transform.getScale();
  const c = Math.cos(transform.getRotation());
  const s = Math.sin(transform.getRotation());
  // In single precision, so that writing and reading again changes no bit.
  return [c * sx, s * sy, x, -s * sx, c * sy, y].map(Math.fround) as TextureUse['matrix'];
}

/** What no dielectric reflects head-on: more than this is a metal (common practice, no source). */
const METAL_REFLECTS = 0.2;

/** The older way of saying a surface: a diffuse colour, and what is reflected head-on (KHR_materials_pbrSpecularGlossiness). */
function specularGlossiness(older: PBRSpecularGlossiness): Partial<Material> {
  const [r, g, b, alpha] = older.getDiffuseFactor();
  const reflects = older.getSpecularFactor() as Rgb;
  const most = Math.max(...reflects);
  const shared = { alpha, roughness: 1 - older.getGlossinessFactor() };
  if (most > METAL_REFLECTS && most > Math.max(r, g, b)) return { ...shared, base: reflects, metalness: 1 };
  // Fresnel's reflectance head-on, turned around: F = ((n − 1) / (n + 1))².
  const root = Math.sqrt(Math.min(most, METAL_REFLECTS));
  const specularColour = (most > 0 ? reflects.map((v) => v / most) : [1, 1, 1]) as Rgb;
  return { ...shared, base: [r, g, b], metalness: 0, ior: (1 + root) / (1 - root), specularColour };
}

/** The material of a glTF material; `use` reads a texture, `warn` is told what is left out. */
export async function readMaterial(m: GltfMaterial, fallback: string, use: Use, warn: (line: string) => void): Promise<Material> {
  const name = m.getName() || fallback;
  const transmission = m.getExtension<Transmission>('KHR_materials_transmission');
  const volume = m.getExtension<Volume>('KHR_materials_volume');
  const specular = m.getExtension<Specular>('KHR_materials_specular');
  const coat = m.getExtension<Clearcoat>('KHR_materials_clearcoat');
  const sheen = m.getExtension<Sheen>('KHR_materials_sheen');
  const brushed = m.getExtension<Anisotropy>('KHR_materials_anisotropy');
  const through = m.getExtension<DiffuseTransmission>('KHR_materials_diffuse_transmission');
  const strength = m.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength() ?? 1;
  if (m.getExtension('KHR_materials_iridescence')) warn(`The material "${name}" is iridescent, which is not rendered.`);
  const older = m.getExtension<PBRSpecularGlossiness>('KHR_materials_pbrSpecularGlossiness');
  const textures: Material['textures'] = {};
  const own: [TextureSlot, GltfTexture | null | undefined, TextureInfo | null | undefined][] = [
    ['base', older?.getDiffuseTexture() ?? m.getBaseColorTexture(), older?.getDiffuseTextureInfo() ?? m.getBaseColorTextureInfo()],
    ['metalRough', m.getMetallicRoughnessTexture(), m.getMetallicRoughnessTextureInfo()],
    ['normal', m.getNormalTexture(), m.getNormalTextureInfo()],
    ['occlusion', m.getOcclusionTexture(), m.getOcclusionTextureInfo()],
    ['emission', m.getEmissiveTexture(), m.getEmissiveTextureInfo()],
    ['transmission', transmission?.getTransmissionTexture(), transmission?.getTransmissionTextureInfo()],
    ['coat', coat?.getClearcoatTexture(), coat?.getClearcoatTextureInfo()],
    ['coatRoughness', coat?.getClearcoatRoughnessTexture(), coat?.getClearcoatRoughnessTextureInfo()],
    ['coatNormal', coat?.getClearcoatNormalTexture(), coat?.getClearcoatNormalTextureInfo()],
    ['sheen', sheen?.getSheenColorTexture(), sheen?.getSheenColorTextureInfo()],
    ['sheenRoughness', sheen?.getSheenRoughnessTexture(), sheen?.getSheenRoughnessTextureInfo()],
    ['specular', specular?.getSpecularTexture(), specular?.getSpecularTextureInfo()],
    ['specularColour', specular?.getSpecularColorTexture(), specular?.getSpecularColorTextureInfo()],
    ['anisotropy', brushed?.getAnisotropyTexture(), brushed?.getAnisotropyTextureInfo()],
    ['translucency', through?.getDiffuseTransmissionTexture(), through?.getDiffuseTransmissionTextureInfo()],
    ['translucentColour', through?.getDiffuseTransmissionColorTexture(), through?.getDiffuseTransmissionColorTextureInfo()],
  ];
  for (const [slot, texture, info] of own) {
    const used = await use(texture ?? null, info ?? null);
    if (used) textures[slot] = used;
  }
  const [r, g, b, alpha] = m.getBaseColorFactor();
  if (older?.getSpecularGlossinessTexture()) warn(`The texture of shine and gloss of the material "${name}" is left out; its values are rendered.`);
  return {
    name,
    base: [r, g, b],
    alpha,
    alphaMode: ({ OPAQUE: 'opaque', MASK: 'mask', BLEND: 'blend' } as const)[m.getAlphaMode()],
    cutoff: m.getAlphaCutoff(),
    metalness: m.getMetallicFactor(),
    roughness: m.getRoughnessFactor(),
    transmission: transmission?.getTransmissionFactor() ?? 0,
    ior: Math.max(1, m.getExtension<IOR>('KHR_materials_ior')?.getIOR() ?? 1.5),
    // glTF: without a volume a transmissive surface is a sheet.
    thin: transmission !== null && (volume?.getThicknessFactor() ?? 0) === 0,
    absorption: volume ? rounded(absorptionOf(volume.getAttenuationColor() as Rgb, volume.getAttenuationDistance())) : [0, 0, 0],
    specular: specular?.getSpecularFactor() ?? 1,
    specularColour: (specular?.getSpecularColorFactor() ?? [1, 1, 1]) as Rgb,
    emission: rounded(m.getEmissiveFactor().map((e) => e * strength) as Rgb),
    coat: coat?.getClearcoatFactor() ?? 0,
    coatRoughness: coat?.getClearcoatRoughnessFactor() ?? 0,
    sheen: (sheen?.getSheenColorFactor() ?? [0, 0, 0]) as Rgb,
    sheenRoughness: sheen?.getSheenRoughnessFactor() ?? 0,
    anisotropy: brushed?.getAnisotropyStrength() ?? 0,
    anisotropyAngle: brushed?.getAnisotropyRotation() ?? 0,
    translucency: through?.getDiffuseTransmissionFactor() ?? 0,
    translucentColour: (through?.getDiffuseTransmissionColorFactor() ?? [1, 1, 1]) as Rgb,
    unlit: m.getExtension<Unlit>('KHR_materials_unlit') !== null,
    normalScale: m.getNormalScale(),
    coatNormalScale: coat?.getClearcoatNormalScale() ?? 1,
    occlusion: m.getOcclusionStrength(),
    textures,
    ...(older && specularGlossiness(older)),
  };
}

/** Distance and colour that stand for an absorption: what is left after as many metres as take the most to a tenth. */
function attenuation(absorption: Rgb): { distance: number; colour: Rgb } {
  const distance = Math.log(10) / Math.max(...absorption);
  return { distance, colour: absorption.map((a) => Math.exp(-a * distance)) as Rgb };
}

/** A glTF material that reads back as the material. Textures are put on by the caller's `textureOf`. */
export function writeMaterial(
  document: Document,
  material: Material,
  textureOf: (index: number) => GltfTexture,
  wrap: (info: TextureInfo, index: number) => void,
): GltfMaterial {
  const m = document
    .createMaterial(material.name)
    .setBaseColorFactor([...material.base, material.alpha])
    .setMetallicFactor(material.metalness)
    .setRoughnessFactor(material.roughness)
    .setAlphaMode(({ opaque: 'OPAQUE', mask: 'MASK', blend: 'BLEND' } as const)[material.alphaMode])
    .setAlphaCutoff(material.cutoff)
    .setNormalScale(material.normalScale)
    .setOcclusionStrength(material.occlusion);
  const strongest = Math.max(...material.emission);
  m.setEmissiveFactor(material.emission.map((e) => (strongest > 1 ? e / strongest : e)) as Rgb);
  const { textures } = material;
  const place = (used: TextureUse, info: TextureInfo): void => {
    wrap(info, used.texture);
    if (used.mapping === 'second') info.setTexCoord(1);
    const [a, b, x, c, d, y] = used.matrix;
    if (used.matrix.every((v, i) => v === IDENTITY_UV[i])) return;
    const scale: [number, number] = [Math.hypot(a, c), Math.hypot(b, d) * Math.sign(a * d - b * c || 1)];
    info.setExtension(
      'KHR_texture_transform',
      document.createExtension(KHRTextureTransform).createTransform().setOffset([x, y]).setScale(scale).setRotation(Math.atan2(-c, a)),
    );
  };
  const put = (slot: TextureSlot, set: (t: GltfTexture) => TextureInfo | null): void => {
    const used = textures[slot];
    if (used) place(used, set(textureOf(used.texture))!);
  };
  put('base', (t) => m.setBaseColorTexture(t).getBaseColorTextureInfo());
  put('metalRough', (t) => m.setMetallicRoughnessTexture(t).getMetallicRoughnessTextureInfo());
  put('normal', (t) => m.setNormalTexture(t).getNormalTextureInfo());
  put('occlusion', (t) => m.setOcclusionTexture(t).getOcclusionTextureInfo());
  put('emission', (t) => m.setEmissiveTexture(t).getEmissiveTextureInfo());
  if (strongest > 1)
    m.setExtension(
      'KHR_materials_emissive_strength',
      document.createExtension(KHRMaterialsEmissiveStrength).createEmissiveStrength().setEmissiveStrength(strongest),
    );
  if (material.transmission > 0) {
    const t = document.createExtension(KHRMaterialsTransmission).createTransmission().setTransmissionFactor(material.transmission);
    put('transmission', (x) => t.setTransmissionTexture(x).getTransmissionTextureInfo());
    m.setExtension('KHR_materials_transmission', t);
    if (!material.thin) {
      const volume = document.createExtension(KHRMaterialsVolume).createVolume().setThicknessFactor(0.01);
      if (Math.max(...material.absorption) > 0) {
        const { distance, colour } = attenuation(material.absorption);
        volume.setAttenuationDistance(distance).setAttenuationColor(colour);
      }
      m.setExtension('KHR_materials_volume', volume);
    }
  }
  if (material.ior !== 1.5) m.setExtension('KHR_materials_ior', document.createExtension(KHRMaterialsIOR).createIOR().setIOR(material.ior));
  if (material.specular !== 1 || material.specularColour.some((c) => c !== 1) || textures.specular || textures.specularColour) {
    const h = document
      .createExtension(KHRMaterialsSpecular)
      .createSpecular()
      .setSpecularFactor(material.specular)
      .setSpecularColorFactor(material.specularColour);
    put('specular', (x) => h.setSpecularTexture(x).getSpecularTextureInfo());
    put('specularColour', (x) => h.setSpecularColorTexture(x).getSpecularColorTextureInfo());
    m.setExtension('KHR_materials_specular', h);
  }
  if (material.coat > 0) {
    const c = document
      .createExtension(KHRMaterialsClearcoat)
      .createClearcoat()
      .setClearcoatFactor(material.coat)
      .setClearcoatRoughnessFactor(material.coatRoughness);
    put('coat', (x) => c.setClearcoatTexture(x).getClearcoatTextureInfo());
    put('coatNormal', (x) => c.setClearcoatNormalTexture(x).getClearcoatNormalTextureInfo());
    c.setClearcoatNormalScale(material.coatNormalScale);
    put('coatRoughness', (x) => c.setClearcoatRoughnessTexture(x).getClearcoatRoughnessTextureInfo());
    m.setExtension('KHR_materials_clearcoat', c);
  }
  if (Math.max(...material.sheen) > 0) {
    const s = document
      .createExtension(KHRMaterialsSheen)
      .createSheen()
      .setSheenColorFactor(material.sheen)
      .setSheenRoughnessFactor(material.sheenRoughness);
    put('sheen', (x) => s.setSheenColorTexture(x).getSheenColorTextureInfo());
    put('sheenRoughness', (x) => s.setSheenRoughnessTexture(x).getSheenRoughnessTextureInfo());
    m.setExtension('KHR_materials_sheen', s);
  }
  if (material.anisotropy > 0) {
    const a = document
      .createExtension(KHRMaterialsAnisotropy)
      .createAnisotropy()
      .setAnisotropyStrength(material.anisotropy)
      .setAnisotropyRotation(material.anisotropyAngle);
    put('anisotropy', (x) => a.setAnisotropyTexture(x).getAnisotropyTextureInfo());
    m.setExtension('KHR_materials_anisotropy', a);
  }
  if (material.translucency > 0) {
    const d = document
      .createExtension(KHRMaterialsDiffuseTransmission)
      .createDiffuseTransmission()
      .setDiffuseTransmissionFactor(material.translucency)
      .setDiffuseTransmissionColorFactor(material.translucentColour);
    put('translucency', (x) => d.setDiffuseTransmissionTexture(x).getDiffuseTransmissionTextureInfo());
    put('translucentColour', (x) => d.setDiffuseTransmissionColorTexture(x).getDiffuseTransmissionColorTextureInfo());
    m.setExtension('KHR_materials_diffuse_transmission', d);
  }
  if (material.unlit) m.setExtension('KHR_materials_unlit', document.createExtension(KHRMaterialsUnlit).createUnlit());
  return m;
}
