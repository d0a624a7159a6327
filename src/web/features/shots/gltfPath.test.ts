import { Document, WebIO } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { readGltfPath } from './gltfPath.js';

async function bytes(build: (document: Document) => void): Promise<ArrayBuffer> {
  const document = new Document();
  document.createBuffer();
  document.createScene();
  build(document);
  const out = await new WebIO().writeBinary(document);
  return out.buffer.slice(out.byteOffset, out.byteOffset + out.length) as ArrayBuffer;
}
const list = (d: Document, type: 'SCALAR' | 'VEC3', values: number[]) =>
  d.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(d.getRoot().listBuffers()[0]!);

/** A camera in a group that is raised by a metre, going east, then north. */
function walk(d: Document): void {
  const camera = d.createNode('Eye').setCamera(d.createCamera().setType('perspective').setYFov(1).setZNear(0.1));
  const other = d.createNode('Door');
  d.getRoot()
    .listScenes()[0]!
    .addChild(d.createNode('Group').setTranslation([0, 1, 0]).addChild(camera))
    .addChild(other);
  const animation = d.createAnimation('Walk');
  const add = (node: typeof camera, times: number[], places: number[]): void => {
    const sampler = d
      .createAnimationSampler()
      .setInput(list(d, 'SCALAR', times))
      .setOutput(list(d, 'VEC3', places));
    animation.addSampler(sampler).addChannel(d.createAnimationChannel().setTargetNode(node).setTargetPath('translation').setSampler(sampler));
  };
  add(other, [0, 1], [0, 0, 0, 9, 9, 9]);
  add(camera, [0, 2, 5], [0, 0.6, 0, 3, 0.6, 0, 3, 0.6, -4]);
}

describe('a path out of glTF', () => {
  it('is where the camera moves, in the world, with its times', async () => {
    expect(await readGltfPath(await bytes(walk))).toEqual([
      { eye: [0, 1.6, 0] },
      { eye: [3, 1.6, 0], seconds: 2 },
      { eye: [3, 1.6, -4], seconds: 3 },
    ]);
  });

  it('is a line where nothing moves; pieces give each corner once', async () => {
    const line = (mode: 1 | 3, points: number[]) => (d: Document) => {
      const mesh = d.createMesh().addPrimitive(
        d
          .createPrimitive()
          .setMode(mode)
          .setAttribute('POSITION', list(d, 'VEC3', points)),
      );
      d.getRoot()
        .listScenes()[0]!
        .addChild(d.createNode('Path').setMesh(mesh).setTranslation([10, 0, 0]));
    };
    const corners = [{ eye: [10, 0, 0] }, { eye: [11, 0, 0] }, { eye: [11, 0, 2] }];
    expect(await readGltfPath(await bytes(line(3, [0, 0, 0, 1, 0, 0, 1, 0, 2])))).toEqual(corners);
    expect(await readGltfPath(await bytes(line(1, [0, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 2])))).toEqual(corners);
  });

  it('is thinned to what a walk may have, both ends kept', async () => {
    const many = await readGltfPath(
      await bytes((d) => {
        const points = Array.from({ length: 1000 }, (_, i) => [i, 0, 0]).flat();
        const mesh = d.createMesh().addPrimitive(
          d
            .createPrimitive()
            .setMode(3)
            .setAttribute('POSITION', list(d, 'VEC3', points)),
        );
        d.getRoot().listScenes()[0]!.addChild(d.createNode().setMesh(mesh));
      }),
    );
    expect([many.length, many[0]!.eye[0], many.at(-1)!.eye[0]]).toEqual([200, 0, 999]);
  });

  it('says what is missing', async () => {
    await expect(readGltfPath(await bytes(() => undefined))).rejects.toThrow('neither an animation nor a line');
    await expect(readGltfPath(new TextEncoder().encode('nonsense').buffer as ArrayBuffer)).rejects.toThrow('could not be read as glTF');
  });
});
