import { DateTime } from 'luxon';
import { getPosition } from 'suncalc';
import { describe, expect, it } from 'vitest';
import { localTimeOf, clockSteps, dayOf, instantOf } from '../../src/core/units/localTime.js';
import { skyDirection, skyAngles } from '../../src/core/stage/site.js';
import { zoneAt } from '../../src/core/stage/timeZone.js';
import { shadowLength, sunAt, sunDay } from '../../src/core/stage/sun.js';

const DEGREES = 180 / Math.PI;
const at = (iso: string): number => Date.parse(iso);
const place = (latitude: number, longitude = 0) => ({ latitude, longitude, elevation: 0 });

describe('the worked example of NREL/TP-560-34302 (values from memory)', () => {
  const site = { latitude: 39.742476, longitude: -105.1786, elevation: 1830.14 };
  const air = { pressure: 820, temperature: 11 };

  it('has zenith 50.1116° and azimuth 194.3402°, within the 0.02° of a good library', () => {
    const { azimuth, altitude } = sunAt(site, at('2003-10-17T12:30:30-07:00'), air);
    expect(Math.abs(90 - altitude - 50.1116)).toBeLessThan(0.02);
    expect(Math.abs(azimuth - 194.3402)).toBeLessThan(0.02);
  });

  it('has sunrise at 06:12 and sunset at 17:20 by its clock', () => {
    // The report takes one refraction for all heights, and its sunset is of the day by UT, an evening earlier: hence two minutes.
    const { from, to } = dayOf('2003-10-17', 'UTC-7');
    const day = sunDay(site, from, to);
    expect(Math.abs(day.sunrise! - at('2003-10-17T06:12:43-07:00'))).toBeLessThan(60_000);
    expect(Math.abs(day.sunset! - at('2003-10-17T17:20:19-07:00'))).toBeLessThan(120_000);
  });
});

describe('a year of positions beside another package', () => {
  // suncalc's solar coordinates are Meeus' of low precision (chapter 25), good to 0.01°; it leaves out the sun's parallax of 0.0024°.
  // It bends the light of a sun below the horizon as at the horizon, so altitudes are compared above it.
  it.each([-66, -45, -20, 0, 20, 45, 60, 78])('agrees at latitude %d°, altitude and azimuth within 0.02°', (latitude) => {
    let worst = 0;
    for (let day = 0; day < 365; day += 5) {
      for (let hour = 0; hour < 24; hour += 3) {
        const when = Date.UTC(2026, 0, 1 + day, hour);
        const ours = sunAt(place(latitude, 19), when);
        const other = getPosition(new Date(when), latitude, 19);
        // Degrees, from north.
        const { azimuth, altitude } = other;
        const apart = Math.abs(((azimuth - ours.azimuth + 540) % 360) - 180) * Math.cos(ours.geometric / DEGREES);
        worst = Math.max(worst, apart, ours.altitude > 1 ? Math.abs(altitude - ours.altitude) : 0);
      }
    }
    expect(worst).toBeLessThan(0.02);
  });

  it('is polar day and polar night where it should be', () => {
    const day = (date: string) => sunDay(place(69.6, 18.9), dayOf(date, 'Europe/Oslo').from, dayOf(date, 'Europe/Oslo').to);
    expect(day('2026-06-21')).toMatchObject({ polar: 'day', sunrise: null, sunset: null, hours: 24 });
    expect(day('2026-12-21')).toMatchObject({ polar: 'night', sunrise: null, hours: 0 });
    expect(day('2026-03-20').polar).toBeNull();
  });
});

describe('the year', () => {
  it('has solstices at ±23.44° of declination: the altitude at noon is 90° − |latitude − declination|', () => {
    for (const [date, declination] of [
      ['2026-06-21', 23.44],
      ['2026-12-21', -23.44],
    ] as const) {
      for (const latitude of [-60, -30, 0, 30, 60]) {
        const { from, to } = dayOf(date, 'UTC');
        const { noon } = sunDay(place(latitude), from, to);
        expect(sunAt(place(latitude), noon).geometric).toBeCloseTo(90 - Math.abs(latitude - declination), 1);
      }
    }
  });

  it('has the sun cross the horizon due east on the day of an equinox, within 0.5° up to 60° of latitude', () => {
    for (const latitude of [-60, -30, 10, 45, 60]) {
      // The middle of the disc without refraction, by halving.
      let [low, high] = [at('2026-03-20T00:00:00Z'), at('2026-03-20T12:00:00Z')];
      while (high - low > 1000) {
        const middle = (low + high) / 2;
        if (sunAt(place(latitude), middle).geometric < 0) low = middle;
        else high = middle;
      }
      expect(Math.abs(sunAt(place(latitude), low).azimuth - 90)).toBeLessThan(0.5);
    }
  });

  it('throws a shadow of height ÷ tan(altitude)', () => {
    expect(shadowLength(45)).toBeCloseTo(1, 12);
    expect(shadowLength(30)).toBeCloseTo(Math.sqrt(3), 12);
    expect(shadowLength(0)).toBe(Infinity);
    expect(shadowLength(-3)).toBe(Infinity);
  });
});

describe('civil time by the zone rules that the platform ships', () => {
  const zone = 'Europe/Mariehamn';

  it('names the hour that is skipped, and what to choose instead', () => {
    expect(() => instantOf({ date: '2026-03-29', time: '03:30' }, zone)).toThrow(/03:30 on 2026-03-29 is skipped in Europe\/Mariehamn.*04:30/);
    expect(instantOf({ date: '2026-03-29', time: '04:00' }, zone).at - instantOf({ date: '2026-03-29', time: '02:59' }, zone).at).toBe(60_000);
  });

  it('tells the two hours of one name apart', () => {
    const first = instantOf({ date: '2026-10-25', time: '03:30' }, zone);
    const second = instantOf({ date: '2026-10-25', time: '03:30', later: true }, zone);
    expect([first.doubled, second.doubled]).toEqual([true, true]);
    expect(second.at - first.at).toBe(3_600_000);
    expect([first.offset, second.offset]).toEqual([3, 2]);
    expect(localTimeOf(second.at, zone)).toMatchObject({ date: '2026-10-25', time: '03:30', later: true });
    expect(localTimeOf(first.at, zone)).not.toHaveProperty('later');
  });

  it('has days of 23 and 25 hours, and steps that go round them', () => {
    const hours = (date: string): number => (dayOf(date, zone).to - dayOf(date, zone).from) / 3_600_000;
    expect([hours('2026-03-29'), hours('2026-10-25'), hours('2026-06-21')]).toEqual([23, 25, 24]);
    const march = clockSteps('2026-03-29', zone, 60);
    expect(march).toHaveLength(23);
    expect(march.some((c) => c.time === '03:00')).toBe(false);
    const october = clockSteps('2026-10-25', zone, 60);
    expect(october).toHaveLength(25);
    const instants = october.map((c) => instantOf(c, zone).at);
    for (let i = 1; i < instants.length; i++) expect(instants[i]! - instants[i - 1]!).toBe(3_600_000);
  });

  it('agrees with the offsets of Intl over a year', () => {
    for (let day = 0; day < 365; day++) {
      const when = Date.UTC(2026, 0, 1 + day, 12);
      const shown = new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'short' }).format(when);
      const { date, time } = localTimeOf(when, zone);
      expect(`${date} ${time}`).toBe(shown);
      expect(instantOf({ date, time }, zone).at).toBe(when);
    }
  });

  it('knows the zone of a place, at sea too', () => {
    expect(zoneAt(59.9, 19.3)).toMatch(/Mariehamn|Stockholm|Etc\/GMT-1/);
    expect(zoneAt(-33.87, 151.2)).toBe('Australia/Sydney');
    expect(DateTime.now().setZone(zoneAt(0, -30)).isValid).toBe(true);
  });
});

describe('directions in the model', () => {
  it('has north at -Z and east at +X, and turns them clockwise from above', () => {
    expect(skyDirection(0, 0).map((c) => Math.round(c * 1e9) / 1e9 + 0)).toEqual([0, 0, -1]);
    expect(skyDirection(90, 0)[0]).toBeCloseTo(1, 12);
    // True north stands 90° clockwise of -Z, at +X.
    expect(skyDirection(0, 0, 90)[0]).toBeCloseTo(1, 12);
    expect(skyDirection(0, 90)[1]).toBeCloseTo(1, 12);
  });

  it('comes back', () => {
    for (const [azimuth, altitude, north] of [
      [0, 10, 0],
      [123, 45, 30],
      [300, -5, -77],
    ] as const) {
      const back = skyAngles(skyDirection(azimuth, altitude, north), north);
      expect(back.azimuth).toBeCloseTo(azimuth, 9);
      expect(back.altitude).toBeCloseTo(altitude, 9);
    }
  });
});
