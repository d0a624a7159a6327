/** What several readers say in the import report in the same words. */
import { pluralize } from '../core/base/pluralize.js';
import { NOT_STATED } from '../core/model/fileExtensions.js';
import { type LengthUnit, UNIT_NAMES } from '../core/units/length.js';

/** Names in quotation marks, the first five of them. */
export const listNames = (names: readonly string[]): string =>
  names
    .slice(0, 5)
    .map((n) => `"${n}"`)
    .join(', ') + (names.length > 5 ? ', …' : '');

/** That a file has animations, of which nothing comes over. */
export const animationsLeftOut = (count: number): string => `${pluralize(count, 'animation')} left out; the model keeps its initial pose.`;

/** What was assumed of a file that leaves its units open; null for what was not. */
export const assumedUnitsNote = (unit: LengthUnit | null, up: 'y' | 'z' | null): string =>
  `${NOT_STATED}: ${[...(unit ? [UNIT_NAMES[unit]] : []), ...(up ? [`+${up.toUpperCase()} up`] : [])].join(', ')}.`;

/** What is left out, by name and number; null where there is none of any of it. */
export function leftOut(counts: readonly (readonly [name: string, count: number])[]): string | null {
  const met = counts.filter(([, count]) => count > 0);
  return met.length > 0 ? `Left out: ${met.map(([name, count]) => `${count} ${name}`).join(', ')}.` : null;
}
