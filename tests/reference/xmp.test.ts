/** What image files tell of how they were made: read back by libvips and, of TIFF, by a reader that has nothing of it. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Window } from 'happy-dom';
import sharp from 'sharp';
import { decode } from 'tiff';
import { afterAll, describe, expect, it } from 'vitest';
import { copyTelling } from '../../src/engine/node/tellInFile.js';
import { writeFloatTiff } from '../../src/formats/image/floatTiff.js';
import { encodeImage } from '../../src/formats/image/write.js';
import { type RenderFacts, XMP_BYTES, xmpPacket } from '../../src/formats/image/xmp.js';
import { card } from '../support/testCard.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-xmp-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const maker = 'Cold Easel, engine 12 & <more>';
const facts: RenderFacts = {
  project: 'Northmere & "Sons" <1>',
  set: 'Höhe',
  shot: 'Quay corner',
  view: 'Bench',
  revision: 'B',
  model: 'ab'.repeat(32),
  frame: 12,
  pass: 'beauty',
  identity: 'cd'.repeat(32),
  samples: 64,
  sun: '2026-06-21 15:30, 250.1° from north, 38.2° high',
};
const NAMESPACE = 'urn:cold-easel:render';

/** Attributes of the description in a packet, by an XML reader. */
function told(packet: string): Record<string, string> {
  const { DOMParser } = new Window();
  const parsed = new DOMParser().parseFromString(packet.replace(/<\?xpacket[^>]*\?>/g, '').trim(), 'text/xml');
  const description = [...parsed.getElementsByTagName('*')].find((e) => e.tagName === 'rdf:Description')!;
  return Object.fromEntries([...description.attributes].map((a) => [a.name, a.value ?? '']));
}

const [width, height] = [64, 32];
const display = Float32Array.from(card(width, height), (v) => v / 255);
const TYPES = [
  ['png 8', { type: 'png', bits: 8, quality: 100 }],
  ['png 16', { type: 'png', bits: 16, quality: 100 }],
  ['png 16 of 300 pixels an inch', { type: 'png', bits: 16, quality: 100, dpi: 300 }],
  ['jpeg', { type: 'jpeg', bits: 8, quality: 90 }],
  ['tiff 8', { type: 'tiff', bits: 8, quality: 100 }],
  ['tiff 16', { type: 'tiff', bits: 16, quality: 100 }],
  ['webp', { type: 'webp', bits: 8, quality: 90 }],
  ['avif', { type: 'avif', bits: 8, quality: 90 }],
] as const;

describe('a copy that tells', () => {
  const pixels = (file: Buffer): Promise<Buffer> => sharp(file).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();

  it.each(TYPES)('%s has the frame’s facts, the same length and the same pixels', async (name, format) => {
    const file = await encodeImage(display, width, height, format, maker);
    const [from, to] = [path.join(folder, `${name}.from`), path.join(folder, name, 'to')];
    writeFileSync(from, file);
    expect(await copyTelling(from, to, facts)).toBe(true);
    const copy = readFileSync(to);
    expect(copy.length).toBe(file.length);
    expect((await pixels(copy)).equals(await pixels(file))).toBe(true);
    expect(readFileSync(from).equals(file)).toBe(true);
    const { xmp } = await sharp(copy).metadata();
    expect(told(xmp!.toString())).toMatchObject({
      'xmp:CreatorTool': maker,
      'dc:identifier': facts.identity,
      'dc:source': `sha256:${facts.model}`,
      'xmlns:render': NAMESPACE,
      'render:project': facts.project,
      'render:set': 'Höhe',
      'render:shot': 'Quay corner',
      'render:view': 'Bench',
      'render:revision': 'B',
      'render:frame': '12',
      'render:pass': 'beauty',
      'render:samples': '64',
      'render:sun': facts.sun,
    });
    // The file itself names its maker alone.
    expect(Object.keys(told((await sharp(file).metadata()).xmp!.toString())).filter((k) => k.startsWith('render:') || k.startsWith('dc:'))).toEqual(
      [],
    );
    // It sums every chunk of a PNG.
    if (format.type === 'png')
      expect(
        execFileSync('ffmpeg', [
          '-v',
          'error',
          '-xerror',
          '-err_detect',
          'crccheck+explode',
          '-f',
          'png_pipe',
          '-i',
          to,
          '-f',
          'null',
          '-',
        ]).toString(),
      ).toBe('');
    if (format.type === 'tiff') {
      const [image] = decode(copy);
      expect(told(Buffer.from(image!.fields.get(700) as number[]).toString())['dc:identifier']).toBe(facts.identity);
    }
  });

  it('TIFF of floats has them by another reader', async () => {
    const values = Float32Array.from({ length: width * height * 3 }, (_, i) => i / 7);
    const [from, to] = [path.join(folder, 'float.from'), path.join(folder, 'float.tif')];
    writeFileSync(from, writeFloatTiff({ width, height, channels: 3, values, maker }));
    expect(await copyTelling(from, to, facts)).toBe(true);
    const [image] = decode(readFileSync(to));
    expect(told(Buffer.from(image!.fields.get(700) as number[]).toString())).toMatchObject({ 'dc:identifier': facts.identity });
    expect(image!.data).toEqual(values);
  });

  it('is not made where a file has no place for it', async () => {
    const file = await encodeImage(display, width, height, { type: 'bmp', bits: 8, quality: 100 }, maker);
    const [from, to] = [path.join(folder, 'bmp.from'), path.join(folder, 'to.bmp')];
    writeFileSync(from, file);
    expect(await copyTelling(from, to, facts)).toBe(false);
    expect(existsSync(to)).toBe(false);
  });

  it('finds the packet behind large pixels, and where it lies over the end of what is read at once', async () => {
    const packet = xmpPacket(maker);
    for (const before of [2 ** 20 - 20, 2 ** 20, 3 * 2 ** 20 + 1]) {
      const [from, to] = [path.join(folder, 'far.from'), path.join(folder, 'far.to')];
      writeFileSync(from, Buffer.concat([Buffer.alloc(before, 1), packet, Buffer.alloc(100, 2)]));
      expect(await copyTelling(from, to, facts)).toBe(true);
      expect(statSync(to).size).toBe(before + XMP_BYTES + 100);
      expect(
        readFileSync(to)
          .subarray(before, before + XMP_BYTES)
          .equals(xmpPacket(maker, facts)),
      ).toBe(true);
      expect(readFileSync(to).subarray(-100).equals(Buffer.alloc(100, 2))).toBe(true);
    }
  });
});

describe('a packet', () => {
  it.each([
    ['no facts', undefined],
    ['short names', facts],
    [
      'names of 80 letters of four bytes',
      { ...facts, project: '𝔸'.repeat(80), set: '𝔹'.repeat(80), shot: 'ℂ'.repeat(80), view: '𝔻'.repeat(80), variant: '𝔼'.repeat(80) },
    ],
    ['control characters', { ...facts, shot: 'a\u0000b\u001bc\n' }],
  ])('of %s has its one length and is well formed', (_what, of) => {
    const packet = xmpPacket(maker, of);
    expect(packet.length).toBe(XMP_BYTES);
    expect(packet.toString()).not.toContain('\uFFFD');
    expect(told(packet.toString())).toMatchObject({ 'xmp:CreatorTool': maker, ...(of && { 'dc:identifier': facts.identity }) });
  });

  it('shortens names only where they do not fit', () => {
    expect(told(xmpPacket(maker, facts).toString())['render:shot']).toBe('Quay corner');
    const long = { ...facts, project: '𝔸'.repeat(200), set: '𝔹'.repeat(200) };
    expect(told(xmpPacket(maker, long).toString())['render:project']).toBe(`${'𝔸'.repeat(31)}…`);
  });
});
