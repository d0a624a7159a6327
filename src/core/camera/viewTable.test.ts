import { describe, expect, it } from 'vitest';
import { orthographicView, planSquare } from './orthographic.js';
import { cameraOf, projectPoint, type View } from './view.js';
import { viewRows, viewsCsv } from './viewTable.js';

const VIEW: View = { id: 'a', name: 'Quay, "low"', kind: 'perspective', eye: [0, 2, 5], target: [0, 1, 0], focalLength: 35, keepVerticals: true };
const SIZE = { width: 1600, height: 900 };

describe('the register of views', () => {
  it('says lens, angle, pitch and shift', () => {
    const [row, flat, round] = viewRows(
      [VIEW, { ...VIEW, kind: 'parallel', width: 3, keepVerticals: false }, { ...VIEW, kind: 'panorama', keepVerticals: false }],
      SIZE,
      1,
    );
    expect(row!.angle).toBeCloseTo(54.43, 2);
    expect(row!.pitch).toBeCloseTo((-Math.atan(1 / 5) * 180) / Math.PI, 9);
    // tan of the pitch over the tangent of half the angle up: 18 / 35 · 9 / 16.
    expect(row!.shift).toBeCloseTo(-0.2 / ((18 / 35) * (9 / 16)), 9);
    expect([flat!.lens, flat!.angle, round!.lens]).toEqual([3, null, null]);
  });

  it('goes out as CSV, quoted as RFC 4180 asks, and with no formula in it', () => {
    const lines = viewsCsv([VIEW, { ...VIEW, name: '=1+1' }], SIZE, 1).split('\r\n');
    expect(lines).toHaveLength(4);
    expect(lines[1]).toMatch(/^"Quay, ""low""",,perspective,0,2,5,0,1,0,35,54\.43/);
    expect(lines[2]).toMatch(/^'=1\+1,/);
  });
});

describe('the plan', () => {
  it('is drawn from straight above with -Z up, and its square is what its picture shows', () => {
    const bounds = { min: [-2, 0, 1] as [number, number, number], max: [4, 3, 3] as [number, number, number] };
    const { x, y: z, side } = planSquare(bounds);
    expect(side).toBe(9);
    const square = { width: 100, height: 100 };
    const camera = cameraOf(orthographicView('plan', bounds), square, 1);
    const corner = projectPoint(camera, square, [x, 0, z])!;
    expect(corner[0]).toBeCloseTo(0, 6);
    expect(corner[1]).toBeCloseTo(0, 6);
    const other = projectPoint(camera, square, [x + side, 0, z + side])!;
    expect(other[0]).toBeCloseTo(100, 6);
    expect(other[1]).toBeCloseTo(100, 6);
  });
});
