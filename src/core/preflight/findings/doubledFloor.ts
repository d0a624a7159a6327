/** The model brings a floor of its own where the stage lays its ground. */
import { FLOOR_SHARE } from '../../stage/floor.js';
import { stageOf } from '../../plan/set.js';
import type { Finding, Found, PlannedOutput } from '../finding.js';
import { percent } from '../wording.js';
import { editFix } from '../fixes.js';

export const doubledFloor: Finding = {
  id: 'doubled-floor',
  title: 'Two floors in one place',
  area: 'model',
  needs: 'rays',
  inspect: ({ outputs, set }, probe) => {
    const stages = new Map<string | undefined, PlannedOutput>();
    for (const o of outputs) if (!stages.has(o.shot.stage)) stages.set(o.shot.stage, o);
    return [...stages].flatMap(([id, output]): Found[] => {
      const first = output.frames[0];
      const floor = first && probe(first)?.floor;
      if (!floor || floor.height === undefined || floor.share < FLOOR_SHARE) return [];
      const stage = { ...stageOf(set, id), ground: { kind: 'none' as const } };
      return [
        {
          severity: 'doubt',
          run: output.run,
          worst: first.number,
          message: `A floor of the model covers ${percent(floor.share)} of its footprint at the height of the ground: the two flicker.`,
          fix: editFix('Turn the ground off', set, {
            ...set,
            ...(id === undefined ? { stage } : { stages: set.stages?.map((s) => (s.id === id ? { ...s, stage } : s)) }),
          }),
        },
      ];
    });
  },
};
