import { describe, expect, it } from 'vitest';
import type { Bounds } from '../math/bounds.js';
import type { Mesh } from './model.js';
import { isIdentity, transformedBounds, resolveTransform, modelTransformSchema, plinthMesh, UPWARDS, withPlinth } from './modelTransform.js';

const box: Bounds = { min: [1, 2, 3], max: [2, 4, 8] };
const place = (values: object) => modelTransformSchema.parse(values);

/** Signed volume of a closed mesh: the divergence theorem over its triangles. */
function volume({ positions, indices }: Mesh): number {
  let sum = 0;
  for (let k = 0; k < indices.length; k += 3) {
    const [a, b, c] = [0, 1, 2].map((i) => [0, 1, 2].map((d) => positions[indices[k + i]! * 3 + d]!)) as [number[], number[], number[]];
    sum += a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) + a[1]! * (b[2]! * c[0]! - b[0]! * c[2]!) + a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!);
  }
  return sum / 6;
}

describe('where a set stands the model', () => {
  it('changes nothing where nothing is asked', () => {
    expect(isIdentity(place({}))).toBe(true);
    expect(resolveTransform(place({}), box)).toBeUndefined();
    expect(transformedBounds(undefined, box)).toBe(box);
  });

  it.each(UPWARDS)('brings %s up: that side of the box becomes its height', (up) => {
    const out = transformedBounds(place({ up }), box);
    const axis = 'xyz'.indexOf(up[1]!);
    expect(out.max[1] - out.min[1]).toBeCloseTo(box.max[axis]! - box.min[axis]!, 12);
    // The point that was farthest that way is the highest now.
    const farthest = up[0] === '+' ? box.max[axis]! : -box.min[axis]!;
    expect(out.max[1]).toBeCloseTo(farthest, 12);
    // A rotation: the volume is kept, and so is the hand.
    const m = resolveTransform(place({ up, heading: 10 }), box)!.matrix;
    const det = m[0]! * (m[5]! * m[10]! - m[6]! * m[9]!) - m[4]! * (m[1]! * m[10]! - m[2]! * m[9]!) + m[8]! * (m[1]! * m[6]! - m[2]! * m[5]!);
    expect(det).toBeCloseTo(1, 12);
  });

  it('turns counterclockwise seen from above, scales, grounds and centres', () => {
    const quarter = transformedBounds(place({ heading: 90 }), box);
    // Seen from above with -Z ahead, counterclockwise takes +Z to +X.
    expect([quarter.min[0], quarter.max[0]].map((v) => Math.round(v * 1e9) / 1e9)).toEqual([3, 8]);
    const stood = transformedBounds(place({ scale: 0.5, ground: true, centre: true }), box);
    expect(stood).toEqual({ min: [-0.25, 0, -1.25], max: [0.25, 1, 1.25] });
  });

  it('stands on its plinth', () => {
    const out = transformedBounds(place({ plinth: { height: 0.4 } }), box);
    expect(out.min[1]).toBeCloseTo(0.4, 12);
    expect(out.max[1]).toBeCloseTo(2.4, 12);
    // The stage's ground lies at the plinth's foot.
    expect(withPlinth(place({ plinth: { height: 0.4 } }), out).min[1]).toBeCloseTo(0, 12);
    expect(withPlinth(place({}), out)).toBe(out);
  });
});

describe('a plinth', () => {
  const under: Bounds = { min: [0, 0.4, 0], max: [1, 2, 2] };
  it('without rounding is a block of its measures, closed and outward', () => {
    const mesh = plinthMesh({ height: 0.4, margin: 0.1, corner: 0, material: 'white paint', bounds: under });
    expect(volume(mesh)).toBeCloseTo(1.2 * 2.2 * 0.4, 6);
  });
  it('with rounding loses what a rounded corner loses', () => {
    const corner = 0.2;
    const mesh = plinthMesh({ height: 0.4, margin: 0.1, corner, material: 'white paint', bounds: under });
    // Rectangle less (4 - pi) r² of its corners; the broken edge and twelve facets a corner take at most 2 % more.
    const whole = (1.2 * 2.2 - (4 - Math.PI) * corner * corner) * 0.4;
    expect(volume(mesh)).toBeLessThan(whole);
    expect(volume(mesh)).toBeGreaterThan(whole * 0.98);
    // Every edge is met by two triangles, once each way.
    const edges = new Map<string, number>();
    const key = (v: number): string => [0, 1, 2].map((d) => mesh.positions[v * 3 + d]!.toFixed(6)).join();
    for (let k = 0; k < mesh.indices.length; k += 3)
      for (let i = 0; i < 3; i++) {
        const [a, b] = [key(mesh.indices[k + i]!), key(mesh.indices[k + ((i + 1) % 3)]!)];
        if (a === b) continue;
        edges.set(a + b, (edges.get(a + b) ?? 0) + 1);
        edges.set(b + a, (edges.get(b + a) ?? 0) - 1);
      }
    expect([...edges.values()].every((n) => n === 0)).toBe(true);
  });
});
