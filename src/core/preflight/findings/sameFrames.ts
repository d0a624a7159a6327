/** Frames of a moving shot that follow one another show the same. */
import { kindOf } from '../../shots/kinds.js';
import { eachOutput, type Finding } from '../finding.js';
import { isSameMoment } from '../moment.js';
import { inFrames } from '../wording.js';

/** Whether stations of the shot are held on purpose. */
const holds = (shot: object): boolean => 'stations' in shot && (shot.stations as { hold?: number }[]).some((s) => (s.hold ?? 0) > 0);

/** Frames of a moving shot show the same, one after another. */
export const sameFrames: Finding = {
  id: 'same-frames',
  title: 'Consecutive frames alike',
  area: 'movement',
  needs: 'plan',
  inspect: eachOutput((output) => {
    const { frames, shot } = output;
    if (!kindOf(shot).moving || frames.length < 2) return [];
    const same = frames.filter((f, i) => i > 0 && (f.identity === frames[i - 1]!.identity || isSameMoment(f, frames[i - 1]!))).map((f) => f.number);
    if (same.length === 0) return [];
    const all = same.length === frames.length - 1;
    if (!all && holds(shot)) return [];
    return [
      {
        severity: all ? 'fault' : 'doubt',
        frames: same,
        worst: same[0]!,
        message: all ? `All ${frames.length} frames are the same.` : `Each of ${inFrames(same)} shows the same as the one before it.`,
      },
    ];
  }),
};
