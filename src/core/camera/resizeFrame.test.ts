import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/bounds.js';
import { cameraOf, projectPoint, type View } from './view.js';
import { resizeFrame, evenSize } from './resizeFrame.js';
import { unprojectAtDepth } from './unproject.js';

const view: View = { id: 'v', name: 'V', kind: 'perspective', eye: [3, 2, 6], target: [0, 1, 0], focalLength: 50, keepVerticals: false };
const from = { width: 1920, height: 1080 };
const POINTS: Vec3[] = [
  [0, 1, 0],
  [1, 1.5, 0.5],
  [-1.2, 0.3, 1],
];

describe('a frame whose edges are moved', () => {
  it.each([
    ['narrower', { width: 1400, height: 1080 }],
    ['a square', { width: 1080, height: 1080 }],
    ['upright', { width: 1080, height: 1920 }],
    ['wider', { width: 2400, height: 1080 }],
  ])('%s shows more or less, never larger or smaller', (_, to) => {
    for (const v of [view, { ...view, kind: 'parallel' as const, width: 4 }]) {
      const [a, b] = [cameraOf(v, from, 1), cameraOf(resizeFrame(v, from, to, 1), to, 1)];
      for (const p of POINTS) {
        const [x, y] = projectPoint(a, from, p)!;
        const [u, w] = projectPoint(b, to, p)!;
        expect(u - to.width / 2).toBeCloseTo(x - from.width / 2, 6);
        expect(w - to.height / 2).toBeCloseTo(y - from.height / 2, 6);
      }
    }
  });

  it('has even sides', () => {
    expect(evenSize({ width: 1279.4, height: 3 })).toEqual({ width: 1280, height: 16 });
  });
});

describe('the point under a pixel', () => {
  it.each(['perspective', 'parallel'] as const)('is where it was, and moves at its own depth: %s', (kind) => {
    const camera = cameraOf({ ...view, kind, width: 4 }, from, 1);
    for (const p of POINTS) {
      const pixel = projectPoint(camera, from, p)!;
      const back = unprojectAtDepth(camera, from, p, pixel)!;
      back.forEach((c, i) => expect(c).toBeCloseTo(p[i]!, 4));
      const moved = unprojectAtDepth(camera, from, p, [pixel[0] + 100, pixel[1] - 40])!;
      const landed = projectPoint(camera, from, moved)!;
      expect(landed[0]).toBeCloseTo(pixel[0] + 100, 3);
      expect(landed[1]).toBeCloseTo(pixel[1] - 40, 3);
      // As far along the line of sight as before.
      const ahead = (q: Vec3): number => camera.viewMatrix[2]! * q[0] + camera.viewMatrix[6]! * q[1] + camera.viewMatrix[10]! * q[2];
      expect(ahead(moved)).toBeCloseTo(ahead(p), 3);
    }
  });

  it('is nowhere for what stands behind the eye', () => {
    expect(unprojectAtDepth(cameraOf(view, from, 1), from, [6, 3, 12], [0, 0])).toBeNull();
  });
});
