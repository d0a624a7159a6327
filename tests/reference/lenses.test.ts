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
