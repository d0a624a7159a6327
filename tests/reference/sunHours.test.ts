import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../../src/core/math/bounds.js';
import type { Model } from '../../src/core/model/model.js';
import { siteSchema } from '../../src/core/stage/site.js';
import {
  exposureLevel,
  gridAround,
  groundHours,
  hoursCsv,
  isExposureDay,
  silhouette,
  sunHours,
  type SunStep,
  sunSteps,
} from '../../src/core/stage/sunHours.js';
import { MeshMaker, modelOf } from '../../src/core/model/meshMaker.js';
import { compile } from '../../src/engine/scene/compile.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { SceneQueries } from '../../src/engine/queries/sceneQueries.js';
import { frameFor } from '../support/trace.js';

const RADIANS = Math.PI / 180;
const site = siteSchema.parse({ latitude: 59.9, longitude: 19.3, timeZone: 'UTC' });
const MATT = { base: [1, 1, 1] as Vec3, specular: 0 };

function queries(model: Model): SceneQueries {
  const module = loadKernelModule();
  return new SceneQueries(module, compile(module, model), frameFor(model, { eye: [0, 1, 3], target: [0, 0, 0] }));
}

/** A court of 20 × 20 m between walls of 10 m. */
function court(): Model {
  const wall = (min: Vec3, max: Vec3) => ({ mesh: new MeshMaker().box(min, max).mesh(), material: MATT });
  return modelOf('court', [
    wall([-11, 0, -11], [11, 10, -10]),
    wall([-11, 0, 10], [11, 10, 11]),
    wall([-11, 0, -10], [-10, 10, 10]),
    wall([10, 0, -10], [11, 10, 10]),
  ]);
}

/** Whether the sun reaches a point of the court's floor: the way to it leaves the court over a wall, in closed form. */
function reaches([px, py, pz]: Vec3, { to }: SunStep): boolean {
  // Outer edges shade too, but a ray that clears an inner edge rises on its way over the wall.
  const exits = [to[0] !== 0 ? ((to[0] > 0 ? 10 : -10) - px) / to[0] : Infinity, to[2] !== 0 ? ((to[2] > 0 ? 10 : -10) - pz) / to[2] : Infinity];
  return Math.min(...exits) * to[1] > 10 - py;
}

describe('hours of sun in a court', () => {
  const rays = queries(court());

  it.each(['2026-06-21', '2026-03-21', '2026-12-21'])('are those of the closed form at every point, on %s', (date) => {
    const suns = sunSteps(site, date, 10);
    const points = Array.from({ length: 100 }, (_, i): Vec3 => [-9.5 + (i % 10) * 2.1, 0.01, -9.5 + Math.floor(i / 10) * 2.1]);
    const exact = points.map((p) => suns.filter((s) => reaches(p, s)).length / 6);
    const hours = sunHours(points, suns, 10, (r) => rays.blocked(r));
    hours.forEach((h, i) => expect(h).toBeCloseTo(exact[i]!, 9));
    expect(exact.some((h) => h > 0) || date === '2026-12-21').toBe(true);
  });

  it('are none in winter, when the sun at noon stays lower than the walls let in', () => {
    const suns = sunSteps(site, '2026-12-21', 10);
    expect(Math.max(...suns.map((s) => s.altitude))).toBeLessThan(8);
    expect(sunHours([[0, 0.01, 0]], suns, 10, (r) => rays.blocked(r))).toEqual([0]);
  });

  it('cover the ground around, with roofs and walls left out, and judge it by two hours on half of it', () => {
    const grid = gridAround({ min: [-11, 0, -11], max: [11, 10, 11] }, 0, 32);
    expect(grid.side).toBeCloseTo(2.5 * Math.hypot(11, 11), 9);
    const ground = groundHours(grid, sunSteps(site, '2026-03-21', 10), 10, {
      blocked: (r) => rays.blocked(r),
      met: (r) => rays.met(r),
      top: 100,
    });
    const cell = grid.side / 32;
    ground.hours.forEach((h, i) => {
      const [x, z] = [Math.abs(grid.x + ((i % 32) + 0.5) * cell), Math.abs(grid.z + (Math.floor(i / 32) + 0.5) * cell)];
      const underWall = Math.max(x, z) < 11 && Math.max(x, z) > 10;
      expect(h === null).toBe(underWall);
      expect(ground.heights[i]).toBe(underWall ? null : 0);
    });
    const open = ground.hours.filter((h) => h !== null);
    expect(ground.share).toBeCloseTo(open.filter((h) => h >= 2).length / open.length, 12);
    expect(ground.passes).toBe(ground.share >= 0.5);
    const lines = hoursCsv(ground).split('\r\n');
    expect(lines).toHaveLength(32 * 32 + 2);
    expect(lines[1]).toMatch(/^-18\.\d+,0,-18\.\d+,\d+(\.\d+)?$/);
  });
});

describe('a window', () => {
  // Facing south (+Z) behind a balcony plate that hides all above atan(1.5 / 2).
  const plate = queries(modelOf('balcony', [{ mesh: new MeshMaker().box([-50, 1.5, 0.001], [50, 1.7, 2]).mesh(), material: MATT }]));

  it('sees the sun below the plate above its least altitude, and reaches the level of its hours', () => {
    const suns = sunSteps(site, '2026-03-10', 5, 11).filter((s) => s.to[2] > 0);
    const hours = sunHours([[0, 0, 0.002]], suns, 5, (r) => plate.blocked(r))[0]!;
    // The plate hides a sun whose way rises by more than 1.5 m in 2 m of depth.
    const exact = suns.filter((s) => s.to[1] / s.to[2] < 1.5 / 1.998).length / 12;
    expect(Math.abs(hours - exact)).toBeLessThanOrEqual(1 / 12 + 1e-9);
    expect(exposureLevel(hours)).toBe(exact >= 4 ? 'high' : exact >= 3 ? 'medium' : exact >= 1.5 ? 'minimum' : 'none');
  });

  it('has the levels of EN 17037: 1.5, 3 and 4 hours, between 1 February and 21 March (from memory)', () => {
    expect([1.4, 1.5, 2.9, 3, 4].map(exposureLevel)).toEqual(['none', 'minimum', 'minimum', 'medium', 'high']);
    expect(['2026-01-31', '2026-02-01', '2026-03-21', '2026-03-22'].map(isExposureDay)).toEqual([false, true, true, false]);
  });
});

describe('the silhouette from the middle of the court', () => {
  it('is as high as the walls, all round', () => {
    const { cells, across, up, step } = silhouette([0, 0, 0], 0, (r) => queries(court()).blocked(r), 3);
    expect([across, up]).toEqual([120, 30]);
    for (let column = 0; column < across; column++) {
      const azimuth = (column + 0.5) * step * RADIANS;
      const wall = 10 / Math.max(Math.abs(Math.sin(azimuth)), Math.abs(Math.cos(azimuth)));
      const top = Math.atan(10 / wall) / RADIANS;
      for (let row = 0; row < up; row++) {
        const altitude = (row + 0.5) * step;
        // At the edge itself single precision decides.
        if (Math.abs(altitude - top) > 0.01) expect(cells[row * across + column]).toBe(altitude < top ? 1 : 0);
      }
    }
  });

  it('turns with true north', () => {
    const wall = queries(modelOf('wall', [{ mesh: new MeshMaker().box([-1000, 0, -11], [1000, 1000, -10]).mesh(), material: MATT }]));
    // The wall stands at -Z. True north is 90° clockwise of it, so it stands in the west.
    const { cells } = silhouette([0, 0, 0], 90, (r) => wall.blocked(r), 2);
    expect([cells[0], cells[45], cells[80], cells[135]]).toEqual([0, 0, 0, 1]);
  });
});
