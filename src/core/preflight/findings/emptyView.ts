/** No part of the model is in the frame at all. */
import { eachOutput, type Finding, probed } from '../finding.js';
import { inFramesOf } from '../wording.js';
import { aimFix } from '../fixes.js';

/** A frame shows nothing of the model. */
export const emptyView: Finding = {
  id: 'empty-view',
  title: 'Empty view',
  area: 'image',
  needs: 'rays',
  inspect: eachOutput((output, plan, probe) => {
    // A thing between two rays of the probe is small, but there.
    const empty = probed(output, probe).filter(({ probe: p }) => p.covered === 0 && (p.subject === null || p.subject.area === 0));
    if (empty.length === 0) return [];
    const frames = empty.map((f) => f.frame);
    const where = inFramesOf(plan.set, output, frames);
    return [
      {
        severity: 'fault',
        frames: frames.map((f) => f.number),
        worst: frames[0]!.number,
        message: `Nothing of the model is seen ${where}.`,
        fix: aimFix(plan, frames),
      },
    ];
  }),
};
