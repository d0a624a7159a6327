/** The subject takes next to nothing of the frame. */
import { kindOf } from '../../shots/kinds.js';
import { eachOutput, type Finding, probed } from '../finding.js';
import { inFramesOf, percent, maxBy } from '../wording.js';
import { fitFix } from '../fixes.js';

/** Shares of the frame. */
const SMALL = 0.015;
const LOST = 0.002;

/** The subject takes little of the frame. */
export const subjectSmall: Finding = {
  id: 'subject-small',
  title: 'Subject too small',
  area: 'image',
  needs: 'rays',
  inspect: eachOutput((output, plan, probe) => {
    // A reveal takes the subject away piece by piece.
    if (kindOf(output.shot).movesPlane) return [];
    // What lies outside the frame is cut, not small.
    const small = probed(output, probe).flatMap(({ frame, probe: p }) =>
      p.subject && !p.subject.isBehind && p.subject.outside < 0.5 && p.subject.area < SMALL
        ? [{ frame, area: p.subject.area, box: p.subject.box }]
        : [],
    );
    if (small.length === 0) return [];
    const worst = maxBy(small, (f) => -f.area);
    const frames = small.map((f) => f.frame);
    const where = inFramesOf(plan.set, output, frames);
    return [
      {
        severity: worst.area < LOST ? 'fault' : 'doubt',
        frames: frames.map((f) => f.number),
        worst: worst.frame.number,
        message: `The subject takes ${percent(worst.area)} of the frame ${where}.`,
        overlay: { kind: 'box', box: worst.box },
        fix: fitFix(plan, small),
      },
    ];
  }),
};
