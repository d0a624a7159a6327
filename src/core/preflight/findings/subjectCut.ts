/** The subject leaves the frame: in some frames of a shot that otherwise shows it whole, or by a little in all of them. */
import { kindOf } from '../../shots/kinds.js';
import type { PreflightPlan, Finding, Found, PlannedOutput, ProbeOf } from '../finding.js';
import { probed } from '../finding.js';
import type { SubjectSummary } from '../probe.js';
import { inFramesOf, percent, maxBy } from '../wording.js';
import { fitFix } from '../fixes.js';

/** Shares of the outline outside the frame from which it counts as cut: points near the edge are uncertain by about this much. */
const CUT = 0.004;
/** Beyond this a frame shows a detail on purpose. */
const DETAIL = 0.25;
/** Reach beyond a side, in shares of the frame, that counts though the outline is thin there. */
const REACH = 0.01;

const isCut = ({ outside, over, isBehind }: SubjectSummary): boolean =>
  isBehind || outside > CUT || Math.max(over.left, over.top, over.right, over.bottom) > REACH;

function sideOf({ over }: SubjectSummary): string {
  const sides = (['left', 'right', 'top', 'bottom'] as const).filter((side) => over[side] > 0);
  return sides.length === 0 ? 'edge' : sides.length > 2 ? 'sides' : sides.join(' and ');
}

function inspectOutput(plan: PreflightPlan, output: PlannedOutput, probe: ProbeOf): Found[] {
  const { moving } = kindOf(output.shot);
  const all = probed(output, probe).flatMap(({ frame, probe: p }) => (p.subject ? [{ frame, subject: p.subject }] : []));
  const cut = all.filter((f) => isCut(f.subject));
  if (cut.length === 0) return [];
  const leaves = moving && cut.length < all.length;
  const isDetail = (s: SubjectSummary): boolean => s.isBehind || s.outside > DETAIL;
  const found = (list: typeof cut, severity: Found['severity'], text: (where: string, worst: SubjectSummary) => string): Found[] => {
    if (list.length === 0) return [];
    const worst = maxBy(list, (f) => f.subject.outside);
    const where = inFramesOf(
      plan.set,
      output,
      list.map((f) => f.frame),
    );
    const { left, top, right, bottom } = worst.subject.over;
    return [
      {
        severity,
        run: output.run,
        frames: list.map((f) => f.frame.number),
        worst: worst.frame.number,
        message: text(where, worst.subject),
        overlay: { kind: 'sides', left, top, right, bottom },
        fix:
          severity === 'note' || worst.subject.isBehind
            ? undefined
            : fitFix(
                plan,
                list.map((f) => ({ frame: f.frame, box: f.subject.box })),
              ),
        curve: moving ? { label: 'Subject inside the frame', unit: ' %', values: all.map((f) => 100 * (1 - f.subject.outside)) } : undefined,
      },
    ];
  };
  if (leaves)
    return found(
      cut,
      'fault',
      (where, worst) => `The subject leaves the frame at the ${sideOf(worst)} ${where}, by at most ${percent(worst.outside)} of its outline.`,
    );
  const tight = cut.filter((f) => !isDetail(f.subject));
  return [
    ...found(
      tight,
      'doubt',
      (where, worst) => `The frame cuts the subject at the ${sideOf(worst)} ${where}, by ${percent(worst.outside)} of its outline.`,
    ),
    ...found(
      cut.filter((f) => isDetail(f.subject)),
      'note',
      (where) => `The subject is seen in part ${where}, as in a detail.`,
    ),
  ];
}

/** The frame's edge cuts the subject, or the subject leaves the frame. */
export const subjectCut: Finding = {
  id: 'subject-cut',
  title: 'Subject cut by the frame',
  area: 'image',
  needs: 'rays',
  inspect: (plan, probe) => plan.outputs.flatMap((output) => inspectOutput(plan, output, probe)),
};
