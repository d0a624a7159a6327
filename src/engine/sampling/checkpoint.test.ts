import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeCheckpoint, encodeCheckpoint } from './checkpoint.js';

const film = (values: number[], samples = 8, stride = 4) => ({ samples, stride, sums: Float32Array.from(values) });

describe('a film', () => {
  it('comes back bit by bit, whatever its numbers', () => {
    fc.assert(
      fc.property(fc.array(fc.float({ noNaN: false }), { maxLength: 64 }), fc.nat(65_536), (values, samples) => {
        const source = film(values, samples);
        const back = decodeCheckpoint(encodeCheckpoint('abc', source))!;
        expect(back).toMatchObject({ identity: 'abc', samples, stride: 4 });
        expect(new Uint32Array(back.sums.buffer)).toEqual(new Uint32Array(source.sums.buffer));
      }),
    );
  });

  it('is taken out of a larger buffer as it lies there', () => {
    const whole = Float32Array.from([9, 1, 2, 3, 9]);
    const back = decodeCheckpoint(encodeCheckpoint('x', { samples: 1, stride: 1, sums: whole.subarray(1, 4) }))!;
    expect([...back.sums]).toEqual([1, 2, 3]);
  });

  it('is smaller than its numbers: sums of neighbours share their weights', () => {
    const sums = Array.from({ length: 20_000 }, (_, i) => 8 * (0.5 + 0.1 * Math.sin(i / 500)));
    expect(encodeCheckpoint('x', film(sums)).length).toBeLessThan(20_000 * 4 * 0.8);
  });

  it('that is damaged, cut short or of another version is none: the picture begins anew', () => {
    const bytes = encodeCheckpoint('x', film([1, 2, 3, 4]));
    expect(decodeCheckpoint(bytes.subarray(0, 6))).toBeNull();
    expect(decodeCheckpoint(bytes.subarray(0, bytes.length - 3))).toBeNull();
    expect(decodeCheckpoint(new Uint8Array(0))).toBeNull();
    const other = bytes.slice();
    new DataView(other.buffer).setUint32(0, 77, true);
    expect(decodeCheckpoint(other)).toBeNull();
    // All of it has a checksum: none of its bytes can be wrong without being noticed.
    for (let at = 0; at < bytes.length; at++) expect(decodeCheckpoint(bytes.map((b, i) => (i === at ? b ^ 0xff : b)))).toBeNull();
  });
});
