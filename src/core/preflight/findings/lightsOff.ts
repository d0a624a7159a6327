/** All lights that were added to a stage are off. */
import { enabledLights } from '../../stage/stage.js';
import type { Finding, Found } from '../finding.js';
import { editFix } from '../fixes.js';
import { usedStages, withUsedStage } from '../usedStages.js';

/** Lights are there, but all are off where nothing else lights the model. */
export const lightsOff: Finding = {
  id: 'lights-off',
  title: 'Lights are off',
  area: 'light',
  needs: 'plan',
  inspect: (plan) =>
    usedStages(plan).flatMap(({ id, stage, output }): Found[] => {
      const { lights = [] } = stage;
      if (lights.length === 0 || enabledLights(stage).length > 0) return [];
      return [
        {
          severity: 'note',
          run: output.run,
          message: `${lights.length === 1 ? 'The light' : `All ${lights.length} lights`} added to the stage ${lights.length === 1 ? 'is' : 'are'} off.`,
          fix: editFix('Turn lights on', plan.set, withUsedStage(plan.set, id, { ...stage, lights: lights.map((l) => ({ ...l, on: true })) })),
          about: { lights: lights.map((l) => l.id) },
        },
      ];
    }),
};
