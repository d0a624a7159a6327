import { describe, expect, it } from 'vitest';
import { vec3 } from 'gl-matrix';
import type { Vec3 } from '../../math/bounds.js';
import { planFrames } from '../../planning/planFrames.js';
import { parseSet } from '../../plan/set.js';
import { parseRate } from '../../units/rate.js';
import { turnMatrix, type View } from '../../camera/view.js';
import { rimSpeed, turntableSchema, type TurntableShot } from './turntable.js';

const CONTEXT = { bounds: { min: [-1, 0, -1] as Vec3, max: [1, 2, 1] as Vec3 }, scene: 'abc' };
const SIZE = { width: 1920, height: 1080 };
const VIEW: View = {
  id: 'v',
  name: 'V',
  kind: 'parallel',
  eye: [0, 0.5, 5],
  target: [0, 0.5, 0],
  focalLength: 50,
  keepVerticals: false,
  width: 4,
};
const framesFor = (shot: Partial<TurntableShot>, stage: object = {}) =>
  planFrames(
    parseSet({
      format: 'cold-easel.set',
      version: 2,
      name: 'S',
      stage,
      shots: [{ id: 'spin', kind: 'turntable', view: 'a', frames: 40, ...shot }],
      views: [{ id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0] }],
    }),
    CONTEXT,
  );

describe('a turntable with ease in/out', () => {
  it('covers the same turn, slow at its ends and fastest in its middle', () => {
    const angles = framesFor({ ease: true, degrees: 90, frames: 41 }).map((f) => f.turn!.angle);
    expect([angles[0], angles[20], angles[40]]).toEqual([0, expect.closeTo(45, 9), 90]);
    const steps = angles.slice(1).map((a, i) => a - angles[i]!);
    expect(steps[0]!).toBeLessThan(steps[20]! / 5);
    expect(steps.at(-1)!).toBeLessThan(steps[20]! / 5);
    steps.forEach((s) => expect(s).toBeGreaterThan(0));
  });

  it('is even unless it is asked for', () => {
    const steps = framesFor({}).map((f) => f.turn!.angle);
    steps.slice(1).forEach((a, i) => expect(a - steps[i]!).toBeCloseTo(9, 9));
  });
});

describe('a turning surround', () => {
  const free = { manualSun: { azimuth: 90, altitude: 30 } };

  it('turns the sun with the sky, counterclockwise seen from above', () => {
    const frames = framesFor({ turns: ['environment'] }, { daylight: free });
    const bearing = (d: readonly number[]): number => (Math.atan2(d[0]!, -d[2]!) * 180) / Math.PI;
    // The shot is seen to turn counterclockwise; what turns instead of the subject goes the other way round.
    const way = Math.sign(frames[1]!.turn!.rotation);
    const sky = frames.map((f) => bearing(f.stage.sky!.sun));
    expect(((((sky[0]! - sky[10]!) * way) % 360) + 360) % 360).toBeCloseTo(90, 6);
    frames.forEach((f) => {
      const [light] = f.stage.lights;
      if (light?.kind !== 'sun') throw new Error('no sun');
      light.direction.forEach((c, i) => expect(-c).toBeCloseTo(f.stage.sky!.sun[i]!, 9));
      expect(f.stage.sky!.sun[1]).toBeCloseTo(0.5, 9);
    });
    expect(new Set(frames.map((f) => f.identity)).size).toBe(40);
  });

  it('turns a picture of light, and leaves the lamps of the stage', () => {
    const frames = framesFor({ turns: ['environment'] }, { environment: { file: 'court.hdr', rotation: 10 } });
    expect(frames[10]!.stage.image!.rotation).toBeCloseTo(10 + frames[10]!.turn!.rotation, 9);
    const plain = framesFor({ turns: ['environment'] });
    expect(plain[10]!.stage.lights).toEqual(plain[0]!.stage.lights);
  });
});

describe('the outer edge of what turns', () => {
  it('moves by the chord of a step at its radius, and a slower turn is under the limit', () => {
    const bounds = { min: [-1, 0, 0] as Vec3, max: [1, 1, 0] as Vec3 };
    const turn = (frames: number) =>
      rimSpeed(turntableSchema.parse({ id: 't', kind: 'turntable', view: 'v', frames }), { views: [VIEW], bounds, rate: parseRate('24') }, SIZE, 1)!;
    // 480 pixels a metre; 5° at 1 m are 2 sin 2.5°.
    expect(turn(72).pixels).toBeCloseTo(480 * 2 * Math.sin((2.5 * Math.PI) / 180), 6);
    expect(turn(72).most).toBe(40);
    expect(turn(72).pixels).toBeGreaterThan(turn(72).most);
    expect(turn(144).pixels).toBeLessThan(turn(144).most);
  });
});

describe('an axis through two points', () => {
  const axis = { from: [0, 1, 0] as Vec3, to: [0, 1, 2] as Vec3 };

  it('turns the subject about the line from the first to the second', () => {
    const [first, tenth] = [0, 10].map((i) => framesFor({ axis })[i]!);
    expect(first!.turn).toMatchObject({ pivot: [0, 1, 0], axis: [0, 0, 1] });
    expect(tenth!.identity).not.toBe(framesFor({ pivot: [0, 1, 0] })[10]!.identity);
    // A quarter of a turn, counterclockwise seen from the second point: what was to the right is on top.
    const [x, y, z] = vec3.transformMat4([0, 0, 0], [1, 1, 0.5], turnMatrix(tenth!.turn!, tenth!.turn!.rotation));
    expect([x, y, z]).toEqual([expect.closeTo(0, 9), expect.closeTo(2, 9), 0.5]);
  });

  it('measures the rim from that line', () => {
    const context = { views: [VIEW], bounds: CONTEXT.bounds, rate: parseRate('24') };
    const rim = (shot: object): number =>
      rimSpeed(turntableSchema.parse({ id: 't', kind: 'turntable', view: 'v', frames: 72, ...shot }), context, SIZE, 1)!.pixels;
    // The box is 2 m wide and high: its edge lies √2 from a line along z through its middle, as from the vertical.
    expect(rim({ axis })).toBeCloseTo(rim({}), 6);
    expect(rim({ axis: { from: [1, 2, 0], to: [1, 2, 1] } })).toBeCloseTo(2 * rim({}), 6);
  });

  it('must have a direction, and turns the subject alone', () => {
    expect(() => framesFor({ axis: { from: [0, 0, 0], to: [0, 0, 0] } })).toThrow('two different points');
    expect(() => framesFor({ axis, turns: ['camera'] })).toThrow('Only the subject turns about a line');
  });
});
