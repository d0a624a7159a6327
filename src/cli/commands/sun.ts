/** `easel sun`: where the sun stands over a place at a moment, and when it rises and sets that day. */
import { Option } from 'commander';
import { DateTime } from 'luxon';
import { zoneAt } from '../../core/stage/timeZone.js';
import { STANDARD_AIR, sunAt, sunDay } from '../../core/stage/sun.js';
import { dayOf } from '../../core/units/localTime.js';
import { type Command, InputError } from '../command.js';
import { numberOption } from '../numberOption.js';

interface SunOptions {
  latitude: number;
  longitude: number;
  at: string;
  elevation: number;
  pressure: number;
  temperature: number;
}

/** `easel sun`. */
export const sunCommand: Command<SunOptions> = {
  name: 'sun',
  summary: 'tell where the sun stands, and when it rises and sets',
  options: [
    numberOption('--latitude', 'degrees north', -90, 90).makeOptionMandatory(),
    numberOption('--longitude', 'degrees east', -180, 180).makeOptionMandatory(),
    new Option('--at <time>', 'ISO 8601 time, for example 2026-06-21T15:00').makeOptionMandatory(),
    numberOption('--elevation', 'metres above the sea', -500, 9000).default(0),
    numberOption('--pressure', 'air pressure in hectopascals', 0, 1100).default(STANDARD_AIR.pressure),
    numberOption('--temperature', 'degrees Celsius', -90, 60).default(STANDARD_AIR.temperature),
  ],
  async run(_, { latitude, longitude, at, elevation, pressure, temperature }, say) {
    const hasOffset = /(Z|[+-]\d\d:?\d\d)$/i.test(at);
    const asked = DateTime.fromISO(at, hasOffset ? { setZone: true } : { zone: zoneAt(latitude, longitude) });
    if (!asked.isValid)
      throw new InputError('Give --at as an ISO 8601 time, for example 2026-06-21T15:00+03:00, or without an offset for local time.');
    const site = { latitude, longitude, elevation, timeZone: asked.zoneName };
    const { azimuth, altitude } = sunAt(site, asked.toMillis(), { pressure, temperature });
    const { from, to } = dayOf(asked.toISODate()!, site.timeZone);
    const { sunrise, sunset, noon, dawn, dusk, hours, polar } = sunDay(site, from, to);
    const iso = (time: number | null): string | null => (time === null ? null : DateTime.fromMillis(time, { zone: site.timeZone }).toISO());
    say(`azimuth ${azimuth.toFixed(4)}°, altitude ${altitude.toFixed(4)}° at ${asked.toISO()}`);
    if (polar) say(`The sun stays ${polar === 'day' ? 'up' : 'down'} all that day.`);
    return {
      azimuth,
      altitude,
      sunrise: iso(sunrise),
      sunset: iso(sunset),
      noon: iso(noon),
      dawn: iso(dawn),
      dusk: iso(dusk),
      hours,
      polar,
      timeZone: site.timeZone,
    };
  },
};
