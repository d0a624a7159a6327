/** The subject hangs over the ground or is sunk into it. */
import { subjectBounds } from '../../planning/planFrames.js';
import { boxInFrame } from '../boxInFrame.js';
import { type Finding, type Found, overBox } from '../finding.js';
import { formatMetres } from '../wording.js';
import { editFix } from '../fixes.js';
import { usedStages, withUsedStage } from '../usedStages.js';

/** Share of the subject's height that it may be off the ground. */
const OFF = 0.01;

/** The subject stands above the ground, or is sunk into it. */
export const floating: Finding = {
  id: 'floating',
  title: 'Subject off the ground',
  area: 'model',
  needs: 'plan',
  inspect: (plan) =>
    usedStages(plan).flatMap(({ id, stage, output }): Found[] => {
      const { set, bounds } = plan;
      const base = output.frames[0]!.stage.base;
      const subject = subjectBounds(set, bounds);
      const { min, max } = subject;
      const gap = base ? min[1] - base.height : 0;
      if (!base || Math.abs(gap) <= OFF * (max[1] - min[1]) + 1e-4) return [];
      return [
        {
          severity: 'doubt',
          run: output.run,
          worst: output.frames[0]!.number,
          message:
            gap > 0 ? `The subject hangs ${formatMetres(gap)} above the ground.` : `The subject is sunk ${formatMetres(-gap)} into the ground.`,
          fix:
            stage.ground &&
            editFix('Ground at the lowest point', set, withUsedStage(set, id, { ...stage, ground: { ...stage.ground, height: undefined } })),
          ...overBox(boxInFrame(output.frames[0]!, subject)),
          about: { gap },
        },
      ];
    }),
};
