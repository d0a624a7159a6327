/** The model comes out black. */
import { eachOutput, type Finding, overCells, probed } from '../finding.js';
import { inFramesOf, percent, maxBy } from '../wording.js';

/** Shares of the model's pixels that are black. */
const BLACK = 0.95;
const DARK = 0.7;

/** More of the model is black than the limit allows. */
export const dark: Finding = {
  id: 'dark',
  title: 'Black render',
  area: 'light',
  needs: 'light',
  inspect: eachOutput((output, { set }, probe) => {
    const black = probed(output, probe).flatMap(({ frame, probe: p }) =>
      p.light && p.covered > 0 && p.light.black >= DARK ? [{ frame, share: p.light.black, cells: p.marks.black }] : [],
    );
    if (black.length === 0) return [];
    const worst = maxBy(black, (f) => f.share);
    const frames = black.map((f) => f.frame);
    const where = inFramesOf(set, output, frames);
    return [
      {
        severity: worst.share >= BLACK ? 'fault' : 'doubt',
        frames: frames.map((f) => f.number),
        worst: worst.frame.number,
        message: `${percent(worst.share)} of the model is black ${where}. Add light, or raise the exposure.`,
        ...overCells(worst.cells),
      },
    ];
  }),
};
