/** A light gives so little beside daylight that it is not seen. */
import { daylightOf } from '../../stage/daylight.js';
import { enabledLights } from '../../stage/stage.js';
import { LOST_SHARE, luxAtTarget } from '../../stage/userLight.js';
import type { Finding, Found } from '../finding.js';
import { usedStages } from '../usedStages.js';

/** A light is so weak beside daylight that it will not be seen. */
export const lightDrowned: Finding = {
  id: 'light-drowned',
  title: 'Light lost in daylight',
  area: 'light',
  needs: 'plan',
  inspect: (plan) =>
    usedStages(plan).flatMap(({ stage, output }): Found[] => {
      const { daylight, site } = stage;
      if (!daylight) return [];
      const level = 1000 * daylightOf(daylight, site).lux.level;
      return enabledLights(stage)
        .filter((light) => luxAtTarget(light) < LOST_SHARE * level)
        .map((light) => ({
          severity: 'doubt',
          run: output.run,
          message: `“${light.name}” gives ${Math.round(luxAtTarget(light))} lx where it is aimed, and daylight ${Math.round(level).toLocaleString('en')} lx. Strengthen it, or turn it off.`,
          about: { light, level },
        }));
    }),
};
