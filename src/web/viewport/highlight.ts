/** Marks what is selected, over its material: only the marked meshes are touched. */
import { Color, type Material, type Mesh, type MeshPhysicalMaterial, type Object3D } from 'three';
import { plainOf } from './mergedMeshes.js';
import type { Loaded } from './loaded.js';
import { groupOf, pathOf } from './applyMaterials.js';

const HIGHLIGHT_COLOUR = new Color(0xa62c49);

const byPath = new WeakMap<Loaded, Map<string, Object3D>>();
const highlighted = new WeakMap<Loaded, Mesh[]>();

/** The objects that parts are, by path; found once. */
function objectsOf(loaded: Loaded): Map<string, Object3D> {
  const known = byPath.get(loaded);
  if (known) return known;
  const objects = new Map<string, Object3D>();
  for (const top of [loaded.subject, loaded.isContext])
    top.traverse((object) => {
      if (typeof object.userData.path === 'string') objects.set(object.userData.path, object);
    });
  byPath.set(loaded, objects);
  return objects;
}

function highlightOf(material: Material, copies: Map<Material, Material>): Material {
  const known = copies.get(material);
  if (known) return known;
  const copy = material.clone() as MeshPhysicalMaterial;
  copy.emissive?.copy(HIGHLIGHT_COLOUR);
  copy.emissiveIntensity = 0.55;
  copy.clippingPlanes = material.clippingPlanes;
  copies.set(material, copy);
  return copy;
}

/**
 * Marks the parts of these paths with all below them, or of each this group of its faces alone (counted from 1), and
 * takes earlier marks off. To be called again after applyMaterials(), which replaces what is marked here.
 */
export function highlight(loaded: Loaded, selected: ReadonlySet<string> | undefined, group: number | undefined): void {
  for (const mesh of highlighted.get(loaded) ?? []) mesh.material = plainOf(mesh);
  const meshes = new Set<Mesh>();
  const objects = objectsOf(loaded);
  for (const path of selected ?? [])
    objects.get(path)?.traverse((object) => {
      const mesh = object as Mesh;
      if (mesh.isMesh && pathOf(mesh) !== null && (group === undefined || group === groupOf(mesh) + 1)) meshes.add(mesh);
    });
  const copies = new Map<Material, Material>();
  for (const mesh of meshes) mesh.material = highlightOf(plainOf(mesh), copies);
  loaded.batches?.mark([...meshes]);
  highlighted.set(loaded, [...meshes]);
}
