/** The render is one even tone. */
import { eachOutput, type Finding, probed } from '../finding.js';
import { inFramesOf } from '../wording.js';

/** Standard deviation of the displayed brightness, 0..1: about two steps of 8 bits. */
const EVEN = 0.008;
/** Share of the pixels that must show the model: a frame that shows little else than its backdrop is even by itself. */
const SEEN = 0.02;

/** All of the frame has nearly one brightness. */
export const flat: Finding = {
  id: 'flat',
  title: 'No contrast',
  area: 'light',
  needs: 'light',
  inspect: eachOutput((output, { set }, probe) => {
    const even = probed(output, probe).flatMap(({ frame, probe: p }) =>
      p.light && p.covered > SEEN && p.light.spread < EVEN ? [{ frame, light: p.light }] : [],
    );
    if (even.length === 0) return [];
    const frames = even.map((f) => f.frame);
    const where = inFramesOf(set, output, frames);
    return [
      {
        severity: 'fault',
        frames: frames.map((f) => f.number),
        worst: frames[0]!.number,
        message: `The frame is one even tone ${where}. Check its light and its exposure.`,
      },
    ];
  }),
};
