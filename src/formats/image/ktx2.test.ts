import { describe, expect, it } from 'vitest';
import { KTX2_SAMPLES, ktx2Pixel } from '../../../tests/support/ktx2Samples.js';
import { decodeTexture, textureSize } from './texture.js';

const bytesOf = (sample: keyof typeof KTX2_SAMPLES): Uint8Array => new Uint8Array(Buffer.from(KTX2_SAMPLES[sample], 'base64'));

describe('a KTX2 texture', () => {
  // UASTC has eight bits a pixel; ETC1S less than half of that, with four pixels a colour that differ in brightness alone.
  it.each([
    ['ETC1S', 12],
    ['UASTC', 2],
    ['UASTC, packed by Zstandard', 2],
  ] as const)('of %s has the values that were encoded, nearly', async (sample, most) => {
    const bytes = bytesOf(sample);
    expect(await textureSize('a.ktx2', bytes)).toEqual({ width: 16, height: 12 });
    const { width, height, pixels } = await decodeTexture('a.ktx2', bytes);
    expect([width, height, pixels.length]).toEqual([16, 12, 16 * 12 * 4]);
    const off = [0, 0, 0, 0];
    for (let y = 0; y < 12; y++)
      for (let x = 0; x < 16; x++) ktx2Pixel(x, y).forEach((v, c) => (off[c]! += Math.abs(v - pixels[(y * 16 + x) * 4 + c]!) / (16 * 12)));
    expect(Math.max(...off.slice(0, 3))).toBeLessThan(2 * most);
    expect(off.reduce((a, b) => a + b) / 4).toBeLessThan(most);
    // Alpha is a plane of its own.
    expect(off[3]).toBeLessThan(2);
  });

  it.each(Object.keys(KTX2_SAMPLES) as (keyof typeof KTX2_SAMPLES)[])(
    'of %s that is cut short is refused by name, and the next is read',
    async (sample) => {
      const bytes = bytesOf(sample);
      for (const length of [40, 90, bytes.length - 60])
        await expect(decodeTexture('torn', bytes.slice(0, length))).rejects.toThrow('The texture "torn" cannot be read; it must be PNG');
      expect((await decodeTexture('whole', bytes)).width).toBe(16);
    },
  );

  it('that is not packed by Basis Universal is refused by name', async () => {
    const bytes = bytesOf('UASTC');
    // VK_FORMAT_R8G8B8A8_UNORM, in the header's first field.
    bytes[12] = 37;
    await expect(decodeTexture('plain', bytes)).rejects.toThrow('The texture "plain" cannot be read');
  });
});
