/** The light of the stage and the exposure are orders of magnitude apart. */
import { exposureWarning } from '../../image/exposure.js';
import { eachOutput, type Finding, probed } from '../finding.js';
import { inFramesOf, maxBy } from '../wording.js';
import { editFix, withExposure } from '../fixes.js';

/** The exposure is far from what the model's mean light asks for. */
export const exposureOff: Finding = {
  id: 'exposure-off',
  title: 'Exposure far off',
  area: 'light',
  needs: 'light',
  inspect: eachOutput((output, { set }, probe) => {
    const off = probed(output, probe).flatMap(({ frame, probe: p }) => {
      const times = p.light && p.covered > 0 ? exposureWarning(frame.grade.exposure, p.light.wanted) : null;
      return times === null ? [] : [{ frame, times, wanted: p.light!.wanted }];
    });
    if (off.length === 0) return [];
    const worst = maxBy(off, (f) => Math.abs(Math.log2(f.times)));
    const frames = off.map((f) => f.frame);
    const bright = worst.times > 1;
    const wanted = Math.max(-30, Math.min(30, Math.round(worst.wanted * 10) / 10));
    return [
      {
        severity: 'doubt',
        frames: frames.map((f) => f.number),
        worst: worst.frame.number,
        message: `The model comes out ${(bright ? worst.times : 1 / worst.times).toFixed(0)} times too ${bright ? 'bright' : 'dark'} ${inFramesOf(set, output, frames)}.`,
        fix: editFix(`Set exposure to ${wanted} EV`, set, withExposure(set, worst.frame, wanted)),
        about: { exposure: worst.frame.grade.exposure },
      },
    ];
  }),
};
