import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import * as L from '../../kernel/layout.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { cameraOf, rotateCamera } from '../../src/core/camera/view.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import { type Traced, trace } from '../support/trace.js';

type Vec3 = [number, number, number];
const GLOW = { base: [1, 1, 1] as Vec3, unlit: true };
const MATT = { base: [1, 1, 1] as Vec3, specular: 0 };

/** Middle of the bright pixels, by brightness. */
function middle(picture: Traced): [number, number] {
  const { width, height } = picture.frame.size;
  let [x, y, all] = [0, 0, 0];
  for (let p = 0; p < width * height; p++) {
    const v = picture.colour[p * 3]!;
    x += v * ((p % width) + 0.5);
    y += v * (Math.floor(p / width) + 0.5);
    all += v;
  }
  return [x / all, y / all];
}

function dot(at: Vec3, radius = 0.02) {
  const mesh = sphere(16);
  mesh.positions = mesh.positions.map((c, i) => c * radius + at[i % 3]!);
  return modelOf('dot', [{ mesh, material: GLOW }]);
}

describe('projections: a marked point lands where the closed form has it, within half a pixel', () => {
  const size = { width: 200, height: 100 };
  const shoot = (at: Vec3, view: Parameters<typeof cameraOf>[0], radius = 0.02) =>
    middle(
      trace(dot(at, radius), {
        eye: view.eye as Vec3,
        target: view.target as Vec3,
        ...size,
        samples: 16,
        frame: { camera: cameraOf(view, size, 1) },
      }),
    );

  it.each([
    ['plain', {}],
    ['rolled by 25°', { roll: 25 }],
    ['with uprights kept', { keepVerticals: true }],
  ])('perspective, %s: where three.js lands', (_, extra) => {
    const view = { eye: [2, 2.6, 5] as Vec3, target: [0.2, 1, 0] as Vec3, focalLength: 35, keepVerticals: false, ...extra };
    const theirs = new PerspectiveCamera(50, 2, 0.01, 100);
    theirs.filmGauge = 36;
    theirs.setFocalLength(35);
    theirs.position.set(...view.eye);
    theirs.lookAt(view.target[0], view.keepVerticals ? view.eye[1] : view.target[1], view.target[2]);
    if ('roll' in extra) theirs.rotateZ((-25 * Math.PI) / 180);
    if (view.keepVerticals) {
      const level = Math.hypot(view.target[0] - view.eye[0], view.target[2] - view.eye[2]);
      const shift = (view.target[1] - view.eye[1]) / level / Math.tan((theirs.fov * Math.PI) / 360);
      theirs.setViewOffset(200, 100, 0, (-shift * 100) / 2, 200, 100);
    }
    theirs.updateMatrixWorld();
    theirs.updateProjectionMatrix();
    for (const at of [
      [0.2, 1, 0],
      [-0.9, 1.3, 0.6],
      [1.1, 0.4, -0.5],
    ] as Vec3[]) {
      const q = new Vector3(...at).project(theirs);
      const [x, y] = shoot(at, view);
      expect(Math.abs(x - ((q.x + 1) / 2) * 200)).toBeLessThan(0.5);
      expect(Math.abs(y - ((1 - q.y) / 2) * 100)).toBeLessThan(0.5);
    }
  });

  it('looks past what stands nearer than the near distance, and measures depth from the eye all the same', () => {
    const two = dot([0, 0, 2], 0.3);
    two.meshes.push(dot([0, 0, 0], 0.5).meshes[0]!);
    two.parts[0]!.primitives.push({ mesh: 1, material: 0 });
    const depth = (near?: number): number => {
      const view = { eye: [0, 0, 5] as Vec3, target: [0, 0, 0] as Vec3, focalLength: 50, keepVerticals: false, nearClipping: near };
      const picture = trace(two, { eye: view.eye, target: view.target, ...size, samples: 4, frame: { camera: cameraOf(view, size, 1) } });
      const p = (50 * 200 + 100) * picture.stride;
      return picture.sums[p + L.PIXEL_DEPTH]! / picture.sums[p + L.PIXEL_COUNT]!;
    };
    // The front of the nearer ball, of the farther one, and the back of the farther one.
    expect(depth()).toBeCloseTo(2.7, 1);
    expect(depth(3.5)).toBeCloseTo(4.5, 1);
    expect(depth(5)).toBeCloseTo(5.5, 1);
  });

  it('parallel: 200 pixels for 4 m, whatever the distance', () => {
    for (const z of [0, -3, 2]) {
      const [x, y] = shoot([0.7, 0.4, z], { eye: [0, 0, 5], target: [0, 0, 0], focalLength: 50, keepVerticals: false, kind: 'parallel', width: 4 });
      expect(Math.abs(x - (100 + 0.7 * 50))).toBeLessThan(0.5);
      expect(Math.abs(y - (50 - 0.4 * 50))).toBeLessThan(0.5);
    }
  });

  it('panorama: longitude is linear in x, latitude in y, the poles are the first and last row', () => {
    const view = { eye: [0, 1, 0] as Vec3, target: [0, 1, -1] as Vec3, focalLength: 50, keepVerticals: false, kind: 'panorama' as const };
    for (const [longitude, latitude] of [
      [0, 0],
      [60, 30],
      [-120, -45],
    ] as const) {
      const [a, h] = [(longitude * Math.PI) / 180, (latitude * Math.PI) / 180];
      const at: Vec3 = [2 * Math.cos(h) * Math.sin(a), 1 + 2 * Math.sin(h), -2 * Math.cos(h) * Math.cos(a)];
      const [x, y] = shoot(at, view, 0.1);
      expect(Math.abs(x - (100 + (longitude / 360) * 200))).toBeLessThan(0.5);
      expect(Math.abs(y - (50 - (latitude / 180) * 100))).toBeLessThan(0.5);
    }
    // Straight above fills the whole first row; behind, it stands at both ends.
    const above = trace(dot([0, 3, 0], 0.4), {
      eye: [0, 1, 0],
      target: [0, 1, -1],
      ...size,
      samples: 16,
      frame: { camera: cameraOf(view, size, 1) },
    });
    expect(Array.from({ length: 200 }, (_, x) => above.colour[x * 3]!).filter((v) => v < 1)).toEqual([]);
    const behind = trace(dot([0, 1, 2], 0.4), {
      eye: [0, 1, 0],
      target: [0, 1, -1],
      ...size,
      samples: 16,
      frame: { camera: cameraOf(view, size, 1) },
    });
    expect(behind.colour[50 * 200 * 3]).toBe(1);
    expect(behind.colour[(50 * 200 + 199) * 3]).toBe(1);
  });

  it('a thin lens spreads a point off the sharp plane over a disc of the diameter that the closed form gives', () => {
    // Circle of confusion on the sharp plane: lens diameter · |distance - focus| / distance.
    const lens = { radius: 0.05, focus: 4 };
    const width = (z: number): number => {
      const view = { eye: [0, 0, 4] as Vec3, target: [0, 0, 0] as Vec3, focalLength: 200, keepVerticals: false };
      const square = { width: 128, height: 128 };
      const camera = { ...cameraOf(view, square, 1), lens };
      const picture = trace(dot([0, 0, z], 0.004), { eye: view.eye, target: view.target, ...square, samples: 192, frame: { camera } });
      const row = Array.from({ length: 128 }, (_, x) => picture.colour[(64 * 128 + x) * 3]!);
      return row.filter((v) => v > 0.3 * Math.max(...row)).length;
    };
    // Metres across at the sharp plane: 4 · 36 / 200.
    const pixels = (d: number): number => (((0.1 * Math.abs(d - 4)) / d) * 128) / ((4 * 36) / 200);
    expect(width(0)).toBeLessThan(4);
    for (const d of [3, 6]) expect(Math.abs(width(4 - d) - pixels(d))).toBeLessThan(1.5 + 0.05 * pixels(d));
  });
});

describe('motion blur of a known move', () => {
  // A bar from the pivot turns by 40° while the shutter is open: each direction is covered evenly.
  const bar = modelOf('bar', [{ mesh: new MeshMaker().box([0.2, 0, -0.01], [1, 0.01, 0.01]).mesh(), material: GLOW }]);
  const size = { width: 160, height: 160 };
  const view = { eye: [0, 5, 0] as Vec3, target: [0, 0, 0] as Vec3, focalLength: 50, keepVerticals: false, kind: 'parallel' as const, width: 2.2 };
  const spread = (frame: Partial<Frame>, model = bar): number[] => {
    const picture = trace(model, { eye: view.eye, target: view.target, ...size, samples: 64, frame: { camera: cameraOf(view, size, 1), ...frame } });
    // Light by direction from the middle, in bins of 10°, counterclockwise from +X.
    const bins = Array.from({ length: 36 }, () => 0);
    for (let p = 0; p < 160 * 160; p++) {
      const [x, y] = [(p % 160) + 0.5 - 80, 80 - (Math.floor(p / 160) + 0.5)];
      bins[Math.floor((((Math.atan2(y, x) * 180) / Math.PI + 360) % 360) / 10)]! += picture.colour[p * 3]!;
    }
    return bins;
  };

  it('of a turning subject', () => {
    const turn = { angle: 10, rotation: 10, pivot: [0, 0, 0] as Vec3, what: ['subject' as const] };
    const bins = spread({ turn, shutter: { camera: cameraOf(view, size, 1), rotation: 40 } });
    const all = bins.reduce((s, v) => s + v, 0);
    for (const k of [1, 2, 3, 4]) expect(bins[k]! / all).toBeCloseTo(0.25, 1);
    expect(bins.slice(7).reduce((s, v) => s + v, 0) / all).toBeLessThan(0.01);
    // The same light as the bar at rest.
    const rest = spread({}).reduce((s, v) => s + v, 0);
    expect(Math.abs(all / rest - 1)).toBeLessThan(0.01);
  });

  it('of a subject that turns about a level axis, seen from where it points to', () => {
    const upright = modelOf('bar', [{ mesh: new MeshMaker().box([0.2, -0.01, 0], [1, 0.01, 0.01]).mesh(), material: GLOW }]);
    const front = { ...view, eye: [0, 0, 5] as Vec3 };
    const camera = cameraOf(front, size, 1);
    // The pivot lies off the origin along the axis, which changes nothing.
    const turn = { angle: 10, rotation: 10, pivot: [0, 0, 0.7] as Vec3, axis: [0, 0, 1] as Vec3, what: ['subject' as const] };
    const bins = spread({ turn, camera, shutter: { camera, rotation: 40 } }, upright);
    const all = bins.reduce((s, v) => s + v, 0);
    for (const k of [1, 2, 3, 4]) expect(bins[k]! / all).toBeCloseTo(0.25, 1);
    expect(bins.slice(7).reduce((s, v) => s + v, 0) / all).toBeLessThan(0.01);
  });

  it('leaves the shading of a ball as it is, about whatever axis it turns', () => {
    const ball = modelOf('ball', [{ mesh: sphere(256), material: MATT }]);
    const sun = { kind: 'sun' as const, direction: [-0.6, -0.8, 0] as Vec3, radius: 0, irradiance: [3, 3, 3] as Vec3 };
    const lit = { eye: [0, 1, 4] as Vec3, target: [0, 0, 0] as Vec3, width: 64, height: 64, samples: 64, stage: { lights: [sun] } };
    const camera = cameraOf({ ...lit, focalLength: 50, keepVerticals: false }, { width: 64, height: 64 }, 1);
    const still = trace(ball, { ...lit, frame: { camera } });
    const all = still.colour.reduce((s, v) => s + v, 0);
    const difference = (axis?: Vec3): number => {
      const turn = { angle: 0, rotation: 0, pivot: [0, 0, 0] as Vec3, ...(axis && { axis }), what: ['subject' as const] };
      const turning = trace(ball, { ...lit, frame: { camera, turn, shutter: { camera, rotation: 120 } } });
      return still.colour.reduce((s, v, i) => s + Math.abs(v - turning.colour[i]!), 0) / all;
    };
    // What is left is noise and the facets' outline.
    expect(difference()).toBeLessThan(0.005);
    for (const axis of [[1, 1, 1].map((c) => c / Math.sqrt(3)), [1, 0, 0]] as Vec3[]) expect(difference(axis)).toBeLessThan(0.005);
  });

  it('of a turning camera goes the other way round', () => {
    const bins = spread({ shutter: { camera: rotateCamera(cameraOf(view, size, 1), [0, 0, 0], 10), rotation: 0 } });
    const all = bins.reduce((s, v) => s + v, 0);
    // The bar is 3° wide at its inner end, so some of it stands beyond the 10° at both ends.
    expect((bins[35]! + bins[0]!) / all).toBeGreaterThan(0.95);
    expect(bins[35]! / all).toBeGreaterThan(0.8);
  });
});

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
      let [count, wrong, asked] = [0, 0, 0];
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
        expect(Math.abs(at.reduce((sum, v, k) => sum + v * normal[k]!, 0))).toBeLessThan(1e-12);
        if (edge < 0.015) continue;
        asked++;
        if (within < share !== blue < 0.4) wrong++;
      }
      return { share: count / 200 ** 2, wrong, asked };
    };

    it.each([
      ['a level cap, from above', [0, 1, 0], [0, 5, 0], [1, 0, 0], [0, 0, -1]],
      ['an upright cap, from the front', [0, 0, 1], [0, 0, 5], [1, 0, 0], [0, 1, 0]],
      ['an upright cap, from the left', [-1, 0, 0], [-5, 0, 0], [0, 0, 1], [0, 1, 0]],
    ] as [string, Vec3, Vec3, Vec3, Vec3][])(
      'lies on %s: lines of the width and distance that it says, at its angle',
      (_, normal, eye, right, up) => {
        for (const mode of ['review', 'quick'] as const) {
          const { share, wrong, asked } = lines(normal, eye, right, up, mode);
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

describe('what a part is seen by', () => {
  it('camera, shadow and reflection are kept apart', () => {
    const seen = (visible: { camera: boolean; shadow: boolean; reflection: boolean }) => {
      const model = modelOf('three', [
        { mesh: new MeshMaker().quad([-3, 0, 3], [6, 0, 0], [0, 0, -6]).mesh(), material: { base: [1, 1, 1] as Vec3, metalness: 1, roughness: 0 } },
        { mesh: new MeshMaker().quad([-1, 1, 1], [2, 0, 0], [0, 0, -2]).mesh(), material: { ...GLOW, base: [0.5, 0.5, 0.5] as Vec3 } },
        { mesh: new MeshMaker().quad([3, 0, 1], [2, 0, 0], [0, 0, -2]).mesh(), material: MATT },
        { mesh: new MeshMaker().quad([3, 1, 1], [2, 0, 0], [0, 0, -2]).mesh(), material: MATT },
      ]);
      model.parts[1]!.visible = visible;
      model.parts[3]!.visible = visible;
      const lights = [{ kind: 'sun' as const, direction: [0, -1, 0] as Vec3, radius: 0, irradiance: [Math.PI, Math.PI, Math.PI] as Vec3 }];
      const look = (eye: Vec3, target: Vec3) =>
        trace(model, { eye, target, focalLength: 1200, width: 16, height: 16, samples: 4, bounces: 4, stage: { lights } }).mean();
      // Down on the sheet; across into its mirror image; up from below its neighbour onto shaded ground.
      return { camera: look([0, 3, 0], [0, 0, 0.001]), mirrored: look([0, 0.5, 1.5], [0, 0, 0.75]), ground: look([4, 0.5, 0.2], [4, 0, 0]) };
    };
    const all = seen({ camera: true, shadow: true, reflection: true });
    expect(all.camera).toBeCloseTo(0.5, 3);
    expect(all.mirrored).toBeCloseTo(0.5, 2);
    // In the shade but for what comes round by four bounces.
    expect(all.ground).toBeLessThan(0.02);
    expect(seen({ camera: true, shadow: false, reflection: true }).ground).toBeGreaterThan(0.97);
    expect(seen({ camera: true, shadow: true, reflection: false }).mirrored).toBeLessThan(0.05);
    // Not seen by the camera, but by its mirror image in the ground below.
    expect(seen({ camera: false, shadow: true, reflection: true }).camera).toBeCloseTo(0.5, 2);
    expect(seen({ camera: false, shadow: true, reflection: false }).camera).toBeLessThan(0.05);
  });
});

describe('sampling', () => {
  const scene = modelOf('half', [{ mesh: sphere(48), material: { ...MATT, base: [0.7, 0.7, 0.7] as Vec3 } }]);
  const view = { eye: [0, 0, 4] as Vec3, target: [0, 0, 0] as Vec3, focalLength: 60, width: 96, height: 64 };
  const lights = [
    { kind: 'rectangle' as const, centre: [2, 3, 2] as Vec3, u: [-1, 0, 1] as Vec3, v: [-0.5, 0.8, -0.5] as Vec3, radiance: [20, 20, 20] as Vec3 },
  ];

  it('stops cells by their error, the same whatever the tiles', () => {
    const noisy = { ...view, samples: 512, sampling: { noise: 0.02 }, stage: { lights } };
    const [a, b] = [trace(scene, noisy, 16), trace(scene, noisy, 64)];
    expect(Buffer.from(a.colour.buffer).equals(Buffer.from(b.colour.buffer))).toBe(true);
    // The backdrop stops at once; the ball goes on until it is smooth.
    const counts = Array.from({ length: 96 * 64 }, (_, p) => a.sums[p * a.stride + L.PIXEL_COUNT]!);
    expect(Math.min(...counts)).toBe(16);
    expect(Math.max(...counts)).toBeGreaterThan(40);
    expect(a.taken).toBeLessThan(300);
    const truth = trace(scene, { ...view, samples: 768, stage: { lights } });
    const ball = Array.from(counts.keys()).filter((p) => truth.cover[p] === 1 && truth.colour[p * 3]! > 0.05);
    const error = ball.reduce((s, p) => s + Math.abs(a.colour[p * 3]! / truth.colour[p * 3]! - 1), 0) / ball.length;
    expect(error).toBeLessThan(0.03);
  });

  it('a filter wider than a pixel blurs by the width it says and keeps the light', () => {
    const edge = modelOf('edge', [{ mesh: new MeshMaker().quad([0, -9, 0], [9, 0, 0], [0, 18, 0]).mesh(), material: GLOW }]);
    const row = (filter: Frame['sampling']['filter']): number[] => {
      const picture = trace(edge, { eye: [0, 0, 9], target: [0, 0, 0], focalLength: 50, width: 64, height: 16, samples: 256, sampling: { filter } });
      return Array.from({ length: 64 }, (_, x) => picture.colour[(8 * 64 + x) * 3]!);
    };
    const soft = (values: number[]): number => values.filter((v) => v > 0.002 && v < 0.998).length;
    expect(soft(row({ kind: 'box', width: 1 }))).toBeLessThanOrEqual(1);
    expect(soft(row({ kind: 'box', width: 4 }))).toBe(4);
    expect(soft(row({ kind: 'tent', width: 4 }))).toBe(4);
    const light = (values: number[]): number => values.reduce((s, v) => s + v, 0);
    expect(light(row({ kind: 'gauss', width: 3 }))).toBeCloseTo(light(row({ kind: 'box', width: 1 })), 1);
  });

  it('neighbouring pixels err apart: blurring takes more of the error away than of independent ones', () => {
    const wall = modelOf('wall', [
      { mesh: new MeshMaker().quad([-9, -9, 0], [18, 0, 0], [0, 18, 0]).mesh(), material: { ...MATT, base: [0.7, 0.7, 0.7] as Vec3 } },
    ]);
    const shoot = (frame: Partial<Frame>) => trace(wall, { ...view, width: 64, height: 64, samples: 1, bounces: 1, stage: { lights }, frame });
    const truth = trace(wall, { ...view, width: 64, height: 64, samples: 256, bounces: 1, stage: { lights } });
    const ratio = (picture: Traced): number => {
      // Error of means over 4 × 4 pixels beside that of single ones: a quarter where pixels are independent.
      const e = Float64Array.from({ length: 64 * 64 }, (_, p) => picture.colour[p * 3]! - truth.colour[p * 3]!);
      let [single, blocks] = [0, 0];
      for (const v of e) single += v * v;
      for (let y = 0; y < 64; y += 4) {
        for (let x = 0; x < 64; x += 4) {
          let s = 0;
          for (let k = 0; k < 16; k++) s += e[(y + (k >> 2)) * 64 + x + (k & 3)]!;
          blocks += s * s;
        }
      }
      return Math.sqrt(blocks / 16 / single);
    };
    expect(ratio(shoot({ seed: 1 }))).toBeLessThan(0.5);
    expect(ratio(shoot({ seed: 99 }))).toBeLessThan(0.5);
  });
});
