/** What several readers say in the import report in the same words. */
import { pluralize } from '../core/base/pluralize.js';

/** Names in quotation marks, the first five of them. */
export const listNames = (names: readonly string[]): string =>
  names
    .slice(0, 5)
    .map((n) => `"${n}"`)
    .join(', ') + (names.length > 5 ? ', …' : '');

/** That a file has animations, of which nothing comes over. */
export const animationsLeftOut = (count: number): string => `${pluralize(count, 'animation')} left out; the model keeps its initial pose.`;
