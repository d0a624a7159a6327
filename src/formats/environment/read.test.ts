import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { writeExr } from '../exr/write.js';
import { writeFloatTiff } from '../image/floatTiff.js';
import { radiance } from '../../../tests/support/radiance.js';
import { ModelError } from '../format.js';
import { readEnvironmentMap } from './read.js';

const shade = (x: number, y: number): [number, number, number] => [1 + x, 0.5, y === 0 ? 8 : 0.25];

/** An OpenEXR header alone, which declares a size: eleven bytes, and four kilobytes, were enough to stop a server. */
function declaring(width: number, height: number): Uint8Array {
  const out: number[] = [0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0];
  const int = (n: number): number[] => [n & 255, (n >> 8) & 255, (n >> 16) & 255, (n >> 24) & 255];
  const text = (t: string): void => void out.push(...new TextEncoder().encode(t), 0);
  const attribute = (name: string, type: string, value: number[]): void => {
    text(name);
    text(type);
    out.push(...int(value.length), ...value);
  };
  attribute('channels', 'chlist', [0]);
  attribute('compression', 'compression', [3]);
  attribute('dataWindow', 'box2i', [0, 0, width - 1, height - 1].flatMap(int));
  out.push(0);
  return Uint8Array.from([...out, ...new Array<number>(4000).fill(0)]);
}

describe('pictures of light', () => {
  it('are read from Radiance, the zenith first', async () => {
    const { width, height, texels } = await readEnvironmentMap('sky.hdr', radiance(8, 4, shade));
    expect([width, height]).toEqual([8, 4]);
    for (let i = 0; i < 32; i++) {
      const want = shade(i % 8, Math.floor(i / 8));
      // A shared exponent leaves eight bits beside the brightest channel.
      for (let c = 0; c < 3; c++) expect(Math.abs(texels[i * 3 + c]! - want[c]!)).toBeLessThanOrEqual(Math.max(...want) / 128);
    }
  });

  it('are as bright as Radiance says: powers of two come back exactly', async () => {
    const { texels } = await readEnvironmentMap(
      'sky.hdr',
      radiance(8, 4, () => [1, 0.5, 4]),
    );
    for (let i = 0; i < 32; i++) expect([...texels.subarray(3 * i, 3 * i + 3)].map((v) => Number(v.toPrecision(6)))).toEqual([1, 0.5, 4]);
  });

  it('are read from OpenEXR, the zenith first', async () => {
    const plane = (c: number): Float32Array => Float32Array.from({ length: 32 }, (_, i) => shade(i % 8, Math.floor(i / 8))[c]!);
    const bytes = writeExr({ width: 8, height: 4, channels: ['R', 'G', 'B'].map((name, c) => ({ name, type: 'float', data: plane(c) })) });
    const { texels } = await readEnvironmentMap('sky.exr', new Uint8Array(bytes));
    for (let i = 0; i < 32; i++) expect(Array.from(texels.subarray(i * 3, i * 3 + 3))).toEqual(shade(i % 8, Math.floor(i / 8)));
  });

  it('are read from portable float maps of either order, rows from the bottom up', async () => {
    for (const little of [true, false]) {
      const head = new TextEncoder().encode(`PF\n8 4\n${little ? '-1.0' : '1.0'}\n`);
      const bytes = new Uint8Array(head.length + 8 * 4 * 12);
      bytes.set(head);
      const view = new DataView(bytes.buffer, head.length);
      for (let i = 0; i < 32; i++) shade(i % 8, 3 - Math.floor(i / 8)).forEach((v, c) => view.setFloat32((i * 3 + c) * 4, v, little));
      const { width, height, texels } = await readEnvironmentMap('sky.pfm', bytes);
      expect([width, height]).toEqual([8, 4]);
      for (let i = 0; i < 32; i++) expect(Array.from(texels.subarray(i * 3, i * 3 + 3))).toEqual(shade(i % 8, Math.floor(i / 8)));
      await expect(readEnvironmentMap('sky.pfm', bytes.subarray(0, 100))).rejects.toThrow('"sky.pfm" is cut short');
    }
  });

  it('are read from TIFF of floats, packed or not, also with alpha', async () => {
    for (const [channels, compression] of [
      [3, 'none'],
      [3, 'deflate'],
      [4, 'deflate'],
    ] as const) {
      const values = Float32Array.from({ length: 32 * channels }, (_, i) => {
        const p = Math.floor(i / channels);
        return shade(p % 8, Math.floor(p / 8))[i % channels] ?? 1;
      });
      const bytes = writeFloatTiff({ width: 8, height: 4, channels, values, compression, maker: 'test' });
      const { texels } = await readEnvironmentMap('sky.tif', new Uint8Array(bytes));
      for (let i = 0; i < 32; i++) expect(Array.from(texels.subarray(i * 3, i * 3 + 3))).toEqual(shade(i % 8, Math.floor(i / 8)));
      await expect(readEnvironmentMap('sky.tiff', new Uint8Array(bytes.subarray(0, 40)))).rejects.toThrow(/"sky\.tiff" cannot be read as TIFF/);
    }
    const display = await sharp({ create: { width: 8, height: 4, channels: 3, background: '#fff' } })
      .tiff()
      .toBuffer();
    await expect(readEnvironmentMap('sky.tif', new Uint8Array(display))).rejects.toThrow('"sky.tif" holds display values, and no light.');
  });

  it('are averaged down where they are larger than light needs', async () => {
    const { width, height, texels } = await readEnvironmentMap(
      'sky.hdr',
      radiance(4098, 2049, (x) => [x % 2 ? 1 : 3, 1, 1]),
    );
    expect([width, height]).toEqual([2049, 1024]);
    expect(texels[0]).toBeCloseTo(2, 1);
  }, 30_000);

  it('are refused with what is wrong and what to do', async () => {
    const wrong: [string, Uint8Array, RegExp][] = [
      ['sky.hdr', new Uint8Array(0), /empty/],
      ['sky.hdr', new TextEncoder().encode('no picture at all'), /cannot be read as Radiance HDR/],
      ['sky.exr', Uint8Array.from([0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0, 0, 1, 2]), /does not say its size/],
      ['sky.exr', Uint8Array.from([0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0, 65, 66, 67]), /cut short/],
      ['sky.exr', declaring(32767, 16384), /32767 × 16384; 8192 × 4096 is the most/],
      ['sky.hdr', new TextEncoder().encode('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 16384 +X 32768\n'), /32768 × 16384; 8192 × 4096/],
      ['sky.exr', new Uint8Array(40), /cannot be read as OpenEXR/],
      ['sky.exr', radiance(8, 4, shade), /cannot be read as OpenEXR/],
      ['sky.hdr', radiance(8, 4, shade).subarray(0, 80), /cannot be read|no red/],
      ['sky.hdr', radiance(8, 8, shade), /8 × 8; an equirectangular image is twice as wide as high/],
      ['sky.pfm', radiance(8, 4, shade), /cannot be read as a portable float map/],
      ['sky.tif', radiance(8, 4, shade), /cannot be read as TIFF/],
      ['sky.png', radiance(8, 4, shade), /upload a \.hdr, \.exr, \.pfm or \.tif/],
    ];
    for (const [name, bytes, says] of wrong) {
      const refused = readEnvironmentMap(name, bytes);
      await expect(refused).rejects.toThrow(ModelError);
      await expect(refused).rejects.toThrow(says);
    }
  });
});
