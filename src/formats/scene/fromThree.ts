/** A tree as three.js loaders make it, as parts, meshes and finishes. */
import {
  BufferAttribute,
  BufferGeometry,
  type Material,
  type Mesh as ThreeMesh,
  type MeshPhongMaterial,
  type MeshPhysicalMaterial,
  type Object3D,
} from 'three';
import { type Finish } from '../../core/model/model.js';
import { type Rgb } from '../../core/units/colour.js';
import { type Gatherer, movedMesh, placeOf } from '../gather.js';
import { meshOf } from '../normals.js';

/** What three.js says of a surface, as far as its loaders fill it in. */
function finishOf(material: Material, name: string): Partial<Finish> & { name: string } {
  const m = material as Partial<MeshPhysicalMaterial> & Partial<MeshPhongMaterial>;
  const colour = (c: { toArray(): number[] } | undefined): Rgb | null => (c ? (c.toArray().slice(0, 3) as Rgb) : null);
  const clear = (m.opacity ?? 1) < 0.9 || (m.transmission ?? 0) > 0;
  const strength = m.emissiveIntensity ?? 1;
  return {
    name,
    base: clear && !m.transmission ? [1, 1, 1] : (colour(m.color) ?? [0.6, 0.6, 0.6]),
    metalness: m.metalness ?? 0,
    // Blinn's exponent to GGX roughness, as for OBJ.
    roughness: m.roughness ?? (m.shininess !== undefined ? Math.min(1, (2 / (Math.max(0, m.shininess) + 2)) ** 0.25) : 0.7),
    emission: (colour(m.emissive) ?? [0, 0, 0]).map((c) => c * strength) as Rgb,
    transmission: clear ? 1 : 0,
    thin: clear,
    ...(m.ior !== undefined && m.ior >= 1 && { ior: m.ior }),
    ...(m.clearcoat && { coat: m.clearcoat, coatRoughness: m.clearcoatRoughness ?? 0 }),
  };
}

/** The corners of one group of a geometry, without its index. */
function piece(geometry: BufferGeometry, start: number, count: number): BufferGeometry {
  const out = new BufferGeometry();
  const index = geometry.getIndex();
  for (const name of ['position', 'normal', 'uv', 'color']) {
    const a = geometry.getAttribute(name);
    if (!a) continue;
    const size = Math.min(a.itemSize, name === 'uv' ? 2 : 3);
    const array = new Float32Array(count * size);
    for (let i = 0; i < count; i++) {
      const at = index ? index.getX(start + i) : start + i;
      for (let k = 0; k < size; k++) array[i * size + k] = a.getComponent(at, k);
    }
    out.setAttribute(name, new BufferAttribute(array, size));
  }
  return out;
}

/** Adds an object with all below it to the parent part; returns how many triangles had no area. */
export function addThree(gather: Gatherer, root: Object3D, parent: number): number {
  const made = new Map<string, number>();
  let dropped = 0;
  const add = (object: Object3D, above: number): void => {
    object.updateMatrix();
    const place = placeOf(object.matrix.elements);
    const own = gather.part(object.name, above, place ? { place } : {});
    const mesh = object as ThreeMesh;
    if (!place && !mesh.isMesh) gather.warnings.add(`"${object.name}" is sheared, which parts cannot be; it stands without that.`);
    if (mesh.isMesh) {
      const materials = [mesh.material].flat();
      const count = mesh.geometry.getIndex()?.count ?? mesh.geometry.getAttribute('position')?.count ?? 0;
      const groups = mesh.geometry.groups.length > 0 && materials.length > 1 ? mesh.geometry.groups : [{ start: 0, count, materialIndex: 0 }];
      for (const { start, count: asked, materialIndex = 0 } of groups) {
        const corners = Math.min(asked, count - start);
        if (!(corners >= 3)) continue;
        const material = materials[materialIndex] ?? materials[0]!;
        if ('map' in material && material.map)
          gather.warnings.add(`The pictures of "${material.name || 'a material'}" are left out; its plain colour is rendered.`);
        const finish = gather.finish(material.uuid, () => finishOf(material, material.name || 'Unnamed finish'));
        // Objects that share a geometry share the mesh: repeated things are instances.
        const key = `${mesh.geometry.uuid}/${start}/${corners}${place ? '' : `/${object.uuid}`}`;
        let number = made.get(key);
        if (number === undefined) {
          const built = meshOf(piece(mesh.geometry, start, corners));
          dropped += built.dropped;
          number = gather.mesh(place ? built.mesh : movedMesh(built.mesh, object.matrix.elements));
          made.set(key, number);
        }
        gather.parts[own]!.primitives.push({ mesh: number, finish });
      }
    }
    for (const child of object.children) add(child, own);
  };
  for (const child of root.children) add(child, parent);
  return dropped;
}
