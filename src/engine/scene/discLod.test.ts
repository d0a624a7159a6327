import { describe, expect, it } from 'vitest';
import { tern } from '../../../demo/tern.js';
import { discMesh, discsOf } from '../../formats/points/discs.js';
import type { Mesh } from '../../core/model/model.js';
import { fewerDiscs, isOfDiscs } from './discLod.js';

const positions = Float32Array.from({ length: 300 }, (_, i) => [(Math.floor(i / 3) % 10) * 0.2, 0, Math.floor(i / 30) * 0.2][i % 3]!);
const colours = Float32Array.from({ length: 300 }, (_, i) => i / 300);
const discs = discMesh(
  discsOf({ positions, colours }),
  Uint32Array.from({ length: 100 }, (_, i) => i),
);

/** Area of triangles that lie across y. */
function area({ positions: p, indices }: Mesh): number {
  let sum = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t]!, 3 * indices[t + 1]!, 3 * indices[t + 2]!];
    sum += ((p[b + 2]! - p[a + 2]!) * (p[c]! - p[a]!) - (p[b]! - p[a]!) * (p[c + 2]! - p[a + 2]!)) / 2;
  }
  return sum;
}

describe('a lighter form of discs', () => {
  it('is made of discs alone', () => {
    expect(isOfDiscs(discs)).toBe(true);
    expect(isOfDiscs({ ...discs, indices: discs.indices.slice(0, -3) })).toBe(false);
    expect(isOfDiscs({ ...discs, indices: discs.indices.slice().reverse() })).toBe(false);
    expect(isOfDiscs({ positions: new Float32Array(), indices: new Uint32Array() })).toBe(false);
    for (const mesh of tern().meshes) expect(isOfDiscs(mesh)).toBe(false);
  });

  it.each([100, 50, 30])('has at most %i triangles, in the same places and colours, and covers as much', (most) => {
    const fewer = fewerDiscs(discs, most);
    const step = Math.ceil(100 / most);
    const kept = Math.ceil(100 / step);
    expect(fewer.indices.length / 3).toBe(kept);
    expect(kept).toBeLessThanOrEqual(most);
    expect(area(fewer) / kept).toBeCloseTo((area(discs) / 100) * step, 6);
    for (let i = 0; i < kept; i++) {
      const at = i * step;
      for (let k = 0; k < 3; k++) {
        expect((fewer.positions[9 * i + k]! + fewer.positions[9 * i + 3 + k]! + fewer.positions[9 * i + 6 + k]!) / 3).toBeCloseTo(
          positions[3 * at + k]!,
          5,
        );
        expect(fewer.colours![9 * i + k]).toBe(colours[3 * at + k]);
      }
    }
  });
});
