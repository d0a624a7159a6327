/** Every type of image file, written and read back by two readers that have nothing of each other. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { writeExr } from '../../src/formats/exr/write.js';
import { encodeImage } from '../../src/formats/image/write.js';
import { card } from '../support/testCard.js';

const folder = mkdtempSync(path.join(tmpdir(), 'easel-images-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('every type, read by libvips and by ffmpeg', () => {
  const [width, height] = [64, 32];
  const values = card(width, height);
  const display = Float32Array.from(values, (v) => v / 255);
  const clear = Float32Array.from({ length: width * height * 4 }, (_, i) =>
    i % 4 === 3 ? ((i >> 2) % width) / (width - 1) : display[(i >> 2) * 3 + (i % 4)]!,
  );
  const maker = 'Cold Easel, engine 10 & <more>';
  /** Samples as ffmpeg has them; it checks the sums of the chunks too. */
  const byFfmpeg = (bytes: Buffer, ending: string, format: string): Buffer => {
    const file = path.join(folder, `read.${ending}`);
    writeFileSync(file, bytes);
    return execFileSync(
      'ffmpeg',
      [
        '-v',
        'fatal',
        ...(ending === 'png' ? ['-xerror', '-err_detect', 'crccheck+explode'] : []),
        '-i',
        file,
        '-f',
        'rawvideo',
        '-pix_fmt',
        format,
        '-',
      ],
      { maxBuffer: 2 ** 26 },
    );
  };
  const farthest = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
    Array.from(a).reduce((most, v, i) => Math.max(most, Math.abs(v - b[i]!)), 0);
  const meanOff = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
    Array.from(a).reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;
  const words = (bytes: Buffer): Uint16Array => new Uint16Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));

  it.each([
    ['PNG of 8 bits', { type: 'png', bits: 8, quality: 100 }, 'png'],
    ['TIFF of 8 bits, LZW', { type: 'tiff', bits: 8, quality: 100, tiffCompression: 'lzw' }, 'tif'],
    ['TIFF of 8 bits, uncompressed', { type: 'tiff', bits: 8, quality: 100, tiffCompression: 'none' }, 'tif'],
    ['WebP, lossless', { type: 'webp', bits: 8, quality: 100, lossless: true }, 'webp'],
  ] as const)('%s holds every value, also with alpha', async (_what, format, ending) => {
    const file = await encodeImage(display, width, height, format, maker);
    expect(farthest(await sharp(file).raw().toBuffer(), values)).toBe(0);
    expect(farthest(byFfmpeg(file, ending, 'rgb24'), values)).toBe(0);
    const bytes = Buffer.from(clear.map((v) => Math.round(v * 255)));
    const seen = byFfmpeg(await encodeImage(clear, width, height, format, maker), ending, 'rgba');
    // Colour where nothing is seen may be anything.
    for (let i = 0; i < bytes.length; i += 4) {
      expect(seen[i + 3]).toBe(bytes[i + 3]);
      if (bytes[i + 3]! > 0) expect(seen.subarray(i, i + 3).equals(bytes.subarray(i, i + 3))).toBe(true);
    }
  });

  it.each([
    ['PNG', { type: 'png', bits: 16, quality: 100 }, 'png'],
    ['TIFF, deflate', { type: 'tiff', bits: 16, quality: 100 }, 'tif'],
  ] as const)('%s of 16 bits holds every value', async (_what, format, ending) => {
    const fine = Float32Array.from({ length: width * height * 3 }, (_, i) => ((i * 7919) % 65_536) / 65_535);
    const file = await encodeImage(fine, width, height, format, maker);
    const expected = Uint16Array.from(fine, (v) => Math.round(v * 65_535));
    expect(farthest(words(await sharp(file).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer()), expected)).toBe(0);
    expect(farthest(words(byFfmpeg(file, ending, 'rgb48le')), expected)).toBe(0);
  });

  it.each([
    ['JPEG', { type: 'jpeg', bits: 8, quality: 95 }, 'jpg', 1.5],
    ['JPEG with halved colour', { type: 'jpeg', bits: 8, quality: 95, chroma: '4:2:0' }, 'jpg', 4],
    ['WebP', { type: 'webp', bits: 8, quality: 95 }, 'webp', 5],
    ['AVIF', { type: 'avif', bits: 8, quality: 95 }, null, 1.5],
  ] as const)('%s comes near, and tells what it is', async (_what, format, ending, off) => {
    const file = await encodeImage(display, width, height, format, maker);
    expect(meanOff(await sharp(file).raw().toBuffer(), values)).toBeLessThan(off);
    if (ending) expect(meanOff(byFfmpeg(file, ending, 'rgb24'), values)).toBeLessThan(off);
    if (format.type === 'jpeg') expect((await sharp(file).metadata()).chromaSubsampling).toBe('chroma' in format ? '4:2:0' : '4:4:4');
  });

  it.each(['jpeg', 'tiff', 'webp', 'avif'] as const)('%s of 8 bits says that it is sRGB, and what made it', async (type) => {
    const { icc, xmp, hasProfile } = await sharp(await encodeImage(display, width, height, { type, bits: 8, quality: 90 }, maker)).metadata();
    expect(hasProfile).toBe(true);
    // Names in profiles are of two bytes a letter (ICC.1, multiLocalizedUnicodeType).
    expect(icc!.toString('latin1').replaceAll('\0', '')).toContain('sRGB');
    expect(xmp!.toString()).toContain('xmp:CreatorTool="Cold Easel, engine 10 &#38; &#60;more&#62;"');
  });

  describe('of 300 pixels an inch', () => {
    const of = (type: 'png' | 'jpeg' | 'tiff' | 'webp' | 'avif', bits: 8 | 16 = 8) =>
      encodeImage(display, width, height, { type, bits, quality: 100, dpi: 300 }, maker);

    it.each([
      ['png', 8],
      ['png', 16],
      ['jpeg', 8],
      ['tiff', 8],
      ['tiff', 16],
    ] as const)('%s of %d bits tells libvips so, and holds the same values', async (type, bits) => {
      const [file, plain] = [await of(type, bits), await encodeImage(display, width, height, { type, bits, quality: 100 }, maker)];
      const raw = (bytes: Buffer): Promise<Buffer> => sharp(bytes).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
      expect((await sharp(file).metadata()).density).toBe(300);
      expect((await raw(file)).equals(await raw(plain))).toBe(true);
    });

    it.each([8, 16] as const)('PNG of %d bits has one chunk pHYs of pixels a metre (PNG, Third Edition, 11.3.4.3)', async (bits) => {
      const file = await of('png', bits);
      const at = file.indexOf('pHYs');
      expect([file.readUInt32BE(at + 4), file.readUInt32BE(at + 8), file.readUInt8(at + 12)]).toEqual([11_811, 11_811, 1]);
      expect(file.indexOf('pHYs', at + 1)).toBe(-1);
      expect(at).toBeLessThan(file.indexOf('IDAT'));
      // ffmpeg checks the sums of the chunks.
      expect(byFfmpeg(file, 'png', 'rgb24')).toHaveLength(width * height * 3);
    });

    it.each(['jpeg', 'webp', 'avif'] as const)('%s has it in Exif: XResolution 300/1, inches (JEITA CP-3451, tags 282 and 296)', async (type) => {
      const { exif } = await sharp(await of(type)).metadata();
      const tiff = exif!.subarray(exif!.indexOf('Exif\0\0') === 0 ? 6 : 0);
      const isLittle = tiff.toString('latin1', 0, 2) === 'II';
      const u16 = (at: number): number => (isLittle ? tiff.readUInt16LE(at) : tiff.readUInt16BE(at));
      const u32 = (at: number): number => (isLittle ? tiff.readUInt32LE(at) : tiff.readUInt32BE(at));
      const first = u32(4);
      const tags = new Map(Array.from({ length: u16(first) }, (_, i) => first + 2 + i * 12).map((at) => [u16(at), at] as const));
      const rational = u32(tags.get(282)! + 8);
      expect(u32(rational) / u32(rational + 4)).toBe(300);
      expect(u16(tags.get(296)! + 8)).toBe(2);
    });

    it('OpenEXR has it in its attribute xDensity (OpenEXR, standard optional attributes)', () => {
      const channels = [{ name: 'Y', type: 'half' as const, data: new Float32Array(8) }];
      const file = writeExr({ width: 4, height: 2, dpi: 300, channels });
      const at = file.indexOf('xDensity\0float\0');
      expect([file.readInt32LE(at + 15), file.readFloatLE(at + 19)]).toEqual([4, 300]);
      expect(writeExr({ width: 4, height: 2, channels }).indexOf('xDensity')).toBe(-1);
    });
  });

  it.each([8, 16] as const)('PNG of %d bits says so by its chunk sRGB, before the pixels', async (bits) => {
    const file = await encodeImage(display, width, height, { type: 'png', bits, quality: 100 }, maker);
    const chunks: string[] = [];
    for (let at = 8; at < file.length; at += 12 + file.readUInt32BE(at)) chunks.push(file.toString('latin1', at + 4, at + 8));
    expect(chunks.indexOf('sRGB')).toBe(1);
    expect(chunks.indexOf('IDAT')).toBeGreaterThan(1);
    // Beside it, a profile would be a second word on the same (PNG, Third Edition, 11.3.2.5).
    expect(chunks).not.toContain('iCCP');
    expect((await sharp(file).metadata()).xmp!.toString()).toContain('Cold Easel, engine 10');
  });
});
