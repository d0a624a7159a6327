import { describe, expect, it } from 'vitest';
import { type Bounds, centreOf, corners } from '../math/bounds.js';
import { ANGLES, angleSet, pixelsPerMetre, scaleOfWidth, matchScale, towardsEye, widthAtScale } from './angleSet.js';
import { cameraOf, projectPoint, type View } from './view.js';

const BOUNDS: Bounds = { min: [-0.3, 0, -0.1], max: [0.5, 0.6, 0.2] };
const SIZE = { width: 1600, height: 900 };
const ALL = ANGLES.map((a) => a.id);
const MIDDLE = centreOf(BOUNDS);

const inside = (view: View, margin: number): boolean =>
  corners(BOUNDS).every((c) => {
    const p = projectPoint(cameraOf(view, SIZE, 1), SIZE, c)!;
    return Math.abs(p[0] / SIZE.width - 0.5) <= 0.5 - margin + 1e-6 && Math.abs(p[1] / SIZE.height - 0.5) <= 0.5 - margin + 1e-6;
  });

describe('an angle set', () => {
  it.each(['parallel', 'perspective'] as const)(
    'of %s views has one scale at the middle within 0.1 %%, and all of the subject in every frame',
    (kind) => {
      const views = angleSet(BOUNDS, SIZE, 1, { kind, angles: ALL, focalLength: 70, margin: 0.08 });
      expect(views.map((v) => v.id)).toEqual(ALL);
      const scales = views.map((v) => pixelsPerMetre(v, SIZE, 1, MIDDLE)!);
      expect(Math.max(...scales) / Math.min(...scales)).toBeLessThan(1.001);
      expect(views.every((v) => inside(v, 0.08))).toBe(true);
      // The tightest of them fills its frame.
      expect(views.some((v) => !inside(v, 0.085))).toBe(true);
    },
  );

  it('keeps one scale over a parallel picture, not at its middle alone', () => {
    const [front] = angleSet(BOUNDS, SIZE, 1, { kind: 'parallel', angles: ['front'], focalLength: 50, margin: 0.1 });
    const scales = corners(BOUNDS).map((c) => pixelsPerMetre(front!, SIZE, 1, c)!);
    expect(Math.max(...scales) / Math.min(...scales)).toBeCloseTo(1, 6);
    expect(scales[0]).toBeCloseTo(SIZE.width / front!.width!, 4);
  });

  it('looks from where its names say', () => {
    const eye = (id: string) => towardsEye(ANGLES.find((a) => a.id === id)!).map((c) => Math.round(c * 1e6) / 1e6 + 0);
    expect(eye('front')).toEqual([0, 0, 1]);
    expect(eye('right')).toEqual([1, 0, 0]);
    expect(eye('back')).toEqual([0, 0, -1]);
    expect(eye('left')).toEqual([-1, 0, 0]);
    expect(eye('top')).toEqual([0, 1, 0]);
    expect(eye('bottom')).toEqual([0, -1, 0]);
    const third = Math.round(1e6 / Math.sqrt(3)) / 1e6;
    expect(eye('isometric')).toEqual([third, third, third]);
  });

  it('sees the axes as ISO 5456-3 has them: all alike, or depth to half at 42° and breadth at 7°', () => {
    const axis = (id: string, way: [number, number, number]): [number, number] => {
      const [view] = angleSet(BOUNDS, SIZE, 1, { kind: 'parallel', angles: [id], focalLength: 50, margin: 0.1 });
      const camera = cameraOf(view!, SIZE, 1);
      const [a, b] = [projectPoint(camera, SIZE, [0, 0, 0])!, projectPoint(camera, SIZE, way)!];
      return [b[0] - a[0], a[1] - b[1]];
    };
    const length = (p: [number, number]): number => Math.hypot(...p);
    const iso = [axis('isometric', [1, 0, 0]), axis('isometric', [0, 1, 0]), axis('isometric', [0, 0, 1])].map(length);
    expect(Math.max(...iso) / Math.min(...iso)).toBeCloseTo(1, 6);
    const [x, y, z] = [axis('dimetric', [1, 0, 0]), axis('dimetric', [0, 1, 0]), axis('dimetric', [0, 0, 1])];
    expect(length(x) / length(y)).toBeCloseTo(1, 2);
    expect(length(z) / length(y)).toBeCloseTo(0.5, 2);
    // 7°11′ and 41°25′, which the standard rounds to 7° and 42°.
    expect(Math.abs((Math.atan2(x[1], x[0]) * 180) / Math.PI)).toBeCloseTo(7.18, 1);
    expect(Math.abs((Math.atan2(-z[1], -z[0]) * 180) / Math.PI)).toBeCloseTo(41.41, 1);
  });

  it('refuses an angle that there is not', () => {
    expect(() => angleSet(BOUNDS, SIZE, 1, { kind: 'parallel', angles: ['askew'], focalLength: 50, margin: 0.1 })).toThrow(/no angle "askew"/);
  });
});

describe('scale', () => {
  const a: View = { id: 'a', name: 'A', kind: 'perspective', eye: [3, 1, 4], target: [0, 0.3, 0], focalLength: 50, keepVerticals: false };

  it('is taken over from another view, by distance and by width', () => {
    const wanted = pixelsPerMetre(a, SIZE, 1, MIDDLE)!;
    for (const view of [
      { ...a, focalLength: 35, eye: [0, 0.3, 2] as [number, number, number] },
      { ...a, kind: 'parallel' as const, width: 7 },
    ])
      expect(pixelsPerMetre(matchScale(view, a, SIZE, 1, MIDDLE), SIZE, 1, MIDDLE)! / wanted).toBeCloseTo(1, 4);
    const away = { ...a, target: [6, 1, 8] as [number, number, number] };
    expect(() => matchScale(a, away, SIZE, 1, MIDDLE)).toThrow(/does not see the middle/);
  });

  it('of 1 : 50 at 300 dpi puts so many metres across', () => {
    // 3508 pixels at 300 dpi are 297 mm, the long side of A4 (ISO 216): 14.85 m at 1 : 50.
    expect(widthAtScale(50, { width: 3508, height: 2480 }, 1, 300)).toBeCloseTo(14.85, 2);
    expect(scaleOfWidth(14.85, { width: 2480, height: 3508 }, 1, 300)).toBeCloseTo(50, 1);
  });
});
