/** Types that hold numbers, and BMP, each written and read back by two readers that have nothing of each other. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { decode as decodeBmp } from 'fast-bmp';
import sharp from 'sharp';
import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { HDRLoader } from 'three/examples/jsm/loaders/HDRLoader.js';
import { decode as decodeTiff } from 'tiff';
import { afterAll, describe, expect, it } from 'vitest';
import { joinExr, readExr } from '../../src/formats/exr/read.js';
import { writeExr, writeExrParts } from '../../src/formats/exr/write.js';
import { writeFloatTiff } from '../../src/formats/image/floatTiff.js';
import { readRadianceSize, writeRadiance } from '../../src/formats/image/radiance.js';
import { encodeImage } from '../../src/formats/image/write.js';
import { card } from '../support/testCard.js';

const parseHdr = createRequire(import.meta.url)('parse-hdr') as (bytes: Buffer) => { shape: [number, number]; data: Float32Array };
const folder = mkdtempSync(path.join(tmpdir(), 'easel-linear-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const [width, height] = [61, 23];
const pixels = width * height;
/** Light from nothing over nearly nothing to what is far beyond white, with even stretches. */
const light = Float32Array.from({ length: pixels * 3 }, (_, i) => {
  const [x, y, c] = [Math.floor(i / 3) % width, Math.floor(i / 3 / width), i % 3];
  if (y === 0) return 0;
  if (y === 1) return 0.25 * (c + 1);
  return 2 ** ((x - 20) / 3) * (c === 1 ? 0.37 : c === 2 ? (x % 5) / 5 : 1);
});
const buffer = (bytes: Buffer): ArrayBuffer => bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer;
const byFfmpeg = (bytes: Buffer, ending: string, format: string, options: string[] = []): Buffer => {
  const file = path.join(folder, `read.${ending}`);
  writeFileSync(file, bytes);
  return execFileSync('ffmpeg', ['-v', 'fatal', ...options, '-i', file, '-f', 'rawvideo', '-pix_fmt', format, '-'], { maxBuffer: 2 ** 26 });
};

describe('TIFF of floats', () => {
  it.each([
    [3, 'none'],
    [3, 'deflate'],
    [1, 'deflate'],
    [4, 'deflate'],
  ] as const)('of %i channels, compression %s, holds every bit', async (channels, compression) => {
    const values = Float32Array.from({ length: pixels * channels }, (_, i) => light[i % light.length]! - 0.5);
    const bytes = writeFloatTiff({ width, height, channels, values, compression, dpi: 300, maker: 'Cold Easel' });
    const [image] = decodeTiff(bytes);
    expect([image!.width, image!.height, image!.samplesPerPixel, image!.bitsPerSample]).toEqual([width, height, channels, 32]);
    expect(Array.from(image!.data)).toEqual(Array.from(values));
    expect([image!.xResolution, image!.resolutionUnit]).toEqual([300, 2]);
    // Alpha that colours are not multiplied by (TIFF 6.0, section 18: ExtraSamples 2).
    expect(image!.get('ExtraSamples')).toEqual(channels === 4 ? 2 : undefined);
    const seen = await sharp(bytes).metadata();
    expect([seen.width, seen.height, seen.channels, seen.depth, seen.hasAlpha]).toEqual([width, height, channels, 'float', channels === 4]);
    if (channels !== 3) return;
    const { data: raw } = await sharp(bytes)
      .pipelineColourspace('scrgb')
      .toColourspace('scrgb')
      .raw({ depth: 'float' })
      .toBuffer({ resolveWithObject: true });
    expect(Array.from(new Float32Array(buffer(raw)))).toEqual(Array.from(values));
  });

  it('is refused where its numbers are not of its size', () => {
    expect(() => writeFloatTiff({ width: 4, height: 4, channels: 3, values: new Float32Array(4) })).toThrow('4 values are not 4 × 4 × 3');
  });
});

describe('Radiance HDR', () => {
  const bytes = writeRadiance(light, width, height, 'Cold Easel', 2);
  // A component is its mantissa / 256 times two to its exponent less 128; both readers divide by 255.
  const THEIRS = 255 / 256;
  // Half a step of the largest component's mantissa, of which it takes at least 128.
  const tolerance = (i: number): number => Math.max(light[i - (i % 3)]!, light[i - (i % 3) + 1]!, light[i - (i % 3) + 2]!) / 255 + 1e-30;

  it('is read by three.js within half a step of its mantissa', () => {
    const { width: w, height: h, data } = new HDRLoader().setDataType(FloatType).parse(buffer(bytes));
    expect([w, h]).toEqual([width, height]);
    const far = Array.from(light).filter(
      (v, i) => !(Math.abs((data as Float32Array)[Math.floor(i / 3) * 4 + (i % 3)]! * THEIRS - v) <= tolerance(i)),
    );
    expect(far).toEqual([]);
  });

  it('is read by parse-hdr alike', () => {
    const { shape, data } = parseHdr(bytes);
    expect(shape).toEqual([width, height]);
    const far = Array.from(light).filter((v, i) => !(Math.abs(data[Math.floor(i / 3) * 4 + (i % 3)]! * THEIRS - v) <= tolerance(i)));
    expect(far).toEqual([]);
  });

  it('tells its primaries and the shape of its pixels, and a torn one is found', () => {
    const head = bytes.toString('latin1', 0, bytes.indexOf('\n\n'));
    expect(head.split('\n')).toEqual([
      '#?RADIANCE',
      'SOFTWARE=Cold Easel',
      'PRIMARIES=0.640 0.330 0.300 0.600 0.150 0.060 0.3127 0.3290',
      'PIXASPECT=0.5',
      'FORMAT=32-bit_rle_rgbe',
    ]);
    expect(readRadianceSize(bytes)).toEqual({ width, height });
    expect(() => readRadianceSize(bytes.subarray(0, bytes.length - 3))).toThrow('torn');
    expect(() => readRadianceSize(Buffer.from('nothing'))).toThrow('no Radiance HDR file');
    expect(() => writeRadiance(light, 4, 4)).toThrow('8 to 32 767');
  });
});

describe('OpenEXR in parts and in files', () => {
  const plane = (c: number): Float32Array => Float32Array.from({ length: pixels }, (_, i) => light[i * 3 + c]!);
  const colour = ['R', 'G', 'B'].map((name, c) => ({ name, type: 'float' as const, data: plane(c) }));
  const depth = [{ name: 'depth.Z', type: 'float' as const, data: plane(0).map((v) => v + 1) }];
  const parts = [
    { name: 'beauty', width, height, channels: colour, texts: { software: 'Cold Easel' } },
    { name: 'depth', width, height, channels: depth },
  ];
  const bytes = writeExrParts(parts);

  it('a part is read by three.js', () => {
    const { width: w, height: h, data } = new EXRLoader().setDataType(FloatType).parse(buffer(bytes));
    expect([w, h]).toEqual([width, height]);
    // three.js has rows from the bottom.
    const at = (i: number): number => ((height - 1 - Math.floor(i / width)) * width + (i % width)) * 4;
    for (let i = 0; i < pixels; i++) expect((data as Float32Array)[at(i)]).toBe(light[i * 3]);
  });

  it('a part is read by ffmpeg', () => {
    const seen = new Float32Array(buffer(byFfmpeg(bytes, 'exr', 'gbrpf32le', ['-part', '0'])));
    // Planes of green, blue and red.
    for (let i = 0; i < pixels; i++) expect([seen[i + 2 * pixels], seen[i]]).toEqual([light[i * 3], light[i * 3 + 1]]);
  });

  it('are read back whole, as are files a pass', () => {
    const all = { R: colour[0]!.data, G: colour[1]!.data, B: colour[2]!.data, 'depth.Z': depth[0]!.data };
    const files = [writeExr({ width, height, channels: colour }), writeExr({ width, height, channels: depth })];
    for (const read of [readExr(bytes), joinExr(files.map(readExr))]) {
      expect([read.width, read.height, [...read.channels.keys()].sort()]).toEqual([width, height, Object.keys(all).sort()]);
      for (const [name, data] of Object.entries(all))
        expect(Buffer.from(read.channels.get(name)!.buffer).equals(Buffer.from(data.buffer))).toBe(true);
    }
    expect(readExr(bytes).texts).toEqual({ software: 'Cold Easel' });
    expect(() => joinExr([])).toThrow('damaged');
  });
});

describe('BMP', () => {
  const values = card(width, height);
  const display = Float32Array.from(values, (v) => v / 255);
  const format = { type: 'bmp', bits: 8, quality: 100, dpi: 300 } as const;

  it('is read by ffmpeg and by fast-bmp, tells its density and sRGB', async () => {
    const bytes = await encodeImage(display, width, height, format);
    expect(byFfmpeg(bytes, 'bmp', 'rgb24').equals(Buffer.from(values))).toBe(true);
    const read = decodeBmp(bytes);
    expect([read.width, read.height, read.channels, read.xPixelsPerMeter]).toEqual([width, height, 3, 11_811]);
    expect(Array.from(read.data as Uint8Array)).toEqual(Array.from(values));
    // LCS_sRGB of the header's version 5 (BITMAPV5HEADER, bV5CSType).
    expect([bytes.readUInt32LE(14), bytes.readUInt32LE(14 + 56)]).toEqual([124, 0x73524742]);
  });

  it('has alpha that colours are not multiplied by', async () => {
    const clear = Float32Array.from({ length: pixels * 4 }, (_, i) =>
      i % 4 === 3 ? ((i >> 2) % width) / (width - 1) : display[(i >> 2) * 3 + (i % 4)]!,
    );
    const expected = Buffer.from(clear.map((v) => Math.round(v * 255)));
    const bytes = await encodeImage(clear, width, height, format);
    expect(byFfmpeg(bytes, 'bmp', 'rgba').equals(expected)).toBe(true);
    expect(Array.from(decodeBmp(bytes).data as Uint8Array)).toEqual(Array.from(expected));
  });
});
