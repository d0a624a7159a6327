/** The model burns out to white. */
import { eachOutput, type Finding, overCells, probed } from '../finding.js';
import { inFramesOf, percent, maxBy } from '../wording.js';
import { editFix, withExposure } from '../fixes.js';

/** Shares of the model's pixels that are burnt out. */
const WHITE = 0.75;
const BRIGHT = 0.35;
/** Stops that the fix takes away. */
const STOPS = 1;

/** More of the model is burnt out than the limit allows. */
export const burnt: Finding = {
  id: 'burnt',
  title: 'Burnt-out render',
  area: 'light',
  needs: 'light',
  inspect: eachOutput((output, { set }, probe) => {
    const white = probed(output, probe).flatMap(({ frame, probe: p }) =>
      p.light && p.light.burnt >= BRIGHT ? [{ frame, share: p.light.burnt, cells: p.marks.burnt }] : [],
    );
    if (white.length === 0) return [];
    const worst = maxBy(white, (f) => f.share);
    const frames = white.map((f) => f.frame);
    const where = inFramesOf(set, output, frames);
    const { exposure: now } = worst.frame.grade;
    const exposure = Math.max(-30, now - STOPS);
    return [
      {
        severity: worst.share >= WHITE ? 'fault' : 'doubt',
        frames: frames.map((f) => f.number),
        worst: worst.frame.number,
        message: `${percent(worst.share)} of the model is burnt out ${where}.`,
        fix: editFix('Lower exposure by 1 EV', set, withExposure(set, worst.frame, exposure)),
        ...overCells(worst.cells),
        about: { exposure: now },
      },
    ];
  }),
};
