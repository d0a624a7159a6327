/** Other parts hide the subject. */
import { eachOutput, type Finding, probed } from '../finding.js';
import { inFramesOf, percent, quotePart, maxBy } from '../wording.js';

/** Shares of what turns to the eye that are hidden. */
const MOST = 0.85;
const HALF = 0.5;

/** Something hides most of the subject. */
export const subjectHidden: Finding = {
  id: 'subject-hidden',
  title: 'Subject hidden',
  area: 'image',
  needs: 'rays',
  inspect: eachOutput((output, { set }, probe) => {
    const all = probed(output, probe).flatMap(({ frame, probe: p }) => (p.subject ? [{ frame, subject: p.subject, blocker: p.marks.blocker }] : []));
    const hidden = all.filter((f) => f.subject.hidden >= HALF);
    if (hidden.length === 0) return [];
    const worst = maxBy(hidden, (f) => f.subject.hidden);
    const where = inFramesOf(
      set,
      output,
      hidden.map((f) => f.frame),
    );
    return [
      {
        severity: worst.subject.hidden >= MOST ? 'fault' : 'doubt',
        frames: hidden.map((f) => f.frame.number),
        worst: worst.frame.number,
        message: `${percent(worst.subject.hidden)} of the subject is hidden ${where}, mostly by ${quotePart(worst.subject.hiddenBy!)}.`,
        overlay: worst.blocker ? { kind: 'cells', cells: worst.blocker } : { kind: 'box', box: worst.subject.box },
      },
    ];
  }),
};
