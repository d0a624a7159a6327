/** The sun is below the horizon in frames that are lit by it. */
import { eachOutput, type Finding } from '../finding.js';
import { inFramesOf, maxBy } from '../wording.js';

/** The sun is below the horizon in frames that should show it. */
export const sunDown: Finding = {
  id: 'sun-down',
  title: 'Sun below the horizon',
  area: 'light',
  needs: 'plan',
  inspect: eachOutput((output, { set }) => {
    // A sun that is put where it is wanted has no time of day.
    const down = output.frames.filter((f) => f.sun && f.sun.altitude <= 0);
    if (down.length === 0) return [];
    const worst = maxBy(down, (f) => -f.sun!.altitude);
    return [
      {
        severity: down.length === output.frames.length ? 'fault' : 'doubt',
        frames: down.map((f) => f.number),
        worst: worst.number,
        message: `The sun is up to ${Math.abs(worst.sun!.altitude).toFixed(1)}° below the horizon ${inFramesOf(set, output, down)}.`,
      },
    ];
  }),
};
