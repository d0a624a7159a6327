import { OrthographicCamera, PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../src/core/math/bounds.js';
import { angleOfView, cameraOf, focalLengthOf, halfTangents, LONG_SIDE_MM, projectPoint } from '../../src/core/camera/view.js';

const POINTS: Vec3[] = [
  [0, 0, 0],
  [1, 2, -1],
  [-2, 0.5, 1.5],
  [3, -1, 0.2],
  [-0.3, 1.9, -2],
];

/** three.js' own camera for the view, aimed and shifted by three's means. */
function threeCamera(
  eye: Vec3,
  target: Vec3,
  focalLength: number,
  size: { width: number; height: number },
  pixelAspect: number,
  keepVerticals: boolean,
): PerspectiveCamera {
  const aspect = (size.width * pixelAspect) / size.height;
  const camera = new PerspectiveCamera(50, aspect, 0.01, 1e4);
  // three takes the film gauge as the long side, too.
  camera.filmGauge = LONG_SIDE_MM;
  camera.setFocalLength(focalLength);
  camera.position.set(...eye);
  camera.lookAt(target[0], keepVerticals ? eye[1] : target[1], target[2]);
  camera.updateMatrixWorld();
  camera.updateProjectionMatrix();
  if (keepVerticals) {
    // Rising front: the window of the picture plane moves by the target's height over its distance.
    const level = Math.hypot(target[0] - eye[0], target[2] - eye[2]);
    const halves = Math.tan((camera.fov * Math.PI) / 360);
    const shift = (target[1] - eye[1]) / level / halves;
    camera.setViewOffset(size.width, size.height, 0, (-shift * size.height) / 2, size.width, size.height);
    camera.updateProjectionMatrix();
  }
  return camera;
}

describe('roll and parallel views', () => {
  const size = { width: 1600, height: 900 };
  const [eye, target]: Vec3[] = [
    [4, 3, 5],
    [0, 1, 0],
  ] as Vec3[];

  it.each([-30, 7, 90])('a camera rolled by %d° about its own axis lands points where three.js does', (roll) => {
    const ours = cameraOf({ eye: eye!, target: target!, focalLength: 50, keepVerticals: false, roll }, size, 1);
    const theirs = threeCamera(eye!, target!, 50, size, 1, false);
    // Clockwise as the camera sees itself from behind: about its own -Z.
    theirs.rotateZ((-roll * Math.PI) / 180);
    theirs.updateMatrixWorld();
    for (const p of POINTS) {
      const q = new Vector3(...p).project(theirs);
      const [x, y] = projectPoint(ours, size, p)!;
      expect(Math.abs(x - ((q.x + 1) / 2) * size.width)).toBeLessThan(1e-3);
      expect(Math.abs(y - ((1 - q.y) / 2) * size.height)).toBeLessThan(1e-3);
    }
  });

  it('a parallel view lands points where three.js does, and over its width on the picture’s edges', () => {
    const ours = cameraOf({ eye: eye!, target: target!, focalLength: 50, keepVerticals: false, kind: 'parallel', width: 8 }, size, 1);
    const theirs = new OrthographicCamera(-4, 4, 2.25, -2.25, 0.01, 1e4);
    theirs.position.set(...eye!);
    theirs.lookAt(...target!);
    theirs.updateMatrixWorld();
    for (const p of POINTS) {
      const q = new Vector3(...p).project(theirs);
      const [x, y] = projectPoint(ours, size, p)!;
      expect(Math.abs(x - ((q.x + 1) / 2) * size.width)).toBeLessThan(1e-3);
      expect(Math.abs(y - ((1 - q.y) / 2) * size.height)).toBeLessThan(1e-3);
    }
  });

  it('angle and focal length say the same', () => {
    for (const mm of [12, 28, 50, 200]) expect(focalLengthOf(angleOfView(mm))).toBeCloseTo(mm, 9);
    expect(focalLengthOf(54.43)).toBeCloseTo(35, 1);
  });
});

describe('cameras', () => {
  const cases: [string, Vec3, Vec3, number, { width: number; height: number }, number, boolean][] = [
    ['landscape', [12, 1.65, 9], [0, 1.65, 0], 28, { width: 1920, height: 1080 }, 1, false],
    ['portrait', [4, 3, 5], [0, 1, 0], 50, { width: 1080, height: 1920 }, 1, false],
    ['D1 with wide pixels', [-6, 2, 7], [0.5, 0.2, 0], 35, { width: 720, height: 486 }, 0.9, false],
    ['uprights looking up', [9, 1.6, 12], [0, 5, 0], 24, { width: 1600, height: 900 }, 1, true],
    ['uprights looking down, tall', [9, 8, 12], [0, 1, 0], 35, { width: 900, height: 1600 }, 1, true],
  ];
  it.each(cases)('%s: points land on the same pixel as by three.js within 1e-3', (_, eye, target, focalLength, size, pixelAspect, keepVerticals) => {
    const ours = cameraOf({ eye, target, focalLength, keepVerticals }, size, pixelAspect);
    const theirs = threeCamera(eye, target, focalLength, size, pixelAspect, keepVerticals);
    for (const p of POINTS) {
      const q = new Vector3(...p).project(theirs);
      const [x, y] = projectPoint(ours, size, p)!;
      expect(Math.abs(x - ((q.x + 1) / 2) * size.width)).toBeLessThan(1e-3);
      expect(Math.abs(y - ((1 - q.y) / 2) * size.height)).toBeLessThan(1e-3);
    }
    if (keepVerticals) {
      const [x, y] = projectPoint(ours, size, target)!;
      expect([x, y].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([size.width / 2, size.height / 2]);
      const foot = projectPoint(ours, size, [1, 0, 0])!;
      const head = projectPoint(ours, size, [1, 3, 0])!;
      expect(Math.abs(foot[0] - head[0])).toBeLessThan(1e-6);
    }
  });

  // 2 atan(36 / 2f), the closed form; common values of photography, no source.
  it.each([
    [50, 39.6],
    [35, 54.4],
    [28, 65.5],
  ])('%i mm sees %f° across the long side', (focal, angle) => {
    expect(angleOfView(focal)).toBeCloseTo(angle, 1);
  });

  it('sees 27.0° across the short side of 3:2 and 22.9° of 16:9 at 50 mm', () => {
    const short = (width: number, height: number): number => (2 * Math.atan(halfTangents(50, { width, height }, 1)[1]) * 180) / Math.PI;
    expect(short(3000, 2000)).toBeCloseTo(27.0, 1);
    expect(short(1920, 1080)).toBeCloseTo(22.9, 1);
  });
});
