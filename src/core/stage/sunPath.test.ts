import { describe, expect, it } from 'vitest';
import { siteSchema } from './site.js';
import { sunAt } from './sun.js';
import { dayArc, dayCsv, dayTable, hourLines, nearestOnDay, project, unproject, simplifyDrawnPath } from './sunPath.js';

const site = siteSchema.parse({ latitude: 59.9, longitude: 19.3, timeZone: 'Europe/Mariehamn' });

describe('the diagram', () => {
  it('has the zenith in the middle, north up, east to the right, the horizon at 1', () => {
    expect(project({ azimuth: 77, altitude: 90 }).map((v) => Math.abs(v))).toEqual([expect.closeTo(0, 12), expect.closeTo(0, 12)]);
    expect(project({ azimuth: 0, altitude: 0 })).toEqual([0, expect.closeTo(-1, 12)]);
    expect(project({ azimuth: 90, altitude: 0 })).toEqual([expect.closeTo(1, 12), expect.closeTo(0, 12)]);
    // Stereographic: 45° up stands at tan(22.5°).
    expect(project({ azimuth: 180, altitude: 45 })[1]).toBeCloseTo(Math.SQRT2 - 1, 12);
  });

  it('is undone', () => {
    for (const place of [
      { azimuth: 12, altitude: 3 },
      { azimuth: 200, altitude: 70 },
      { azimuth: 359, altitude: -4 },
    ]) {
      const back = unproject(...project(place));
      expect(back.azimuth).toBeCloseTo(place.azimuth, 9);
      expect(back.altitude).toBeCloseTo(place.altitude, 9);
    }
  });

  it('draws a day from midnight to midnight, longer where clocks are put back', () => {
    expect(dayArc(site, '2026-06-21')).toHaveLength(145);
    expect(dayArc(site, '2026-10-25')).toHaveLength(151);
    expect(Math.max(...dayArc(site, '2026-06-21').map((p) => p.altitude))).toBeCloseTo(90 - 59.9 + 23.44, 0);
  });

  it('has hour lines that pass through the sun of that hour', () => {
    const noon = hourLines(site, 2026)[12]!;
    const { azimuth, altitude } = sunAt(site, Date.UTC(2026, 0, 11, 10));
    expect(noon.points[1]).toEqual({ azimuth, altitude });
  });

  it('finds the time at which the sun stands where a hand drags it', () => {
    const at = Date.UTC(2026, 5, 21, 14, 17);
    const [x, y] = project(sunAt(site, at));
    expect(nearestOnDay(site, '2026-06-21', x, y)).toBe(at);
    // A little off the arc, the nearest place on it counts.
    expect(Math.abs(nearestOnDay(site, '2026-06-21', x * 1.02, y * 1.02) - at)).toBeLessThan(30 * 60_000);
  });
});

describe('the table of a day', () => {
  it('says sunrise, noon, and the shadow of a metre', () => {
    const { day, rows } = dayTable(site, '2026-03-20');
    expect(rows).toHaveLength(24);
    expect(day.hours).toBeGreaterThan(12);
    expect(day.hours).toBeLessThan(12.4);
    const noon = rows.find((r) => r.time === '12:00')!;
    expect(noon.shadow).toBeCloseTo(1 / Math.tan((noon.altitude * Math.PI) / 180), 9);
    expect(rows[0]!.shadow).toBeNull();
  });

  it('goes out as CSV, the doubled hour marked', () => {
    const lines = dayCsv(site, '2026-10-25').split('\r\n');
    expect(lines).toHaveLength(27);
    expect(lines[0]).toContain('azimuth degrees');
    expect(lines.filter((l) => l.startsWith('2026-10-25,03:00'))).toEqual([
      expect.stringContaining('03:00,,') as string,
      expect.stringContaining('03:00,second,') as string,
    ]);
    expect(lines[1]).toMatch(/^2026-10-25,00:00,,332\.\d+,-39\.\d+,$/);
  });
});

describe('a way of the sun drawn by hand', () => {
  const arc = Array.from({ length: 200 }, (_, i) => project({ azimuth: 90 + (180 * i) / 199, altitude: 10 + 50 * Math.sin((Math.PI * i) / 199) }));

  it('is told by as many places as it needs, ends included', () => {
    const places = simplifyDrawnPath(arc)!;
    expect(places.length).toBeGreaterThan(4);
    expect(places.length).toBeLessThanOrEqual(40);
    expect(places[0]).toEqual({ azimuth: 90, altitude: 10 });
    expect(places.at(-1)).toEqual({ azimuth: 270, altitude: 10 });
    // No point of the drawing lies far off the straight steps between them.
    const kept = places.map(project);
    for (const [x, y] of arc) {
      const off = Math.min(
        ...kept.slice(1).map(([bx, by], i) => {
          const [ax, ay] = kept[i]!;
          const t = Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)));
          return Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay));
        }),
      );
      expect(off).toBeLessThan(0.011);
    }
  });

  it('keeps two places of a straight stroke, none below the horizon, and is nothing where it is a click', () => {
    const stroke = Array.from({ length: 50 }, (_, i): [number, number] => [-0.9 + (1.8 * i) / 49, 0.2]);
    expect(simplifyDrawnPath(stroke)).toHaveLength(2);
    expect(
      simplifyDrawnPath([
        [0, -1.02],
        [0.5, -0.5],
      ])![0],
    ).toEqual({ azimuth: 0, altitude: 0 });
    expect(
      simplifyDrawnPath([
        [0, 0],
        [0.001, 0],
      ]),
    ).toBeNull();
  });
});
