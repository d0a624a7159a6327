/** A surface is right before the camera. */
import { radiusOf } from '../../math/bounds.js';
import { eachOutput, type Finding, overCells, probed } from '../finding.js';
import { formatMetres, inFramesOf, quotePart, maxBy } from '../wording.js';

/** Nearest distance in radii of the model. */
const NEAR = 0.01;
/** Where the camera is inside, that is the finding. */
const INSIDE = 0.5;

/** A surface is nearer to the eye than a camera can show well. */
export const tooNear: Finding = {
  id: 'too-near',
  title: 'Surface close to the camera',
  area: 'image',
  needs: 'rays',
  inspect: eachOutput((output, { set, bounds }, probe) => {
    const limit = NEAR * radiusOf(bounds);
    const near = probed(output, probe).filter(({ frame, probe: p }) => frame.camera.kind !== 'parallel' && p.enclosed < INSIDE && p.nearest < limit);
    if (near.length === 0) return [];
    const worst = maxBy(near, (f) => -f.probe.nearest);
    const frames = near.map((f) => f.frame);
    const where = inFramesOf(set, output, frames);
    return [
      {
        severity: 'doubt',
        frames: frames.map((f) => f.number),
        worst: worst.frame.number,
        message: `${quotePart(worst.probe.nearestPart!)} is ${formatMetres(worst.probe.nearest)} from the camera ${where}.`,
        ...overCells(worst.probe.marks.near),
      },
    ];
  }),
};
