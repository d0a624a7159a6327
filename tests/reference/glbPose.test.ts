/** Meshes of glTF that change their form: posed as three.js's own loader and skinning have them. */
import { Document, NodeIO } from '@gltf-transform/core';
import { readFileSync } from 'node:fs';
import { Box3, type Mesh as ThreeMesh, Vector3 } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { type Model, modelBounds } from '../../src/core/model/model.js';
import { readModel } from '../../src/formats/formats.js';

/** A pillar of `rings` squares one above another, its upper half on a joint that is turned, scaled and moved; and two morph targets. */
function pillar({ morph = [0, 0], own = [] as number[], rest = false, skin = true } = {}): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const array = (type: 'VEC3' | 'VEC4' | 'MAT4' | 'SCALAR', values: Float32Array | Uint16Array) =>
    document.createAccessor().setType(type).setArray(values).setBuffer(buffer);
  const [positions, normals, joints, weights, indices] = [[], [], [], [], []] as number[][];
  const rings = 9;
  for (let r = 0; r < rings; r++) {
    for (const [x, z] of [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ] as const) {
      positions!.push(x * 0.2, r / 4, z * 0.2);
      normals!.push(x * Math.SQRT1_2, 0, z * Math.SQRT1_2);
      const upper = r / (rings - 1);
      joints!.push(0, 1, 0, 0);
      weights!.push(1 - upper, upper, 0, 0);
    }
    if (r > 0)
      for (let k = 0; k < 4; k++) {
        const [a, b] = [(r - 1) * 4 + k, (r - 1) * 4 + ((k + 1) % 4)];
        indices!.push(a, a + 4, b, b, a + 4, b + 4);
      }
  }
  const count = positions!.length;
  const moved = (f: (i: number) => number) =>
    array(
      'VEC3',
      Float32Array.from({ length: count }, (_, i) => f(i)),
    );
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', array('VEC3', Float32Array.from(positions!)))
    .setAttribute('NORMAL', array('VEC3', Float32Array.from(normals!)))
    .setAttribute('JOINTS_0', array('VEC4', Uint16Array.from(joints!)))
    .setAttribute('WEIGHTS_0', array('VEC4', Float32Array.from(weights!)))
    .setIndices(array('SCALAR', Uint16Array.from(indices!)))
    .addTarget(
      document.createPrimitiveTarget().setAttribute(
        'POSITION',
        moved((i) => (i % 3 === 0 ? 0.5 : 0)),
      ),
    )
    .addTarget(
      document.createPrimitiveTarget().setAttribute(
        'POSITION',
        moved((i) => (i % 3 === 2 ? (i / count) * 0.8 : 0)),
      ),
    );
  const mesh = document.createMesh('Pillar').addPrimitive(primitive).setWeights(morph);
  const lower = document.createNode('Lower').setTranslation([0.1, 0, 0]);
  const upper = document.createNode('Upper').setTranslation([0, 1, 0]);
  if (!rest) upper.setRotation([0, 0, Math.sin(0.4), Math.cos(0.4)]).setScale([1, 1.5, 1]);
  lower.addChild(upper);
  // Bound where they would stand without their turn.
  const bind = [
    [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -0.1, 0, 0, 1],
    [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -0.1, -1, 0, 1],
  ];
  const bones = document
    .createSkin()
    .addJoint(lower)
    .addJoint(upper)
    .setInverseBindMatrices(array('MAT4', Float32Array.from(bind.flat())));
  // The mesh's own place does not move what its joints move.
  const node = document.createNode('Body').setMesh(mesh).setTranslation([5, 6, 7]).setRotation([0, Math.SQRT1_2, 0, Math.SQRT1_2]).setWeights(own);
  if (skin) node.setSkin(bones);
  const other = document
    .createNode('Straight')
    .setMesh(mesh.clone().setWeights([0, 0]))
    .setTranslation([3, 0, 0]);
  document.createScene().addChild(lower).addChild(node).addChild(other);
  return document;
}

const written = (document: Document): Promise<Uint8Array> => new NodeIO().writeBinary(document);
const read = async (bytes: Uint8Array): Promise<Model> => readModel([{ name: 'a.glb', bytes }], { unit: 'm', up: 'y' });

/** Corners of every mesh in the world, as three.js poses them. */
async function threePoints(bytes: Uint8Array): Promise<Vector3[]> {
  const { scene } = await new GLTFLoader().parseAsync(Uint8Array.from(bytes).buffer, '');
  scene.updateMatrixWorld(true);
  const points: Vector3[] = [];
  scene.traverse((object) => {
    const mesh = object as ThreeMesh;
    if (!mesh.isMesh) return;
    for (let i = 0; i < mesh.geometry.getAttribute('position').count; i++)
      points.push(mesh.getVertexPosition(i, new Vector3()).applyMatrix4(mesh.matrixWorld));
  });
  return points;
}
const boundsOf = (points: readonly Vector3[]): number[] => {
  const box = new Box3().setFromPoints([...points]);
  return [...box.min.toArray(), ...box.max.toArray()];
};
function ourPoints(model: Model): Vector3[] {
  return model.parts.flatMap((part) =>
    part.primitives.flatMap(({ mesh }) => {
      const { positions } = model.meshes[mesh]!;
      return Array.from({ length: positions.length / 3 }, (_, i) => {
        const [x, y, z] = positions.subarray(i * 3, i * 3 + 3);
        const m = part.world;
        const along = (r: number): number => m[r]! * x! + m[4 + r]! * y! + m[8 + r]! * z! + m[12 + r]!;
        return new Vector3(along(0), along(1), along(2));
      });
    }),
  );
}

describe('the pose of a glTF', () => {
  it.each([
    ['a skin', {}],
    ['morph targets of the mesh', { skin: false, morph: [0.7, -0.4] }],
    ['a node that weighs them otherwise', { skin: false, morph: [0.7, -0.4], own: [0, 1] }],
    ['both', { morph: [0.5, 0.5] }],
  ] as [string, object][])('%s is, point by point, as three.js has it', async (_, options) => {
    const bytes = await written(pillar(options));
    const [model, theirs] = [await read(bytes), await threePoints(bytes)];
    const ours = ourPoints(model);
    expect(ours.length).toBe(72);
    // Parts come in the order of the tree, in both.
    ours.forEach((p, i) => expect(p.distanceTo(theirs[i]!)).toBeLessThan(1e-5));
    expect(model.warnings.filter((w) => w.includes('skeleton'))).toEqual([]);
  });

  it('moves what it must, and leaves the other node of the mesh as it is', async () => {
    const [posed, rest] = [ourPoints(await read(await written(pillar()))), ourPoints(await read(await written(pillar({ rest: true }))))];
    const far = posed.map((p, i) => p.distanceTo(rest[i]!));
    expect(Math.max(...far.slice(0, 36))).toBeGreaterThan(0.5);
    expect(Math.max(...far.slice(36))).toBe(0);
    // At rest the joints stand where the mesh was bound: its points are where the file has them.
    expect(boundsOf(rest.slice(0, 36)).map((v) => Math.round(v * 1e5) / 1e5)).toEqual([-0.2, 0, -0.2, 0.2, 2, 0.2]);
  });

  it('turns normals with their points', async () => {
    const model = await read(await written(pillar()));
    const body = model.parts.find((p) => p.name === 'Body')!;
    const { normals } = model.meshes[body.primitives[0]!.mesh]!;
    const top = normals!.subarray(normals!.length - 12);
    for (let i = 0; i < 12; i += 3) expect(Math.hypot(top[i]!, top[i + 1]!, top[i + 2]!)).toBeCloseTo(1, 5);
    // Upright sides of the top lean with the turn: 0.8 radians about z, in the node's own space about x.
    expect(Math.max(...[1, 4, 7, 10].map((i) => Math.abs(top[i]!)))).toBeGreaterThan(0.3);
  });

  it('of a file by others whose joints are at rest is its mesh, moved by what it was bound with', async () => {
    const bytes = new Uint8Array(readFileSync('/usr/share/assimp/models/glTF2/simple_skin/simple_skin.gltf'));
    const { accessors, meshes } = JSON.parse(new TextDecoder().decode(bytes)) as {
      accessors: { min: number[]; max: number[] }[];
      meshes: { primitives: { attributes: { POSITION: number } }[] }[];
    };
    const said = accessors[meshes[0]!.primitives[0]!.attributes.POSITION]!;
    const { min, max } = modelBounds(await readModel([{ name: 'simple_skin.gltf', bytes }], { unit: 'm', up: 'y' }));
    // Both joints of Khronos' "Simple Skin" are bound half a metre to the left of the mesh's corner.
    const moved = [...said.min, ...said.max].map((v, i) => (i % 3 === 0 ? v - 0.5 : v));
    [...min, ...max].forEach((v, i) => expect(v).toBeCloseTo(moved[i]!, 5));
  });
});
