/** Something passes between the camera and the subject in some frames of a moving shot alone. */
import { kindOf } from '../../shots/kinds.js';
import { eachOutput, type Finding, probed } from '../finding.js';
import { inFrames, percent, quotePart, maxBy } from '../wording.js';

/** Share of the subject that is hidden more than in the middle one of the shot's frames. */
const MORE = 0.12;
/** Where this much is hidden in the middle frame, the subject is among other things all the time. */
const USUAL = 0.3;
/** Share of the frames up to which it is some of them alone. */
const SOME = 0.5;

/** Something stands between the camera and the subject in some frames alone. */
export const crossing: Finding = {
  id: 'crossing',
  title: 'Something crosses the view',
  area: 'image',
  needs: 'rays',
  inspect: eachOutput((output, _, probe) => {
    if (!kindOf(output.shot).moving) return [];
    const all = probed(output, probe).flatMap(({ frame, probe: p }) => (p.subject ? [{ frame, subject: p.subject, blocker: p.marks.blocker }] : []));
    const shares = all.map((f) => f.subject.hidden).sort((a, b) => a - b);
    const usual = shares[Math.floor(shares.length / 2)] ?? 0;
    const crossed = all.filter((f) => f.subject.hidden > usual + MORE);
    if (usual > USUAL || crossed.length === 0 || crossed.length > SOME * all.length) return [];
    const worst = maxBy(crossed, (f) => f.subject.hidden);
    return [
      {
        severity: 'doubt',
        frames: crossed.map((f) => f.frame.number),
        worst: worst.frame.number,
        message: `${quotePart(worst.subject.hiddenBy!)} passes before the subject in ${inFrames(crossed.map((f) => f.frame.number))} and hides up to ${percent(worst.subject.hidden)} of it.`,
        overlay: worst.blocker ? { kind: 'cells', cells: worst.blocker } : { kind: 'box', box: worst.subject.box },
        curve: { label: 'Subject hidden', unit: ' %', values: all.map((f) => 100 * f.subject.hidden) },
      },
    ];
  }),
};
