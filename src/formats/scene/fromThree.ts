/** A tree as three.js loaders make it, as parts, meshes and materials. */
import {
  BufferAttribute,
  BufferGeometry,
  type LineSegments,
  type Material as ThreeMaterial,
  type Mesh as ThreeMesh,
  type MeshPhongMaterial,
  type MeshPhysicalMaterial,
  type Object3D,
  type OrthographicCamera,
  type PerspectiveCamera,
  type Texture as ThreeTexture,
} from 'three';
import { type mat4, vec3 } from 'gl-matrix';
import type { Material, ModelCamera, TextureUse } from '../../core/model/model.js';
import type { Rgb } from '../../core/units/colour.js';
import { type ModelBuilder, transformMesh, decomposeMatrix } from '../modelBuilder.js';
import { meshOf } from '../normals.js';
import { missingTexture } from '../image/companionTextures.js';

/** Which picture stands at an address that the loader saw: its name, and its number where it was given. Null where none does. */
export type TextureAt = (source: string) => { name: string; texture: number | null } | null;

/** What three.js says of a surface, as far as its loaders fill it in. */
function materialOf(material: ThreeMaterial, name: string): Partial<Material> & { name: string } {
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

const sourceOf = (material: ThreeMaterial): string =>
  String(((material as { map?: ThreeTexture | null }).map?.image as { src?: unknown } | null | undefined)?.src ?? '');

/** Addresses of the pictures of base colours below an object, each once, as the loader saw them. */
export function textureAddresses(root: Object3D): string[] {
  const found = new Set<string>();
  root.traverse((object) => {
    for (const material of [(object as Partial<ThreeMesh>).material ?? []].flat()) found.add(sourceOf(material));
  });
  found.delete('');
  return [...found];
}

/** The picture of the base colour, as far as it was given. */
function baseTexture(gather: ModelBuilder, material: ThreeMaterial, name: string, pictureAt: TextureAt): Pick<Partial<Material>, 'textures'> {
  const map = (material as { map?: ThreeTexture | null }).map;
  if (!map) return {};
  const picture = pictureAt(sourceOf(material));
  const { repeat, offset } = map;
  // Turned from v upwards to v downwards, as the coordinates are.
  const matrix: TextureUse['matrix'] = [repeat.x, 0, offset.x, 0, repeat.y, 1 - repeat.y - offset.y];
  if (typeof picture?.texture === 'number') return { textures: { base: { texture: picture.texture, matrix, mapping: 'first' } } };
  gather.warnings.add(
    picture ? missingTexture(picture.name, name, 'model') : `The textures of "${name}" are left out; its plain colour is rendered.`,
  );
  return {};
}

/** Some corners of a geometry, by their places in its index where it has one, as a geometry of its own without index. */
export function meshPart(geometry: BufferGeometry, corners: ArrayLike<number>): BufferGeometry {
  const out = new BufferGeometry();
  const index = geometry.getIndex();
  const count = corners.length;
  for (const name of ['position', 'normal', 'uv', 'color']) {
    const a = geometry.getAttribute(name);
    if (!a) continue;
    const size = Math.min(a.itemSize, name === 'uv' ? 2 : 3);
    const array = new Float32Array(count * size);
    for (let i = 0; i < count; i++) {
      const at = index ? index.getX(corners[i]!) : corners[i]!;
      for (let k = 0; k < size; k++) array[i * size + k] = a.getComponent(at, k);
    }
    out.setAttribute(name, new BufferAttribute(array, size));
  }
  return out;
}

/** Ends of the pieces of a line object (three.js: pairs, a strip, or a closed one), moved by the matrix where one is given. */
function linePart(object: Object3D, matrix: ArrayLike<number> | null): number[] {
  const { geometry, isLineSegments, isLineLoop } = object as LineSegments & { isLineLoop?: boolean };
  const position = geometry.getAttribute('position');
  const index = geometry.getIndex();
  const count = index?.count ?? position?.count ?? 0;
  const at = (i: number): vec3 => {
    const p: vec3 = [0, 1, 2].map((k) => position!.getComponent(index ? index.getX(i) : i, k)) as vec3;
    return matrix ? vec3.transformMat4(p, p, Float64Array.from(matrix) as unknown as mat4) : p;
  };
  const out: number[] = [];
  for (let i = 0; i + 1 < count; i += isLineSegments ? 2 : 1) out.push(...at(i), ...at(i + 1));
  if (isLineLoop && count > 2) out.push(...at(count - 1), ...at(0));
  return out;
}

/** The lens of a camera whose world matrix is up to date; sizes in metres. Null where the object is no camera. */
function lensOf(object: Object3D): ModelCamera['lens'] | null {
  const { isPerspectiveCamera, isOrthographicCamera } = object as Partial<PerspectiveCamera & OrthographicCamera>;
  if (isPerspectiveCamera) {
    const { fov, aspect } = object as PerspectiveCamera;
    return { kind: 'perspective', yfov: (fov * Math.PI) / 180, aspect: aspect > 0 ? aspect : null };
  }
  if (!isOrthographicCamera) return null;
  const { left, right, top, bottom } = object as OrthographicCamera;
  const scale = object.matrixWorld.getMaxScaleOnAxis();
  return { kind: 'parallel', xmag: ((right - left) / 2) * scale, ymag: ((top - bottom) / 2) * scale };
}

/** Whether a camera's picture lies beside its line of sight. */
function isShifted(object: Object3D): boolean {
  const { filmOffset = 0, left = 0, right = 0, top = 0, bottom = 0 } = object as Partial<PerspectiveCamera & OrthographicCamera>;
  return filmOffset !== 0 || object.userData.verticalApertureOffset !== undefined || left + right !== 0 || top + bottom !== 0;
}

/** Adds an object with all below it to the parent part; returns how many triangles had no area. */
export function addThree(gather: ModelBuilder, root: Object3D, parent: number, pictureAt: TextureAt = () => null): number {
  const made = new Map<string, number>();
  let dropped = 0;
  const add = (object: Object3D, above: number, isSeen: boolean): void => {
    object.updateMatrix();
    const place = decomposeMatrix(object.matrix.elements);
    const renderVisible = isSeen && object.visible;
    const own = gather.part(object.name, above, place ? { place, renderVisible } : { renderVisible });
    const mesh = object as ThreeMesh;
    if (!place && !mesh.isMesh && object.children.length > 0)
      gather.warnings.add(`"${object.name}" is sheared, which parts cannot be; it is imported without shear.`);
    const lens = lensOf(object);
    if (lens) gather.cameras.push({ part: own, name: object.name || 'Camera', lens });
    if (lens && isShifted(object)) gather.warnings.add(`The camera "${object.name}" has a shifted lens; the view that is offered has none.`);
    if ('isLine' in object) gather.lines('Lines', own, linePart(object, place ? null : object.matrix.elements));
    if (mesh.isMesh) {
      const materials = [mesh.material].flat();
      const count = mesh.geometry.getIndex()?.count ?? mesh.geometry.getAttribute('position')?.count ?? 0;
      const groups = mesh.geometry.groups.length > 0 && materials.length > 1 ? mesh.geometry.groups : [{ start: 0, count, materialIndex: 0 }];
      for (const { start, count: asked, materialIndex = 0 } of groups) {
        const corners = Math.min(asked, count - start);
        if (!(corners >= 3)) continue;
        const material = materials[materialIndex] ?? materials[0]!;
        const name = material.name || 'Unnamed material';
        // Loaders copy a material for each use; what is alike in name and values is one material.
        const values = { ...materialOf(material, name), ...baseTexture(gather, material, name, pictureAt) };
        const finish = gather.material(JSON.stringify(values), () => values);
        // Objects that share a geometry share the mesh: repeated things are instances.
        const key = `${mesh.geometry.uuid}/${start}/${corners}${place ? '' : `/${object.uuid}`}`;
        let number = made.get(key);
        if (number === undefined) {
          const built = meshOf(
            meshPart(
              mesh.geometry,
              Uint32Array.from({ length: corners }, (_, i) => start + i),
            ),
          );
          dropped += built.dropped;
          number = gather.mesh(place ? built.mesh : transformMesh(built.mesh, object.matrix.elements));
          made.set(key, number);
        }
        gather.parts[own]!.primitives.push({ mesh: number, material: finish });
      }
    }
    for (const child of object.children) add(child, own, renderVisible);
  };
  root.updateMatrixWorld(true);
  for (const child of root.children) add(child, parent, root.visible);
  return dropped;
}
