import { Document } from '@gltf-transform/core';
import { KHRTextureBasisu } from '@gltf-transform/extensions';
import { describe, expect, it } from 'vitest';
import { KTX2_SAMPLES } from '../../tests/support/ktx2Samples.js';
import { northmere } from '../../demo/northmere.js';
import { tern } from '../../demo/tern.js';
import { blockObj } from '../../tests/support/box.js';
import { type Model, modelBounds, triangleCount } from '../core/model/model.js';
import { MeshMaker, modelOf, sphere } from '../core/model/meshMaker.js';
import type { SourceFile } from './format.js';
import { readModel } from './formats.js';
import { makeIO } from './glb/io.js';
import { documentBytes, toDocument, writeGlb } from './glb/write.js';

const METRES = { unit: 'm', up: 'y' } as const;
const file = (name: string, content: string | Uint8Array): SourceFile => ({
  name,
  bytes: typeof content === 'string' ? new TextEncoder().encode(content) : content,
});

/** Volume of a closed model by the divergence theorem. */
function volume(model: Model): number {
  let sum = 0;
  for (const { positions: p, indices } of model.meshes) {
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => Array.from(p.subarray(indices[i + k]! * 3, indices[i + k]! * 3 + 3))) as [number[], number[], number[]];
      sum += (a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) + a[1]! * (b[2]! * c[0]! - b[0]! * c[2]!) + a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!)) / 6;
    }
  }
  return sum;
}

describe('GLB', () => {
  it('has its KTX2 textures, and refuses one that is damaged by its name', async () => {
    const { document, nodes } = await toDocument(modelOf('k', [{ mesh: sphere(8) }]));
    const whole = new Uint8Array(Buffer.from(KTX2_SAMPLES.UASTC, 'base64'));
    const texture = document.createTexture('bark').setMimeType('image/ktx2').setImage(whole);
    document.createExtension(KHRTextureBasisu).setRequired(true);
    nodes[0]!.getMesh()!.listPrimitives()[0]!.getMaterial()!.setBaseColorTexture(texture);
    const model = await readModel([file('k.glb', await documentBytes(document))], METRES);
    expect(model.materials[0]!.textures.base).toMatchObject({ texture: 0 });
    expect(model.textures[0]).toMatchObject({ name: 'bark', width: 16, height: 12 });
    expect(model.warnings.join(' ')).not.toContain('bark');
    texture.setImage(whole.slice(0, 90));
    const torn = file('k.glb', await documentBytes(document));
    await expect(readModel([torn], METRES)).rejects.toThrow(
      'The texture "bark" cannot be read; it must be PNG, JPEG, WebP, TIFF, BMP, TGA or KTX2 (Basis)',
    );
  });

  it.each([
    ['Tern', tern(), 31],
    ['Northmere', northmere(), 656],
  ] as const)('%s comes back as it was written', async (_, model, parts) => {
    const bytes = await writeGlb(model);
    const back = await readModel([file('m.glb', bytes)], METRES);
    expect(back.parts).toHaveLength(parts);
    expect(back.parts.map((p) => [p.path, p.renderVisible, p.isContext])).toEqual(model.parts.map((p) => [p.path, p.renderVisible, p.isContext]));
    // The library leaves offsets out that are nearly zero; from then on every digit stays.
    back.parts.forEach((p, i) => Array.from(p.world).forEach((v, k) => expect(v).toBeCloseTo(Array.from(model.parts[i]!.world)[k]!, 12)));
    expect(triangleCount(back)).toBe(triangleCount(model));
    expect(triangleCount(model)).toBeLessThan(60_000);
    expect(modelBounds(back)).toEqual(modelBounds(model));
    expect(new Set(back.materials.map((f) => f.name))).toEqual(
      new Set(model.parts.flatMap((p) => p.primitives.map((q) => model.materials[q.material]!.name))),
    );
    // Written again it is the same file: whoever starts from the canonical form ends at it.
    const again = await writeGlb(back);
    expect(Buffer.from(await writeGlb(await readModel([file('m.glb', again)], METRES))).equals(Buffer.from(again))).toBe(true);
  });

  it('unrolls strips and takes nodes without indices', async () => {
    const document = new Document();
    const buffer = document.createBuffer();
    const accessor = document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0]))
      .setBuffer(buffer);
    const mesh = document.createMesh('strip').addPrimitive(document.createPrimitive().setMode(5).setAttribute('POSITION', accessor));
    document.createScene().addChild(document.createNode('strip').setMesh(mesh).setTranslation([0, 0, 5]));
    const model = await readModel([file('strip.glb', await (await makeIO()).writeBinary(document))], METRES);
    expect(Array.from(model.meshes[0]!.indices)).toEqual([0, 1, 2, 1, 3, 2]);
    expect(modelBounds(model)).toEqual({ min: [0, 0, 5], max: [1, 1, 5] });
  });

  it('says of every damaged file what is wrong, whatever it is cut to', async () => {
    const whole = await writeGlb(tern());
    for (const length of [0, 3, 11, 19, 100, 4000, 20_000, whole.length - 1]) {
      await expect(readModel([file('tern.glb', whole.subarray(0, length))], METRES), `cut to ${length}`).rejects.toThrow(/"tern.glb"/);
    }
    await expect(readModel([file('tern.glb', new Uint8Array())], METRES)).rejects.toThrow('"tern.glb" is empty');
    await expect(readModel([file('tern.glb', whole.subarray(0, 4000))], METRES)).rejects.toThrow('cut short: it should have');
  });

  it('refuses a file that needs another', async () => {
    const json = JSON.stringify({ asset: { version: '2.0' }, buffers: [{ uri: 'landing.bin', byteLength: 12 }], scenes: [{ nodes: [] }] }).padEnd(
      160,
    );
    const bytes = new Uint8Array(20 + json.length);
    const view = new DataView(bytes.buffer);
    [0x46546c67, 2, bytes.length, json.length, 0x4e4f534a].forEach((v, i) => view.setUint32(i * 4, v, true));
    bytes.set(new TextEncoder().encode(json), 20);
    await expect(readModel([file('x.glb', bytes)], METRES)).rejects.toThrow('needs the file "landing.bin", which is not in it');
  });

  it('leaves triangles without area out and counts them, as single ones and in strips', async () => {
    const model = modelOf('m', [{ mesh: new MeshMaker().box([0, 0, 0], [1, 1, 1]).mesh() }]);
    const whole = model.meshes[0]!.indices.slice();
    model.meshes[0]!.indices.set([whole[0]!, whole[0]!, whole[1]!], 9);
    const read = await readModel([file('m.glb', await writeGlb(model))], METRES);
    expect(read.warnings).toEqual(['1 triangle without area was left out.']);
    expect(Array.from(read.meshes[0]!.indices)).toEqual([...whole.slice(0, 9), ...whole.slice(12)]);
    const io = await makeIO();
    const document = await io.readBinary(await writeGlb(model));
    const strip = document.getRoot().listMeshes()[0]!.listPrimitives()[0]!;
    // A strip that is led on by doubled corners, as strips of several pieces are.
    strip.setMode(5).setIndices(
      document
        .createAccessor()
        .setArray(Uint16Array.from([0, 1, 3, 3, 4, 4, 5, 7]))
        .setBuffer(document.getRoot().listBuffers()[0]!),
    );
    const led = await readModel([file('m.glb', await io.writeBinary(document))], METRES);
    expect(led.meshes[0]!.indices).toHaveLength(6);
    expect(led.warnings).toEqual(['4 triangles without area were left out.']);
  });

  it('refuses indices and coordinates that do not exist, and files without surfaces', async () => {
    const model = modelOf('m', [{ mesh: new MeshMaker().box([0, 0, 0], [1, 1, 1]).mesh() }]);
    model.meshes[0]!.indices[5] = 99;
    await expect(readModel([file('m.glb', await writeGlb(model))], METRES)).rejects.toThrow('refers to vertex 99, but has only 24');
    model.meshes[0]!.indices[5] = 0;
    model.meshes[0]!.positions[4] = NaN;
    await expect(readModel([file('m.glb', await writeGlb(model))], METRES)).rejects.toThrow('coordinate that is not a number');
    const empty = new Document();
    empty.createScene().addChild(empty.createNode('nothing'));
    await expect(readModel([file('m.glb', await (await makeIO()).writeBinary(empty))], METRES)).rejects.toThrow('no surfaces');
  });

  it('tells other files by their first bytes', async () => {
    await expect(readModel([file('a.glb', new Uint8Array([0xff, 0xd8, 0xff, 0]))], METRES)).rejects.toThrow('is a JPEG image, not a GLB model');
    await expect(readModel([file('a.txt', 'hello')], METRES)).rejects.toThrow('There is no model among "a.txt"');
  });
});

describe('OBJ', () => {
  const { obj, mtl } = blockObj();

  it('comes in at its size, by unit and up axis, with its materials', async () => {
    const model = await readModel([file('block.obj', obj), file('block.mtl', mtl)], { unit: 'mm', up: 'z' });
    expect(model.parts.map((p) => p.name)).toEqual(['Body', 'Lid']);
    const { min, max } = modelBounds(model);
    expect(max.map((v, i) => +(v - min[i]!).toFixed(6))).toEqual([0.4, 0.2, 0.3]);
    expect(model.materials.map((f) => f.name)).toEqual(['red', 'white']);
    expect(model.materials[0]!.base[0]).toBeCloseTo(0.448, 3);
    expect(volume(model)).toBeCloseTo(0.4 * 0.3 * 0.2, 7);
  });

  it('keeps the volume of a ball after units', async () => {
    const { positions, indices } = sphere(64);
    const lines: string[] = [];
    for (let i = 0; i < positions.length; i += 3) lines.push(`v ${positions[i]} ${positions[i + 1]} ${positions[i + 2]}`);
    for (let i = 0; i < indices.length; i += 3) lines.push(`f ${indices[i]! + 1} ${indices[i + 1]! + 1} ${indices[i + 2]! + 1}`);
    const inches = volume(await readModel([file('ball.obj', lines.join('\n'))], { unit: 'in', up: 'y' }));
    // A ball of 64 by 32 facets lies within 1 % of 4/3 pi r³.
    expect(inches / 0.0254 ** 3 / ((4 / 3) * Math.PI)).toBeGreaterThan(0.99);
    expect(inches / 0.0254 ** 3).toBeLessThan((4 / 3) * Math.PI);
  });

  it('names the line that is wrong', async () => {
    await expect(readModel([file('b.obj', 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n')], METRES)).rejects.toThrow(
      '"b.obj", line 4: the face refers to vertex 9, but there are 3',
    );
    await expect(readModel([file('b.obj', 'v 0 0 0\nv 1 x 0\nf 1 2 2\n')], METRES)).rejects.toThrow('"b.obj", line 2');
    await expect(readModel([file('b.obj', 'v 0 0 0\nf 1 1\n')], METRES)).rejects.toThrow('a face has 2 corners');
  });

  it('says what was not given', async () => {
    const model = await readModel([file('block.obj', obj)], METRES);
    expect(model.warnings.join()).toContain('"block.mtl" was not given');
  });
});
