/** A model with more texels than can be worked with is read within its memory, and says what was reduced. */
import { Document, WebIO } from '@gltf-transform/core';
import sharp from 'sharp';
import { expect, it } from 'vitest';
import { importModel } from '../../src/engine/node/importModel.js';
import { MAX_TEXELS } from '../../src/formats/budget.js';

const SIDE = 8192;
const COUNT = 6;

it('six textures of 8192 × 8192 are reduced to what fits, each told by name', async () => {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene('Scene');
  const vec3 = (values: number[]) => document.createAccessor().setType('VEC3').setArray(Float32Array.from(values)).setBuffer(buffer);
  const position = vec3([0, 0, 0, 1, 0, 0, 0, 1, 0]);
  const uv = document
    .createAccessor()
    .setType('VEC2')
    .setArray(Float32Array.from([0, 0, 1, 0, 0, 1]))
    .setBuffer(buffer);
  const image = await sharp({ create: { width: SIDE, height: SIDE, channels: 3, background: { r: 20, g: 80, b: 160 } } })
    .png({ compressionLevel: 1 })
    .toBuffer();
  for (let i = 0; i < COUNT; i++) {
    const texture = document.createTexture(`Plate ${i}`).setImage(new Uint8Array(image)).setMimeType('image/png');
    const material = document.createMaterial(`Material ${i}`).setBaseColorTexture(texture);
    const primitive = document.createPrimitive().setAttribute('POSITION', position).setAttribute('TEXCOORD_0', uv).setMaterial(material);
    scene.addChild(
      document
        .createNode(`Plate ${i}`)
        .setTranslation([2 * i, 0, 0])
        .setMesh(document.createMesh().addPrimitive(primitive)),
    );
  }
  const { summary } = await importModel([{ name: 'plates.glb', bytes: await new WebIO().writeBinary(document) }], { unit: 'm', up: 'y' });
  expect(summary.textures).toBe(COUNT);
  const reduced = summary.warnings.flatMap((w) => /"(.*)" is 8192 × 8192 and is reduced to (\d+) × (\d+)/.exec(w)?.slice(1) ?? []);
  expect(reduced.length).toBeGreaterThan(0);
  const sizes = [...summary.warnings.join('\n').matchAll(/reduced to (\d+) × (\d+)/g)].map((m) => Number(m[1]) * Number(m[2]));
  const whole = COUNT - sizes.length;
  expect(whole * SIDE * SIDE + sizes.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(MAX_TEXELS);
}, 300_000);
