/** The subject hangs over the ground or is sunk into it. */
import { subjectBounds } from '../../planning/planFrames.js';
import { stageOf } from '../../plan/set.js';
import type { Finding, Found, PlannedOutput } from '../finding.js';
import { formatMetres } from '../wording.js';
import { editFix } from '../fixes.js';

/** Share of the subject's height that it may stand off the ground. */
const OFF = 0.01;

export const floating: Finding = {
  id: 'floating',
  title: 'Subject off the ground',
  area: 'model',
  needs: 'plan',
  inspect: ({ outputs, set, bounds }) => {
    // Once a stage, of the first shot that has it.
    const stages = new Map<string | undefined, PlannedOutput>();
    for (const o of outputs) if (!stages.has(o.shot.stage)) stages.set(o.shot.stage, o);
    return [...stages].flatMap(([id, output]): Found[] => {
      const base = output.frames[0]?.stage.base;
      const { min, max } = subjectBounds(set, bounds);
      const gap = base ? min[1] - base.height : 0;
      if (!base || Math.abs(gap) <= OFF * (max[1] - min[1]) + 1e-4) return [];
      const stage = stageOf(set, id);
      const mended = stage.ground && { ...stage, ground: { ...stage.ground, height: undefined } };
      return [
        {
          severity: 'doubt',
          run: output.run,
          worst: output.frames[0]!.number,
          message:
            gap > 0 ? `The subject hangs ${formatMetres(gap)} above the ground.` : `The subject is sunk ${formatMetres(-gap)} into the ground.`,
          fix:
            mended &&
            editFix('Ground at the lowest point', set, {
              ...set,
              ...(id === undefined ? { stage: mended } : { stages: set.stages?.map((s) => (s.id === id ? { ...s, stage: mended } : s)) }),
            }),
          about: { gap },
        },
      ];
    });
  },
};
