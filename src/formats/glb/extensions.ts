/** What glTF extensions a file has that are not applied, for the import report. */
import type { Document } from '@gltf-transform/core';
import type { MappingList } from '@gltf-transform/extensions';
import { animationsLeftOut } from '../report.js';

/** Applied here, or undone by the library when it reads; those that are told of one by one are among them. */
const APPLIED = new Set([
  'EXT_mesh_gpu_instancing',
  'EXT_meshopt_compression',
  'EXT_texture_webp',
  'KHR_draco_mesh_compression',
  'KHR_lights_punctual',
  'KHR_materials_anisotropy',
  'KHR_materials_clearcoat',
  'KHR_materials_diffuse_transmission',
  'KHR_materials_emissive_strength',
  'KHR_materials_ior',
  'KHR_materials_iridescence',
  'KHR_materials_pbrSpecularGlossiness',
  'KHR_materials_sheen',
  'KHR_materials_specular',
  'KHR_materials_transmission',
  'KHR_materials_unlit',
  'KHR_materials_variants',
  'KHR_materials_volume',
  'KHR_mesh_quantization',
  'KHR_node_visibility',
  'KHR_texture_basisu',
  'KHR_texture_transform',
]);

/** Names of the material variants that the meshes of a document have mappings for. */
function variantsOf(document: Document): string[] {
  const names = new Set<string>();
  for (const mesh of document.getRoot().listMeshes())
    for (const primitive of mesh.listPrimitives())
      for (const mapping of primitive.getExtension<MappingList>('KHR_materials_variants')?.listMappings() ?? [])
        for (const variant of mapping.listVariants()) names.add(variant.getName() || 'unnamed');
  return [...names];
}

/** @param used what the file says of its extensions. */
export function leftOutExtensions(document: Document, used: unknown): string[] {
  const lines: string[] = [];
  const names = (Array.isArray(used) ? used : []).filter((e): e is string => typeof e === 'string' && !APPLIED.has(e));
  if (names.length > 0) lines.push(`glTF extensions left out: ${[...new Set(names)].map((e) => e.slice(0, 60)).join(', ')}.`);
  const variants = variantsOf(document);
  if (variants.length > 0) lines.push(`Material variants left out: ${variants.join(', ')}. The default materials are imported.`);
  const animations = document.getRoot().listAnimations().length;
  if (animations > 0) lines.push(animationsLeftOut(animations));
  return lines;
}
