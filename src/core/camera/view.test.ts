import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Bounds, type Vec3, corners } from '../math/bounds.js';
import { cameraOf, fitView, projectPoint, rotateCamera, type View } from './view.js';
import { dolly, orbit, pan } from './orbit.js';

const VIEW: View = { id: 'v', name: 'v', kind: 'perspective', eye: [3, 2, 4], target: [0, 0, 0], focalLength: 50, keepVerticals: false };
const SIZE = { width: 1600, height: 900 };

describe('fit', () => {
  it('keeps every corner within the margin and lets one touch it', () => {
    const coordinate = fc.double({ min: -50, max: 50, noNaN: true });
    const span = fc.double({ min: 0.01, max: 20, noNaN: true });
    fc.assert(
      fc.property(coordinate, coordinate, coordinate, span, span, span, (x, y, z, a, b, c) => {
        const bounds = { min: [x, y, z] as Vec3, max: [x + a, y + b, z + c] as Vec3 };
        const view = fitView(VIEW, bounds, SIZE, 1, 0.1);
        const camera = cameraOf(view, SIZE, 1);
        const reach = corners(bounds).map((p) => {
          const [u, v] = projectPoint(camera, SIZE, p)!;
          return Math.max(Math.abs(u / SIZE.width - 0.5), Math.abs(v / SIZE.height - 0.5));
        });
        expect(Math.max(...reach)).toBeLessThan(0.4 + 1e-6);
        expect(Math.max(...reach)).toBeGreaterThan(0.4 - 1e-3);
      }),
      { numRuns: 40 },
    );
  });
});

describe('moving by hand', () => {
  it('orbiting keeps the distance and never goes over the top', () => {
    const pose = orbit({ eye: [3, 2, 4], target: [0, 1, 0] }, 0.7, 9);
    expect(Math.hypot(pose.eye[0], pose.eye[1] - 1, pose.eye[2])).toBeCloseTo(Math.hypot(3, 1, 4), 9);
    expect(pose.eye[1]).toBeLessThan(1 + Math.hypot(3, 1, 4));
  });
  it('panning moves both, dolly only the eye', () => {
    const p = pan({ eye: [0, 0, 2], target: [0, 0, 0] }, 0.5, 0.25);
    expect([p.eye, p.target]).toEqual([
      [1, 0.5, 2],
      [1, 0.5, 0],
    ]);
    expect(dolly({ eye: [0, 0, 2], target: [0, 0, 1] }, 0.5)).toEqual({ eye: [0, 0, 1.5], target: [0, 0, 1] });
  });
});

describe('turning the camera', () => {
  it('by a whole turn comes back, and keeps the pivot on its pixel', () => {
    const camera = cameraOf(VIEW, SIZE, 1);
    const pivot: Vec3 = [0.4, 0.1, -0.2];
    fc.assert(
      fc.property(fc.integer({ min: -720, max: 720 }), (degrees) => {
        const [x, y] = projectPoint(rotateCamera(camera, pivot, degrees), SIZE, pivot)!;
        const [u, v] = projectPoint(camera, SIZE, pivot)!;
        expect(Math.hypot(x - u, y - v)).toBeLessThan(1e-6);
      }),
    );
    expect(rotateCamera(camera, pivot, 360).eye.map((c) => c.toFixed(9))).toEqual(camera.eye.map((c) => c.toFixed(9)));
  });
});

describe('fitting a parallel view', () => {
  const bounds: Bounds = { min: [-2, 0, -1], max: [2, 3, 1] };
  it.each([
    [{ width: 1600, height: 900 }, 1],
    [{ width: 600, height: 900 }, 1],
    [{ width: 800, height: 800 }, 1.5],
  ])('brings the bounds to the margin at %j', (size, pixelAspect) => {
    const view: View = { id: 'v', name: 'v', kind: 'parallel', eye: [5, 4, 6], target: [0, 0, 0], focalLength: 50, keepVerticals: false, width: 1 };
    const fitted = fitView(view, bounds, size, pixelAspect, 0.1);
    const camera = cameraOf(fitted, size, pixelAspect);
    const places = corners(bounds).map((c) => projectPoint(camera, size, c)!);
    const most = Math.max(...places.flatMap(([x, y]) => [Math.abs(x / size.width - 0.5), Math.abs(y / size.height - 0.5)]));
    expect(most).toBeCloseTo(0.4, 9);
    expect(fitted.target).toEqual([0, 1.5, 0]);
    // Seen the same way, from outside.
    const along = fitted.eye.map((v, i) => v - fitted.target[i]!);
    expect(along[0]! / along[1]!).toBeCloseTo(5 / 4, 9);
    expect(Math.hypot(...along)).toBeGreaterThan(Math.hypot(4, 3, 2));
  });
});
