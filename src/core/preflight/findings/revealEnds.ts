/** A section reveal begins just inside a surface, or ends before its plane has cleared the subject. */
import { kindOf } from '../../shots/kinds.js';
import { eachOutput, type Finding, type Found, probed } from '../finding.js';
import { formatMetres, percent } from '../wording.js';

/** Share of the subject's depth along the plane's normal under which what is cut off, or left, is a sliver. */
const SLIVER = 0.02;
/** Less than this is a rounding of the plane's place. */
const EXACT = 1e-4;

/** A reveal starts or ends a little inside the subject, and cuts a sliver. */
export const revealEnds: Finding = {
  id: 'reveal-ends',
  title: 'Reveal starts or ends in a sliver',
  area: 'section',
  needs: 'rays',
  inspect: eachOutput((output, _, probe) => {
    if (!kindOf(output.shot).movesPlane) return [];
    const all = probed(output, probe).flatMap(({ frame, probe: p }) => {
      // The plane that moves is the last one.
      const reach = p.subject?.reach.at(-1);
      return reach && reach[1] > reach[0] ? [{ frame, low: reach[0], high: reach[1], depth: reach[1] - reach[0] }] : [];
    });
    const [first, last] = [all[0], all.at(-1)];
    if (!first || !last || all.length < 2) return [];
    const found: Found[] = [];
    const say = (at: typeof first, message: string): void => {
      found.push({ severity: 'doubt', run: output.run, frames: [at.frame.number], worst: at.frame.number, message });
    };
    for (const [at, which] of [
      [first, 'first'],
      [last, 'last'],
    ] as const) {
      const off = at.high / at.depth;
      const left = -at.low / at.depth;
      if (off > EXACT && off < SLIVER)
        say(
          at,
          `The ${which} frame cuts off a sliver of ${formatMetres(at.high)}, ${percent(off)} of the subject: its plane is just inside a surface.`,
        );
      else if (left > EXACT && left < SLIVER)
        say(at, `The ${which} frame leaves a sliver of ${formatMetres(-at.low)}, ${percent(left)} of the subject: its plane does not clear it.`);
    }
    return found;
  }),
};
