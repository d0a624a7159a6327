/** A walk passes closer to something than a person would. */
import { kindOf } from '../../shots/kinds.js';
import { MIN_CLEARANCE } from '../../shots/walkthrough/clearance.js';
import { radiusOf } from '../../math/bounds.js';
import { eachOutput, type Finding, overCells, probed } from '../finding.js';
import { formatMetres, inFrames, quotePart, maxBy } from '../wording.js';

/** Metres: the clearance is that of a person, so it says nothing of smaller models. */
const SMALLEST_RADIUS = 2;
const INSIDE = 0.5;

/** A moving camera passes a surface closer than it should. */
export const clearance: Finding = {
  id: 'clearance',
  title: 'Path passes too close',
  area: 'movement',
  needs: 'rays',
  inspect: eachOutput((output, { bounds }, probe) => {
    if (!kindOf(output.shot).movesThrough || radiusOf(bounds) < SMALLEST_RADIUS) return [];
    const all = probed(output, probe);
    const close = all.filter(({ probe: p }) => p.enclosed < INSIDE && p.nearest < MIN_CLEARANCE);
    if (close.length === 0) return [];
    const worst = maxBy(close, (f) => -f.probe.nearest);
    return [
      {
        severity: 'doubt',
        frames: close.map((f) => f.frame.number),
        worst: worst.frame.number,
        message: `The path passes ${quotePart(worst.probe.nearestPart!)} at ${formatMetres(worst.probe.nearest)} in ${inFrames(close.map((f) => f.frame.number))}.`,
        ...overCells(worst.probe.marks.near),
        curve: { label: 'Nearest surface', unit: ' m', values: all.map((f) => Math.min(f.probe.nearest, 10)) },
      },
    ];
  }),
};
