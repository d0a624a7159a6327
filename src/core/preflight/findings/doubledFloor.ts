/** The model brings a floor of its own where the stage has its ground. */
import { FLOOR_SHARE } from '../../stage/floor.js';
import { subjectBounds } from '../../planning/planFrames.js';
import { boxInFrame } from '../boxInFrame.js';
import { type Finding, type Found, overBox } from '../finding.js';
import { percent } from '../wording.js';
import { editFix } from '../fixes.js';
import { usedStages, withUsedStage } from '../usedStages.js';

/** The model's own floor and the stage's ground lie in one plane, and flicker. */
export const doubledFloor: Finding = {
  id: 'doubled-floor',
  title: 'Two floors in one place',
  area: 'model',
  needs: 'rays',
  inspect: (plan, probe) =>
    usedStages(plan).flatMap(({ id, stage, output }): Found[] => {
      const first = output.frames[0]!;
      const floor = probe(first)?.floor;
      if (!floor || floor.height === undefined || floor.share < FLOOR_SHARE) return [];
      const { min, max } = subjectBounds(plan.set, plan.bounds);
      return [
        {
          severity: 'doubt',
          run: output.run,
          worst: first.number,
          message: `A floor of the model covers ${percent(floor.share)} of its footprint at the height of the ground: the two flicker.`,
          fix: editFix('Turn the ground off', plan.set, withUsedStage(plan.set, id, { ...stage, ground: { kind: 'none' } })),
          ...overBox(boxInFrame(first, { min: [min[0], floor.height, min[2]], max: [max[0], floor.height, max[2]] })),
        },
      ];
    }),
};
