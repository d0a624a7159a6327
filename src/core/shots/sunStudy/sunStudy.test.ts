import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { instantOf } from '../../units/localTime.js';
import { siteSchema } from '../../stage/site.js';
import { sunAt } from '../../stage/sun.js';
import { planFrames } from '../../planning/planFrames.js';
import { parseSet } from '../../plan/set.js';
import { monthDates, pointsOnPath, seasonDates, type SunStudyShot, sunStudySchema, timesOfDay } from './sunStudy.js';

const SITE = { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' };
const site = siteSchema.parse(SITE);
const study = (values: Partial<SunStudyShot> = {}): SunStudyShot =>
  sunStudySchema.parse({
    id: 'sun',
    kind: 'sunStudy',
    view: 'a',
    dates: ['2026-06-21'],
    ...(values.count === undefined && !values.path && { stepMinutes: 30 }),
    ...values,
  });
const planned = (shot: object, stage: object = { site: SITE }) =>
  parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Set',
    stage,
    shots: [shot],
    views: [{ id: 'a', name: 'A', eye: [0, 1, 5], target: [0, 1, 0] }],
  });
const CONTEXT = { bounds: { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] }, scene: 'abc' };

describe('the legend of a picture', () => {
  const words = (shot: object): (string | undefined)[] => planFrames(planned(shot), CONTEXT).map((f) => f.legend?.text);
  it('says date, time and altitude of its own sun, in the corner that was chosen', () => {
    const frames = planFrames(planned(study({ from: '12:00', to: '13:00', legend: 'bottom left' })), CONTEXT);
    expect(frames).toHaveLength(3);
    for (const f of frames) {
      expect(f.legend!.corner).toBe('bottom left');
      expect(f.legend!.text).toBe(`2026-06-21  ${f.sun!.time}  sun ${f.sun!.altitude.toFixed(1)}°`);
    }
  });
  it('names the second of two hours of one name, and a sun that was put by hand by its place', () => {
    const night = study({ dates: ['2026-10-25'], from: '03:00', to: '03:00', minimumAltitude: -6, legend: 'top left' });
    expect(words(night).map((w) => w!.includes('(second)'))).toEqual([false, true]);
    const path = study({
      path: {
        points: [
          { azimuth: 90, altitude: 10 },
          { azimuth: 180, altitude: 30 },
        ],
        frames: 2,
      },
      legend: 'top left',
    });
    expect(words(path)).toEqual(['sun 10.0° at 90°', 'sun 30.0° at 180°']);
  });
  it('stands in no picture where it is not asked for, and is no part of the pixels that are traced', () => {
    expect(words(study())).toEqual(words(study()).map(() => undefined));
    const ids = (shot: object) => planFrames(planned(shot), CONTEXT).map((f) => f.identity);
    expect(ids(study({ legend: 'top right' }))).toEqual(ids(study()));
  });
});

describe('times of a day', () => {
  it('fall on whole steps of the clock, both ends included', () => {
    expect(timesOfDay(study({ from: '09:10', to: '11:30' }), '2026-06-21', site).map((c) => c.time)).toEqual([
      '09:30',
      '10:00',
      '10:30',
      '11:00',
      '11:30',
    ]);
    expect(timesOfDay(study({ from: '09:00', to: '09:00' }), '2026-06-21', site)).toHaveLength(1);
  });

  it('go from the first to the last step with the sun above 3° unless another altitude is chosen', () => {
    for (const minimumAltitude of [0, 3, 20]) {
      const times = timesOfDay(study({ minimumAltitude }), '2026-03-21', site);
      const altitude = (time: string, by: number): number =>
        sunAt(site, instantOf({ date: '2026-03-21', time }, site.timeZone).at + by * 1_800_000).altitude;
      for (const { time } of times) expect(altitude(time, 0)).toBeGreaterThan(minimumAltitude);
      expect(altitude(times[0]!.time, -1)).toBeLessThanOrEqual(minimumAltitude);
      expect(altitude(times.at(-1)!.time, 1)).toBeLessThanOrEqual(minimumAltitude);
    }
  });

  it('are none where the sun does not rise so high, and all round the clock where it does not set', () => {
    const north = siteSchema.parse({ ...SITE, latitude: 78, longitude: 15, timeZone: 'Europe/Oslo' });
    expect(timesOfDay(study(), '2026-12-21', north)).toEqual([]);
    expect(timesOfDay(study(), '2026-06-21', north)).toHaveLength(48);
    expect(timesOfDay(study({ count: 10 }), '2026-12-21', north)).toEqual([]);
  });

  it('go round the hour that clocks skip, and through the one they show twice', () => {
    const day = (date: string) => timesOfDay(study({ from: '02:00', to: '05:00', stepMinutes: 60 }), date, site);
    expect(day('2026-03-29').map((c) => c.time)).toEqual(['02:00', '04:00', '05:00']);
    expect(day('2026-10-25').map((c) => `${c.time}${c.later ? ' again' : ''}`)).toEqual(['02:00', '03:00', '03:00 again', '04:00', '05:00']);
  });

  it('by number are so many, evenly to the minute, from end to end', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 60 }), (count) => {
        const times = timesOfDay(study({ count, from: '08:00', to: '20:00' }), '2026-06-21', site);
        expect(times).toHaveLength(count);
        expect([times[0]!.time, times.at(-1)!.time]).toEqual(['08:00', '20:00']);
        const at = times.map((c) => instantOf(c, site.timeZone).at / 60_000);
        at.forEach((t, i) => expect(Math.abs(t - at[0]! - (720 * i) / (count - 1))).toBeLessThanOrEqual(0.5));
      }),
      { numRuns: 20 },
    );
  });
});

describe('a sun study', () => {
  it('is planned with the sun of each frame, the stage lit by it, and times in the names', () => {
    const set = planned({ ...study({ from: '10:00', to: '12:00', dates: ['2026-03-20', '2026-06-21'] }) });
    set.sheet.names.moving = '{shot}/{date}-{time}.{frame:3}';
    const frames = planFrames(set, CONTEXT);
    expect(frames).toHaveLength(10);
    expect(frames.map((f) => f.name).slice(4, 6)).toEqual(['sun/2026-03-20-1200.005', 'sun/2026-06-21-1000.006']);
    for (const f of frames) {
      const exact = sunAt(site, instantOf({ date: f.sun!.date!, time: f.sun!.time! }, site.timeZone).at);
      expect(f.sun!.azimuth).toBe(exact.azimuth);
      const [light] = f.stage.lights;
      expect(light?.kind).toBe('sun');
      // Light comes from where the sun stands: its altitude is in the lamp and in the sky.
      expect(Math.asin(f.stage.sky!.sun[1]) * (180 / Math.PI)).toBeCloseTo(exact.altitude, 9);
      if (light?.kind === 'sun') expect(-light.direction[1]).toBeCloseTo(f.stage.sky!.sun[1], 12);
    }
    expect(new Set(frames.map((f) => f.identity)).size).toBe(10);
    expect(frames.map((f) => f.time)).toEqual(frames.map((_, i) => i / 24));
  });

  it('keeps haze and sky of the stage, and does not need daylight to be on', () => {
    const daylight = { date: '2026-01-10', time: '12:00', sky: 'overcast', turbidity: 5 };
    const [frame] = planFrames(planned(study(), { site: SITE, daylight }), CONTEXT);
    expect(frame!.stage.sky).toMatchObject({ type: 1, turbidity: 5 });
    expect(frame!.stage.lights).toEqual([]);
    expect(planFrames(planned(study()), CONTEXT)[0]!.stage.sky).toMatchObject({ type: 12 });
  });

  it('is the same picture whatever it is called, and another when north is', () => {
    const [a] = planFrames(planned(study()), CONTEXT);
    const [b] = planFrames(planned({ ...study(), id: 'other', name: 'Other' }), CONTEXT);
    const [c] = planFrames(planned(study(), { site: { ...SITE, north: 10 } }), CONTEXT);
    expect(b!.identity).toBe(a!.identity);
    expect(c!.identity).not.toBe(a!.identity);
  });

  it('is refused without a site, a date or a way to count, with the place named', () => {
    expect(() => planned(study(), {})).toThrow(/stage\.site: The shot "sun" follows the sun/);
    expect(() => planned({ id: 'sun', kind: 'sunStudy', view: 'a', stepMinutes: 30 })).toThrow(/needs a date/);
    expect(() => planned({ id: 'sun', kind: 'sunStudy', view: 'a', dates: ['2026-06-21'] })).toThrow(/either stepMinutes or count/);
    expect(() => planned({ ...study(), from: '15:00', to: '09:00' })).toThrow(/must be before its end/);
    expect(() => planned({ ...study(), dates: ['2026-02-30'] })).toThrow(/no such day/);
  });
});

describe('dates', () => {
  it('are those of the seasons by the clocks of the site', () => {
    // Published times of 2026 (USNO, from memory): 20 Mar 14:46, 21 Jun 08:25, 23 Sep 00:05, 21 Dec 20:50 UT.
    expect(seasonDates(2026, 'UTC')).toEqual(['2026-03-20', '2026-06-21', '2026-09-23', '2026-12-21']);
    expect(seasonDates(2026, 'America/New_York')[2]).toBe('2026-09-22');
    expect(monthDates(2026)).toHaveLength(12);
  });
});

describe('a path of the sun', () => {
  it('goes evenly along great circles, through all of its places', () => {
    const path = {
      points: [
        { azimuth: 90, altitude: 10 },
        { azimuth: 180, altitude: 50 },
        { azimuth: 270, altitude: 10 },
      ],
      frames: 41,
    };
    const places = pointsOnPath(path);
    expect(places).toHaveLength(41);
    expect(places[0]!.azimuth).toBeCloseTo(90, 9);
    // Both legs are as long, so the middle frame stands on the middle place.
    expect(places[20]!.altitude).toBeCloseTo(50, 9);
    expect(places[40]!.azimuth).toBeCloseTo(270, 9);
    const way = (p: { azimuth: number; altitude: number }): number[] => {
      const [a, h] = [(p.azimuth * Math.PI) / 180, (p.altitude * Math.PI) / 180];
      return [Math.sin(a) * Math.cos(h), Math.cos(a) * Math.cos(h), Math.sin(h)];
    };
    const steps = places.slice(1).map((p, i) =>
      Math.acos(
        Math.min(
          1,
          way(p).reduce((s, c, k) => s + c * way(places[i]!)[k]!, 0),
        ),
      ),
    );
    // The path turns at its middle place, where the step is whole on either side.
    expect(Math.max(...steps) - Math.min(...steps)).toBeLessThan(1e-6);
  });

  it('needs no site', () => {
    const path = {
      points: [
        { azimuth: 90, altitude: 5 },
        { azimuth: 200, altitude: 60 },
      ],
      frames: 5,
    };
    const frames = planFrames(planned(study({ path, dates: [] }), {}), CONTEXT);
    expect(frames).toHaveLength(5);
    expect(frames[0]!.sun).toEqual({ azimuth: expect.closeTo(90, 9) as number, altitude: expect.closeTo(5, 9) as number });
  });
});
