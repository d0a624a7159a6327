/**
 * Pictures of MTL files: what each is of, and the types that come beside a model. Expected colours are those of the picture that
 * ffmpeg wrote as PNG, which libvips reads; BMP and TGA of the same picture are read by other code.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import type { Model, Texture } from '../../src/core/model/model.js';
import { findFfmpeg } from '../../src/engine/node/ffmpeg.js';
import { decodeTexture } from '../../src/formats/image/texture.js';
import { readModel } from '../../src/formats/formats.js';

const text = (s: string): Uint8Array => new TextEncoder().encode(s);
const OBJ = 'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 1 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nusemtl M\nf 1/1 2/2 3/3\n';

function dressed(mtl: string, beside: Record<string, Uint8Array>): Promise<Model> {
  const files = { 'a.obj': text(OBJ), 'a.mtl': text(`newmtl M\nKd 0.5 0.5 0.5\n${mtl}\n`), ...beside };
  return readModel(
    Object.entries(files).map(([name, bytes]) => ({ name, bytes })),
    { unit: 'm', up: 'y' },
  );
}

/** A PNG of one value a pixel, grey or RGB. */
async function png(width: number, height: number, value: (x: number, y: number) => number[]): Promise<Uint8Array> {
  const rows = Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width)));
  const channels = rows[0]!.length as 1 | 3 | 4;
  return new Uint8Array(await sharp(Uint8Array.from(rows.flat()), { raw: { width, height, channels } }).png().toBuffer());
}
const pixel = ({ pixels, width }: Texture, x: number, y: number): number[] => [...pixels.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)];
const textureOf = (model: Model, slot: 'base' | 'normal' | 'metalRough'): Texture => model.textures[model.materials[0]!.textures![slot]!.texture]!;

describe('maps of an MTL', () => {
  it('roughness and metalness become one texture: green and blue, as glTF has them', async () => {
    const model = await dressed('map_Pr r.png\nmap_Pm m.png', {
      'r.png': await png(4, 4, () => [100]),
      'm.png': await png(2, 2, (x) => [x === 0 ? 0 : 200]),
    });
    expect(model.warnings).toEqual([]);
    expect(model.textures.length).toBe(1);
    const both = textureOf(model, 'metalRough');
    expect([both.width, both.height]).toEqual([4, 4]);
    expect(pixel(both, 0, 0).slice(1, 3)).toEqual([100, 0]);
    expect(pixel(both, 3, 3).slice(1, 3)).toEqual([100, 200]);
    expect(model.materials[0]).toMatchObject({ roughness: 1, metalness: 1 });
    // Metalness alone leaves the roughness to its number.
    const alone = await dressed('Pr 0.3\nmap_Pm m.png', { 'm.png': await png(2, 2, () => [255]) });
    expect(alone.materials[0]).toMatchObject({ roughness: 0.3, metalness: 1 });
    expect(pixel(textureOf(alone, 'metalRough'), 1, 1)[1]).toBe(255);
  });

  it('a cutout is the alpha of the colour, or of plain white', async () => {
    const leaf = { 'c.png': await png(2, 2, () => [10, 200, 30]), 'd.png': await png(2, 2, (x) => [x === 0 ? 0 : 255]) };
    const model = await dressed('map_Kd c.png\nmap_d d.png', leaf);
    expect([pixel(textureOf(model, 'base'), 0, 1), pixel(textureOf(model, 'base'), 1, 1)]).toEqual([
      [10, 200, 30, 0],
      [10, 200, 30, 255],
    ]);
    expect([model.materials[0]!.alphaMode, model.textures.length, model.warnings]).toEqual(['blend', 1, []]);
    const plain = await dressed('map_d d.png', leaf);
    expect(pixel(textureOf(plain, 'base'), 0, 0)).toEqual([255, 255, 255, 0]);
    // Where the picture has alpha of its own, that is meant.
    const own = await dressed('map_d d.png', { 'd.png': await png(2, 2, (x) => [255, 255, 255, x === 0 ? 60 : 255]) });
    expect(pixel(textureOf(own, 'base'), 0, 0)[3]).toBe(60);
    const laid = await dressed('map_Kd -s 2 2 c.png\nmap_d d.png', leaf);
    expect(laid.warnings).toEqual(['Textures of the material "M" are combined; the placement of the first is used for all.']);
  });

  it('heights become normals that lean away from what rises; a picture of normals is taken as it is', async () => {
    // A ramp that rises to the right by a hundredth of the width over it, at strength 1: a slope of 1 in 100; at 50, of 1 in 2.
    const ramp = await png(64, 4, (x) => [Math.round((x * 255) / 64)]);
    const at = async (strength: number): Promise<number[]> =>
      pixel(textureOf(await dressed(`map_Bump -bm ${strength} b.png`, { 'b.png': ramp }), 'normal'), 30, 2).map((v) => v / 127.5 - 1);
    const [x, y, z] = await at(50);
    expect(-x! / z!).toBeCloseTo(0.5, 1);
    expect(Math.abs(y!)).toBeLessThan(0.01);
    expect(Math.abs((await at(1))[0]!)).toBeLessThan(0.02);
    // Rising towards the top of the picture: green says up, so the normal leans down.
    const upwards = await dressed('bump -bm 50 b.png', { 'b.png': await png(64, 64, (_x, row) => [Math.round(((63 - row) * 255) / 64)]) });
    expect(pixel(textureOf(upwards, 'normal'), 2, 30)[1]).toBeLessThan(100);
    const blue = await png(2, 2, (col) => [col === 0 ? 118 : 138, 128, 250]);
    const given = await dressed('map_Bump n.png', { 'n.png': blue });
    expect(pixel(textureOf(given, 'normal'), 0, 0)).toEqual([118, 128, 250, 255]);
  });
});

describe('types of pictures beside a model', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'easel-pictures-'));
  afterAll(() => rmSync(folder, { recursive: true }));
  const written = (name: string, ...more: string[]): Uint8Array => {
    const file = path.join(folder, name);
    execFileSync(findFfmpeg(), ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=size=20x10', '-frames:v', '1', ...more, file]);
    return new Uint8Array(readFileSync(file));
  };

  it.each([
    ['a.bmp', []],
    ['alpha.bmp', ['-pix_fmt', 'bgra']],
    ['a.tga', []],
    ['plain.tga', ['-rle', '0']],
    ['a.tif', []],
    ['b.tiff', ['-pix_fmt', 'rgb48be']],
  ])('%s is what the PNG is', async (name, more) => {
    const [got, png] = [await decodeTexture(name, written(name, ...more)), await decodeTexture('a.png', written('a.png'))];
    expect([got.width, got.height]).toEqual([20, 10]);
    // Sixteen bits are rounded to eight.
    expect(Math.max(...got.pixels.map((v, i) => Math.abs(v - png.pixels[i]!)))).toBeLessThanOrEqual(name === 'b.tiff' ? 1 : 0);
  });

  it('a BMP of a palette has its colours', async () => {
    const [got, png] = [await decodeTexture('p.bmp', written('p.bmp', '-pix_fmt', 'pal8')), await decodeTexture('a.png', written('a.png'))];
    // A palette of ffmpeg's own rounds colours.
    const off = got.pixels.map((v, i) => Math.abs(v - png.pixels[i]!));
    expect(off.reduce((s, v) => s + v, 0) / off.length).toBeLessThan(6);
    expect(got.pixels.filter((_, i) => i % 4 === 3).every((v) => v === 255)).toBe(true);
  });

  it('that are damaged, too large or of another kind are refused by name', async () => {
    const bmp = written('a.bmp');
    const large = Uint8Array.from(bmp);
    new DataView(large.buffer).setInt32(18, 1_000_000, true);
    const empty = Uint8Array.from(bmp);
    new DataView(empty.buffer).setInt32(18, 0, true);
    const tga = written('a.tga');
    for (const [name, bytes] of [
      ['cut.bmp', bmp.subarray(0, 100)],
      ['large.bmp', large],
      ['empty.bmp', empty],
      ['cut.tga', tga.subarray(0, 40)],
      ['notes.txt', tga],
      ['cut.tif', written('a.tif').subarray(0, 60)],
    ] as const)
      await expect(decodeTexture(name, bytes), name).rejects.toThrow(
        `The texture "${name}" cannot be read; it must be PNG, JPEG, WebP, TIFF, BMP, TGA or KTX2 (Basis)`,
      );
  });
});
