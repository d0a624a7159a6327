/** The model is so large or so small that its unit may have been read wrong. */
import type { Finding, Found } from '../finding.js';
import { formatMetres } from '../wording.js';

/** Metres across: beyond a large building site, and under a button. */
const LARGE = 300;
const SMALL = 0.01;

/** The model is so large or so small that its unit is likely wrong. */
export const unitSuspect: Finding = {
  id: 'unit-suspect',
  title: 'Unusual size of the model',
  area: 'model',
  needs: 'plan',
  inspect: ({ bounds, parts }): Found[] => {
    if (parts.length === 0) return [];
    const across = Math.max(...bounds.max.map((v, i) => v - bounds.min[i]!));
    if (across > LARGE || across < SMALL)
      return [
        { severity: 'doubt', message: `The model is ${formatMetres(across)} across. Check the unit that its file was read in.`, about: { across } },
      ];
    return [];
  },
};
