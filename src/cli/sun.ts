/** `easel sun`: where the sun stands over a place at a moment, and when it rises and sets that day. */
import { DateTime } from 'luxon';
import { dayOf } from '../core/units/localTime.js';
import { zoneAt } from '../core/stage/site.js';
import { STANDARD_AIR, sunAt, sunDay } from '../core/stage/sun.js';
import { type Command } from './command.js';
import { InputError, type Options } from './input.js';

function number(options: Options, name: string, least: number, most: number, otherwise?: number): number {
  const text = options[name];
  if (text === undefined && otherwise !== undefined) return otherwise;
  const value = typeof text === 'string' && text.trim() !== '' ? Number(text) : NaN;
  if (!(value >= least && value <= most)) throw new InputError(`Give --${name} as a number from ${least} to ${most}.`);
  return value;
}

export const sun: Command = {
  usage: 'sun --latitude 59.9 --longitude 19.3 --at 2026-06-21T15:00 [--elevation 4] [--pressure 1010] [--temperature 10]',
  options: ['latitude', 'longitude', 'at', 'elevation', 'pressure', 'temperature'],
  async run(words, options, say) {
    if (words.length > 0) throw new InputError(`"${words[0]}" is not known here; sun takes options alone.`);
    const latitude = number(options, 'latitude', -90, 90);
    const longitude = number(options, 'longitude', -180, 180);
    const text = typeof options.at === 'string' ? options.at : '';
    const offset = /(Z|[+-]\d\d:?\d\d)$/i.test(text);
    const asked = DateTime.fromISO(text, offset ? { setZone: true } : { zone: zoneAt(latitude, longitude) });
    if (!asked.isValid) {
      throw new InputError('Give --at as an ISO 8601 time, for example 2026-06-21T15:00+03:00, or without an offset for the clocks of the place.');
    }
    const site = { latitude, longitude, elevation: number(options, 'elevation', -500, 9000, 0), timeZone: asked.zoneName };
    const air = {
      pressure: number(options, 'pressure', 0, 1100, STANDARD_AIR.pressure),
      temperature: number(options, 'temperature', -90, 60, STANDARD_AIR.temperature),
    };
    const { azimuth, altitude } = sunAt(site, asked.toMillis(), air);
    const { from, to } = dayOf(asked.toISODate()!, site.timeZone);
    const day = sunDay(site, from, to);
    const iso = (at: number | null): string | null => (at === null ? null : DateTime.fromMillis(at, { zone: site.timeZone }).toISO());
    say(`azimuth ${azimuth.toFixed(4)}°, altitude ${altitude.toFixed(4)}° at ${asked.toISO()}`);
    if (day.polar) say(`The sun stays ${day.polar === 'day' ? 'up' : 'down'} all that day.`);
    return {
      azimuth,
      altitude,
      sunrise: iso(day.sunrise),
      sunset: iso(day.sunset),
      noon: iso(day.noon),
      dawn: iso(day.dawn),
      dusk: iso(day.dusk),
      hours: day.hours,
      polar: day.polar,
      timeZone: site.timeZone,
    };
  },
};
