/** Between two frames the camera jumps. */
import { kindOf } from '../../shots/kinds.js';
import { eachOutput, type Finding } from '../finding.js';
import { formatMetres, maxBy } from '../wording.js';

/** Times the middle one of the shot's steps. */
const TIMES = 12;
/** Degrees that a step turns at least to count as a jump. */
const LEAST_DEGREES = 8;

function steps(list: readonly number[]): number {
  const moving = list.filter((v) => v > 0).sort((a, b) => a - b);
  return moving[Math.floor(moving.length / 2)] ?? 0;
}

/** The camera jumps from one frame to the next. */
export const jump: Finding = {
  id: 'jump',
  title: 'Jump between two frames',
  area: 'movement',
  needs: 'plan',
  inspect: eachOutput((output) => {
    const { frames, shot } = output;
    if (!kindOf(shot).movesThrough || frames.length < 4) return [];
    const pairs = frames.slice(1).map((f, i) => {
      const [a, b] = [frames[i]!.camera, f.camera];
      // The third row of a view matrix is the direction backwards.
      const dot = [2, 6, 10].reduce((sum, k) => sum + a.viewMatrix[k]! * b.viewMatrix[k]!, 0);
      return {
        frame: f,
        moved: Math.hypot(...a.eye.map((v, k) => v - b.eye[k]!)),
        turned: (Math.acos(Math.min(1, Math.max(-1, dot))) * 180) / Math.PI,
      };
    });
    const [step, turn] = [steps(pairs.map((p) => p.moved)), steps(pairs.map((p) => p.turned))];
    const jumps = pairs.filter((p) => p.moved > Math.max(TIMES * step, 1e-6) || p.turned > Math.max(TIMES * turn, LEAST_DEGREES));
    if (jumps.length === 0) return [];
    const worst = maxBy(jumps, (p) => p.moved / (step || 1) + p.turned);
    return [
      {
        severity: 'fault',
        frames: jumps.map((p) => p.frame.number),
        worst: worst.frame.number,
        message: `The camera jumps by ${formatMetres(worst.moved)} and ${worst.turned.toFixed(0)}° to frame ${worst.frame.number}.`,
      },
    ];
  }),
};
