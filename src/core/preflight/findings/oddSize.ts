/** Sizes that no H.264 movie can have. */
import { oddMovieSizes, withEvenMovieSizes } from '../../movie/movieSizes.js';
import type { Finding, Found } from '../finding.js';
import { editFix } from '../fixes.js';

/** A movie's size is odd, which most profiles refuse. */
export const oddSize: Finding = {
  id: 'odd-size',
  title: 'Odd size',
  area: 'format',
  needs: 'plan',
  inspect: ({ set }) =>
    oddMovieSizes(set)
      .filter(({ shot }) => !set.shots.find((s) => s.id === shot)?.off)
      .map(({ shot, size }): Found => ({
        severity: 'doubt',
        run: shot,
        message: `${size.width} × ${size.height} is odd: movies in H.264 need even sizes.`,
        fix: editFix('Make sizes even', set, withEvenMovieSizes(set)),
        about: { size },
      })),
};
