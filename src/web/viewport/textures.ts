/** Pictures on materials in the quick viewport, as the engine lays them: by coordinates, or by a box around the part. */
import {
  BufferAttribute,
  BufferGeometry,
  type Mesh,
  type MeshPhysicalMaterial,
  RepeatWrapping,
  SRGBColorSpace,
  type Texture,
  TextureLoader,
} from 'three';
import { boxMapped, sizeOfMatrix } from '../../core/model/boxMapping.js';
import { type MaterialTexture, textureMatrix } from '../../core/materials/customMaterial.js';

/** Loads the colour picture of a material onto its material; `shown` is told when it is there. Other slots are the engine's. */
export function setTexture(material: MeshPhysicalMaterial, pictures: MaterialTexture[], shown: () => void): void {
  const picture = pictures.find((p) => p.slot === 'base');
  if (!picture) return;
  new TextureLoader().load(`/api/textures/${picture.file}`, (texture: Texture<HTMLImageElement>) => {
    texture.wrapS = texture.wrapT = RepeatWrapping;
    texture.colorSpace = SRGBColorSpace;
    // Rows go down, as in glTF.
    texture.flipY = false;
    texture.matrixAutoUpdate = false;
    const [a, b, x, c, d, y] = textureMatrix(picture, texture.image);
    texture.matrix.set(a, b, x, c, d, y, 0, 0, 1);
    material.map = texture;
    material.needsUpdate = true;
    shown();
  });
}

/** The mesh's geometry with coordinates by a box, one unit a metre. */
function boxed(mesh: Mesh): BufferGeometry {
  const { geometry } = mesh;
  const list = (name: string): Float32Array | undefined => {
    const a = geometry.getAttribute(name) as BufferAttribute | undefined;
    return a && Float32Array.from({ length: a.count * 3 }, (_, i) => a.getComponent(Math.floor(i / 3), i % 3));
  };
  const positions = list('position')!;
  const normals = list('normal');
  const indices = geometry.index ? Uint32Array.from(geometry.index.array) : Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
  const mapped = boxMapped({ positions, indices, ...(normals && { normals }) }, sizeOfMatrix(mesh.matrixWorld.elements));
  const out = new BufferGeometry()
    .setAttribute('position', new BufferAttribute(mapped.positions, 3))
    .setAttribute('uv', new BufferAttribute(mapped.uvs!, 2));
  return mapped.normals ? out.setAttribute('normal', new BufferAttribute(mapped.normals, 3)) : out;
}

/** Gives a mesh the coordinates that its picture asks for, or its own back. */
export function mapMesh(mesh: Mesh, pictures: MaterialTexture[] | undefined): void {
  const own = (mesh.userData.geometry ??= mesh.geometry) as BufferGeometry;
  const box = pictures?.find((p) => p.slot === 'base')?.mapping === 'box';
  if (box) mesh.geometry = (mesh.userData.boxed ??= boxed(mesh)) as BufferGeometry;
  else mesh.geometry = own;
}
