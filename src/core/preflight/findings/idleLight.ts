/** A light of the set reaches nothing: it shines past the model, or stands inside of something. */
import { type SetFile, stageOf } from '../../plan/set.js';
import { lightNames } from '../../stage/lightNames.js';
import { eachOutput, type Finding, type Found, probed } from '../finding.js';
import { editFix } from '../fixes.js';
import { withUsedStage } from '../usedStages.js';
import { quotePart } from '../wording.js';

/** Share of a light's rays that must meet the inside of something for the light to stand in it. */
const INSIDE = 0.97;

function switchedOff(set: SetFile, stageId: string | undefined, light: string): SetFile {
  const stage = stageOf(set, stageId);
  const own = stageId !== undefined && set.stages?.some((s) => s.id === stageId) ? stageId : undefined;
  return withUsedStage(set, own, { ...stage, lights: stage.lights?.map((l) => (l.id === light ? { ...l, on: false } : l)) });
}

/** A light of the set reaches nothing that a frame shows. */
export const idleLight: Finding = {
  id: 'idle-light',
  title: 'Light reaches nothing',
  area: 'light',
  needs: 'rays',
  inspect: eachOutput((output, { set }, probe) => {
    const first = probed(output, probe).find(({ probe: p }) => p.lights !== null);
    if (!first) return [];
    const names = lightNames(first.frame.stage, stageOf(set, output.shot.stage));
    return first.probe.lights!.flatMap((reach, i): Found[] => {
      const { name, id } = names[i]!;
      if (!reach || id === undefined) return [];
      const isInside = reach.enclosed >= INSIDE && reach.enclosedBy !== undefined;
      if (reach.reached > 0 && !isInside) return [];
      const fix = editFix('Turn the light off', set, switchedOff(set, output.shot.stage, id));
      return [
        {
          severity: 'doubt',
          worst: first.frame.number,
          message: isInside
            ? `The light “${name}” is inside ${quotePart(reach.enclosedBy!)}, and none of its light gets out.`
            : `The light “${name}” reaches neither the model nor the ground.`,
          ...(fix && { fix }),
          about: { light: id },
        },
      ];
    });
  }),
};
