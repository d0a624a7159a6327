/** Pictures on finishes in the quick viewport, as the engine lays them: by coordinates, or by a box around the part. */
import {
  BufferAttribute,
  type BufferGeometry,
  type Mesh,
  type MeshPhysicalMaterial,
  RepeatWrapping,
  SRGBColorSpace,
  type Texture,
  TextureLoader,
  Vector3,
} from 'three';
import { type FinishPicture, pictureMatrix } from '../../core/dress/dressing.js';

/** Loads the colour picture of a finish onto its material; `shown` is told when it is there. Other slots are the engine's. */
export function putPicture(material: MeshPhysicalMaterial, pictures: FinishPicture[], shown: () => void): void {
  const picture = pictures.find((p) => p.slot === 'base');
  if (!picture) return;
  new TextureLoader().load(`/api/textures/${picture.file}`, (texture: Texture<HTMLImageElement>) => {
    texture.wrapS = texture.wrapT = RepeatWrapping;
    texture.colorSpace = SRGBColorSpace;
    // Rows go down, as in glTF.
    texture.flipY = false;
    texture.matrixAutoUpdate = false;
    const [a, b, x, c, d, y] = pictureMatrix(picture, texture.image);
    texture.matrix.set(a, b, x, c, d, y, 0, 0, 1);
    material.map = texture;
    material.needsUpdate = true;
    shown();
  });
}

/** The mesh's geometry with coordinates by a box, one unit a metre, as kernel/hit.ts has them. */
function boxed(mesh: Mesh): BufferGeometry {
  const geometry = mesh.geometry.index ? mesh.geometry.toNonIndexed() : mesh.geometry.clone();
  const position = geometry.getAttribute('position');
  const scale = mesh.getWorldScale(new Vector3());
  const size = Math.cbrt(Math.abs(scale.x * scale.y * scale.z));
  const uv = new Float32Array(position.count * 2);
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  for (let i = 0; i + 2 < position.count; i += 3) {
    const corners = [a, b, c].map((v, k) => v.fromBufferAttribute(position, i + k));
    const n = new Vector3().subVectors(b, a).cross(new Vector3().subVectors(c, a));
    const [nx, ny, nz] = [Math.abs(n.x), Math.abs(n.y), Math.abs(n.z)];
    corners.forEach((p, k) => {
      const [u, v] = ny >= nx && ny >= nz ? [p.x, n.y < 0 ? -p.z : p.z] : nx >= nz ? [n.x < 0 ? p.z : -p.z, -p.y] : [n.z < 0 ? -p.x : p.x, -p.y];
      uv[(i + k) * 2] = u * size;
      uv[(i + k) * 2 + 1] = v * size;
    });
  }
  return geometry.setAttribute('uv', new BufferAttribute(uv, 2));
}

/** Gives a mesh the coordinates that its picture asks for, or its own back. */
export function mapMesh(mesh: Mesh, pictures: FinishPicture[] | undefined): void {
  const own = (mesh.userData.geometry ??= mesh.geometry) as BufferGeometry;
  const box = pictures?.find((p) => p.slot === 'base')?.mapping === 'box';
  if (box) mesh.geometry = (mesh.userData.boxed ??= boxed(mesh)) as BufferGeometry;
  else mesh.geometry = own;
}
