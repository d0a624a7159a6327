/** The clocks of a place. Apart from the site, since the map of all zones is large and is seldom asked. */
import tzlookup from '@photostructure/tz-lookup';

/** The zone whose clocks a place keeps, from its coordinates in degrees. */
export function zoneAt(latitude: number, longitude: number): string {
  return tzlookup(latitude, longitude);
}
