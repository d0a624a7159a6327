/** A compiled scene's content part by part, as hashes: what two revisions have alike is known by it. */
import { createHash } from 'node:crypto';
import { canonicalJson, hashOf } from '../../core/base/hash.js';
import type { ModelContent } from '../../core/frame/renderedContent.js';
import type { Material } from '../../core/materials/material.js';
import type { CompiledScene, MeshEntry } from '../scene/compile.js';

/** Digits of a hash that are kept: two shapes come to the same once in 10^19 pairs. */
const DIGITS = 32;

const hashOfBytes = (...pieces: Uint8Array[]): string => {
  const hash = createHash('sha256');
  for (const piece of pieces) hash.update(piece);
  return hash.digest('hex').slice(0, DIGITS);
};

/** Everything of a mesh that is traced; its tree follows from it. */
function hashOfMesh({ image }: CompiledScene, mesh: MeshEntry): string {
  if (mesh.triangles === 0) return '';
  const floats = (at: number, perVertex: number): Uint8Array => (at < 0 ? new Uint8Array() : image.subarray(at, at + mesh.vertices * perVertex * 4));
  // Lengths tell which of the optional pieces are there.
  const optional = [floats(mesh.normal, 3), floats(mesh.uv, 2), floats(mesh.secondUv, 2), floats(mesh.colour, 3)];
  return hashOfBytes(
    Buffer.from(optional.map((p) => p.length).join()),
    image.subarray(mesh.index, mesh.index + mesh.triangles * 12),
    floats(mesh.position, 3),
    ...optional,
  );
}

/** A material with the content of its textures instead of their numbers. */
function hashOfMaterial(material: Material, textures: readonly string[]): string {
  const named: unknown = JSON.parse(JSON.stringify(material), (key, value: unknown) =>
    key === 'texture' && typeof value === 'number' ? textures[value] : value,
  );
  return hashOf(named).slice(0, DIGITS);
}

/** The scene's content. Its trees are left out: they follow from the meshes. */
export function sceneContent(scene: CompiledScene): ModelContent {
  const meshes = scene.meshes.map((m) => hashOfMesh(scene, m));
  const textures = scene.textures.map((t) =>
    hashOfBytes(Buffer.from([t.width, t.height, t.wrapU, t.wrapV].join()), scene.image.subarray(t.texels, t.texels + t.width * t.height * 4)),
  );
  const materials = scene.materials.map((m) => ({ name: m.name, hash: hashOfMaterial(m, textures) }));
  const curves = new Map<number, string>();
  for (const { part, points } of scene.curves) curves.set(part, hashOfBytes(Buffer.from(canonicalJson(points))));
  return {
    parts: scene.parts.map((part, i) => ({
      path: part.path,
      renderVisible: part.renderVisible,
      isContext: part.isContext,
      shape: hashOf([part.world, part.visible, part.primitives.map((p) => meshes[p.mesh]!), curves.get(i) ?? '']).slice(0, DIGITS),
      materials: part.primitives.map((p) => materials[p.material]!),
    })),
    // Of several of one name the first is found.
    materials: Object.fromEntries(materials.map(({ name, hash }) => [name, hash] as const).reverse()),
    lights: hashOf(scene.lights.map(({ part, ...light }) => ({ ...light, world: scene.parts[part]!.world }))).slice(0, DIGITS),
  };
}
