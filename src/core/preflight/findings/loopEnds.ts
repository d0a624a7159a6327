/** A movie that is played in a loop shows its first frame twice. */
import { kindOf } from '../../shots/kinds.js';
import { eachOutput, type Finding } from '../finding.js';
import { isSameMoment } from '../moment.js';

/** Fewer frames are no movie to be looped. */
const MIN_FRAMES = 4;

/** A full turn shows its first frame again at its end. */
export const loopEnds: Finding = {
  id: 'loop-ends',
  title: 'First and last frame alike',
  area: 'movement',
  needs: 'plan',
  inspect: eachOutput((output) => {
    const { frames, shot } = output;
    const [first, last, second] = [frames[0], frames.at(-1), frames[1]];
    if (!kindOf(shot).moving || frames.length < MIN_FRAMES || !isSameMoment(first!, last!) || isSameMoment(first!, second!)) return [];
    return [
      {
        severity: 'doubt',
        frames: [last!.number],
        worst: last!.number,
        message: `Frame ${last!.number} shows the same as frame ${first!.number}: a loop halts there.`,
      },
    ];
  }),
};
