/** The sun over a site, by astronomy-engine (VSOP87 positions, good to an arc minute). Instants are milliseconds since 1970 in UTC. */
import { Body, Equator, Horizon, MakeTime, Observer, Refraction, SearchAltitude, SearchHourAngle, SearchRiseSet } from 'astronomy-engine';
import type { Site } from './site.js';

/** What the sky's air is like, for refraction. */
export interface Air {
  /** Millibars. */
  pressure: number;
  /** Degrees Celsius. */
  temperature: number;
}

/** The air that refraction formulas are written for (Meeus, Astronomical Algorithms, chapter 16). */
export const STANDARD_AIR: Air = { pressure: 1010, temperature: 10 };

/** Angular radius of the sun's disc at its mean distance: 0.53° across. */
export const SUN_RADIUS = 0.2665;

/** Where the sun stands. */
export interface SunPosition {
  /** Degrees clockwise from true north, 0 to 360. */
  azimuth: number;
  /** Degrees above the horizon, with refraction. */
  altitude: number;
  /** The same without refraction. */
  geometric: number;
}

type Place = Pick<Site, 'latitude' | 'longitude' | 'elevation'>;
const observerOf = (site: Place): Observer => new Observer(site.latitude, site.longitude, site.elevation);
const timeOf = (at: number) => MakeTime(new Date(at));

/**
 * Place of the sun's middle. Refraction is Saemundsson's formula, as the library has it, in proportion
 * to pressure and to the inverse of absolute temperature (Meeus, chapter 16).
 */
export function sunAt(site: Place, at: number, air: Air = STANDARD_AIR): SunPosition {
  const [observer, time] = [observerOf(site), timeOf(at)];
  const { ra, dec } = Equator(Body.Sun, time, observer, true, true);
  const { azimuth, altitude } = Horizon(time, observer, ra, dec);
  const bent = Refraction('normal', altitude) * (air.pressure / 1010) * (283 / (273 + air.temperature));
  return { azimuth, altitude: altitude + bent, geometric: altitude };
}

/** Metres of shadow a metre of pole; Infinity at and below the horizon. */
export function shadowLength(altitude: number): number {
  return altitude > 0 ? 1 / Math.tan((altitude * Math.PI) / 180) : Infinity;
}

/** Instants of one day, milliseconds since 1970; null where the sun does not rise or set. */
export interface SunDay {
  sunrise: number | null;
  sunset: number | null;
  /** Highest place, and when. */
  noon: number;
  /** Sun 6° below the horizon: before sunrise and after sunset. */
  dawn: number | null;
  dusk: number | null;
  /** Hours between sunrise and sunset; 0 and 24 in polar night and day. */
  hours: number;
  polar: 'day' | 'night' | null;
}

const DAY = 86_400_000;

/** What the sun does between two instants, which are a civil day. The first of each kind counts. */
export function sunDay(site: Place, from: number, to: number): SunDay {
  const observer = observerOf(site);
  const start = timeOf(from);
  const within = (found: { date: Date } | null): number | null => (found && found.date.getTime() < to ? found.date.getTime() : null);
  const days = (to - from) / DAY;
  const sunrise = within(SearchRiseSet(Body.Sun, observer, 1, start, days));
  const sunset = within(SearchRiseSet(Body.Sun, observer, -1, start, days));
  const noon = SearchHourAngle(Body.Sun, observer, 0, start).time.date.getTime();
  const dawn = within(SearchAltitude(Body.Sun, observer, 1, start, days, -6));
  const dusk = within(SearchAltitude(Body.Sun, observer, -1, start, days, -6));
  const up = sunAt(site, noon).altitude > 0;
  const polar = sunrise === null && sunset === null ? (up ? 'day' : 'night') : null;
  return { sunrise, sunset, noon, dawn, dusk, polar, hours: dayHours(site, from, to, sunrise, sunset) };
}

/** Hours of sun between two instants; near the polar circles a civil day may hold a rise without a set. */
function dayHours(site: Place, from: number, to: number, sunrise: number | null, sunset: number | null): number {
  const hour = 3_600_000;
  if (sunrise !== null && sunset !== null) return sunset > sunrise ? (sunset - sunrise) / hour : (to - from - (sunrise - sunset)) / hour;
  if (sunrise !== null) return (to - sunrise) / hour;
  if (sunset !== null) return (sunset - from) / hour;
  return sunAt(site, (from + to) / 2).geometric > -0.833 ? (to - from) / hour : 0;
}
