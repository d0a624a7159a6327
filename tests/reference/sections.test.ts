/** Cut faces against closed forms: areas of caps, hatches, and what stays whole. */
import { describe, expect, it } from 'vitest';
import * as L from '../../kernel/layout.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { cameraOf } from '../../src/core/camera/view.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import { type Traced, trace } from '../support/trace.js';

type Vec3 = [number, number, number];
const MATT = { base: [1, 1, 1] as Vec3, specular: 0 };

describe('sections', () => {
  const cap: Vec3 = [0.2, 0.4, 0.8];
  const ball = (inner = 0) => {
    const pieces = [{ mesh: sphere(128), material: { ...MATT, base: [0.9, 0.1, 0.1] as Vec3 } }];
    const model = modelOf('ball', pieces);
    if (inner > 0) {
      // The hollow of a shell: the same part, its faces turned inward.
      const hollow = sphere(128);
      hollow.positions = hollow.positions.map((c) => c * inner);
      for (let i = 0; i < hollow.indices.length; i += 3) [hollow.indices[i], hollow.indices[i + 1]] = [hollow.indices[i + 1]!, hollow.indices[i]!];
      model.meshes.push(hollow);
      model.parts[0]!.primitives.push({ mesh: 1, material: 0 });
    }
    return model;
  };
  const size = { width: 200, height: 200 };
  const camera = cameraOf({ eye: [0, 5, 0], target: [0, 0, 0], focalLength: 50, keepVerticals: false, kind: 'parallel', width: 2.4 }, size, 1);
  /** Area of what shows the cap's colour, from straight above. */
  const capArea = (model: ReturnType<typeof ball>, height: number, frame: Partial<Frame> = {}): number => {
    const section = { planes: [{ normal: [0, 1, 0] as Vec3, offset: height }], cap };
    const picture = trace(model, { eye: [0, 5, 0], target: [0, 0, 0], ...size, samples: 16, frame: { camera, section, ...frame } });
    let count = 0;
    for (let p = 0; p < 200 * 200; p++) count += picture.sums[p * picture.stride + L.PIXEL_ALBEDO + 2]! / 16 > 0.7 && picture.cover[p] === 1 ? 1 : 0;
    return count * (2.4 / 200) ** 2;
  };

  it('the cap of a cut ball has the area pi (r² - h²)', () => {
    for (const h of [0, 0.4, -0.6]) {
      const exact = Math.PI * (1 - h * h);
      // A pixel's width along the rim is what counting can lose.
      expect(Math.abs(capArea(ball(), h) - exact)).toBeLessThan(2 * Math.PI * Math.sqrt(1 - h * h) * 0.012 + 0.01);
    }
  });

  it('of a hollow ball it is a ring', () => {
    const exact = Math.PI * (1 - 0.25);
    expect(Math.abs(capArea(ball(0.5), 0) - exact)).toBeLessThan(2 * Math.PI * 1.5 * 0.012 + 0.01);
  });

  it('of a ball whose faces are many groups of one part it is the same, pixel for pixel', () => {
    const section = { planes: [{ normal: [0, 1, 0] as Vec3, offset: 0.3 }], cap };
    const shot = (model: ReturnType<typeof ball>): Traced =>
      trace(model, { eye: [0, 5, 0], target: [0, 0, 0], ...size, samples: 4, frame: { camera, section } });
    const divided = ball(0.5);
    // Every twentieth triangle is of one group.
    divided.meshes = divided.meshes.flatMap((mesh) =>
      Array.from({ length: 20 }, (_, k) => ({ ...mesh, indices: mesh.indices.filter((_, i) => Math.floor(i / 3) % 20 === k) })),
    );
    divided.parts[0]!.primitives = divided.meshes.map((_, mesh) => ({ mesh, material: 0 }));
    const [whole, pieces] = [shot(ball(0.5)), shot(divided)];
    for (const plane of [L.PIXEL_ALBEDO + 2, L.PIXEL_DEPTH, L.PIXEL_NORMAL + 1]) {
      const [a, b] = [whole, pieces].map(({ sums, stride }) => Array.from({ length: 200 * 200 }, (_, p) => sums[p * stride + plane]!));
      expect(new Set(a).size).toBeGreaterThan(1);
      expect(b).toEqual(a);
    }
  });

  it('above the ball the plane cuts nothing, and below it takes all', () => {
    expect(capArea(ball(), 1.5)).toBe(0);
    const section = { planes: [{ normal: [0, 1, 0] as Vec3, offset: -1.5 }] };
    const picture = trace(ball(), { eye: [0, 5, 0], target: [0, 0, 0], ...size, samples: 1, frame: { camera, section } });
    expect(Math.max(...picture.cover)).toBe(0);
  });

  describe('a hatch', () => {
    const hatch = { spacing: 0.2, width: 0.05, angle: 30, colour: [0.01, 0.01, 0.01] as Vec3 };
    /** Which points of the cap of a block, seen straight, are lines: its share, and whether the closed form agrees at each. */
    const lines = (normal: Vec3, eye: Vec3, right: Vec3, up: Vec3, mode: 'review' | 'quick') => {
      const straight = cameraOf({ eye, target: [0, 0, 0], focalLength: 50, keepVerticals: false, kind: 'parallel', width: 2 }, size, 1);
      const block = modelOf('block', [{ mesh: new MeshMaker().box([-3, -3, -3], [3, 3, 3]).mesh(), material: MATT }]);
      const section = { planes: [{ normal, offset: 0 }], cap, hatch };
      const picture = trace(block, {
        eye,
        target: [0, 0, 0],
        ...size,
        samples: 4,
        frame: { camera: straight, section },
        ...(mode === 'quick' && { sampling: { mode } }),
      });
      let [count, wrong, asked, off] = [0, 0, 0, 0];
      const angle = (hatch.angle * Math.PI) / 180;
      for (let p = 0; p < 200 * 200; p++) {
        const blue = picture.sums[p * picture.stride + L.PIXEL_ALBEDO + 2]! / 4;
        count += (cap[2] - blue) / (cap[2] - 0.01);
        const [x, y] = [((p % 200) + 0.5 - 100) / 100, (100 - Math.floor(p / 200) - 0.5) / 100];
        // Where the pixel stands in the world, and so on the plane; its distance from the nearest edge of a line.
        const at = right.map((r, k) => r * x + up[k]! * y);
        const s = (y * Math.cos(angle) - x * Math.sin(angle)) / hatch.spacing;
        const within = s - Math.floor(s);
        const share = hatch.width / hatch.spacing;
        const edge = Math.min(within, Math.abs(within - share), 1 - within) * hatch.spacing;
        off = Math.max(off, Math.abs(at.reduce((sum, v, k) => sum + v * normal[k]!, 0)));
        if (edge < 0.015) continue;
        asked++;
        if (within < share !== blue < 0.4) wrong++;
      }
      return { share: count / 200 ** 2, wrong, asked, off };
    };

    it.each([
      ['a level cap, from above', [0, 1, 0], [0, 5, 0], [1, 0, 0], [0, 0, -1]],
      ['an upright cap, from the front', [0, 0, 1], [0, 0, 5], [1, 0, 0], [0, 1, 0]],
      ['an upright cap, from the left', [-1, 0, 0], [-5, 0, 0], [0, 0, 1], [0, 1, 0]],
    ] as [string, Vec3, Vec3, Vec3, Vec3][])(
      'lies on %s: lines of the width and distance that it says, at its angle',
      (_, normal, eye, right, up) => {
        for (const mode of ['review', 'quick'] as const) {
          const { share, wrong, asked, off } = lines(normal, eye, right, up, mode);
          // Every point lies on the plane.
          expect(off).toBeLessThan(1e-12);
          // Seven tenths of the pixels lie clear of every edge.
          expect(asked).toBe(28_000);
          expect(wrong).toBe(0);
          expect(share).toBeCloseTo(0.25, 2);
        }
      },
    );
  });

  it('a plane on one part leaves the others whole', () => {
    const model = modelOf('two', [
      { mesh: new MeshMaker().box([-1, 0, -1], [-0.2, 1, 1]).mesh(), material: MATT },
      { mesh: new MeshMaker().box([0.2, 0, -1], [1, 1, 1]).mesh(), material: MATT },
    ]);
    const section = { planes: [{ normal: [0, 1, 0] as Vec3, offset: 0.5, part: 'part 1' }], cap };
    const picture = trace(model, { eye: [0, 5, 0], target: [0, 0, 0], ...size, samples: 1, frame: { camera, section } });
    const depth = (x: number) => picture.sums[(100 * 200 + Math.round(100 + (x * 200) / 2.4)) * picture.stride + L.PIXEL_DEPTH]!;
    expect(depth(-0.6)).toBeCloseTo(4.5, 4);
    expect(depth(0.6)).toBeCloseTo(4, 4);
  });

  it('cut walls throw no shadow where they are cut away', () => {
    const model = modelOf('wall', [
      { mesh: new MeshMaker().quad([-3, 0, 3], [6, 0, 0], [0, 0, -6]).mesh(), material: MATT },
      { mesh: new MeshMaker().box([-0.1, 0, -1], [0.1, 1, 1]).mesh(), material: MATT },
    ]);
    const a = Math.PI / 4;
    const lights = [{ kind: 'sun' as const, direction: [-Math.cos(a), -Math.sin(a), 0] as Vec3, radius: 0, irradiance: [1, 1, 1] as Vec3 }];
    const dark = (height: number): number => {
      const section = { planes: [{ normal: [0, 1, 0] as Vec3, offset: height, part: 'part 2' }] };
      const picture = trace(model, {
        eye: [0, 5, 0],
        target: [0, 0, 0],
        ...size,
        samples: 1,
        bounces: 1,
        frame: { camera, section },
        stage: { lights },
      });
      return Array.from({ length: 200 }, (_, x) => picture.colour[(100 * 200 + x) * 3]!).filter((v) => v === 0).length * 0.012;
    };
    expect(Math.abs(dark(2) - 1)).toBeLessThan(0.03);
    expect(Math.abs(dark(0.5) - 0.5)).toBeLessThan(0.03);
  });
});
