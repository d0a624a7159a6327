/** The camera goes or turns faster than the eye follows. */
import { kindOf } from '../../shots/kinds.js';
import { halfTangents } from '../../camera/view.js';
import { CROSSING_SECONDS, walkStats } from '../../shots/walkthrough/walkthrough.js';
import { eachOutput, type Finding, type Found } from '../finding.js';
import { inFrames, maxBy } from '../wording.js';

/** Metres a second: a run. A quick walk is half of it (common practice, no source). */
const RUNNING = 3;
/** Seconds in which something may cross the frame at the fastest; the comfortable time is CROSSING_SECONDS (common practice, no source). */
const FASTEST_CROSSING = 2;

/** The camera walks or turns too fast for the frame rate. */
export const tooFast: Finding = {
  id: 'too-fast',
  title: 'Camera moves too fast',
  area: 'movement',
  needs: 'plan',
  inspect: eachOutput((output) => {
    const { frames, shot } = output;
    if (!kindOf(shot).movesThrough || frames.length < 2) return [];
    const { size, pixelAspect, camera } = frames[0]!;
    const across = (2 * Math.atan(halfTangents(camera.focalLength, size, pixelAspect)[0]) * 180) / Math.PI;
    const stats = walkStats(frames);
    const fast = stats.flatMap((s, i) => (s.speed > RUNNING ? [i] : []));
    const turning = stats.flatMap((s, i) => (s.turn > across / FASTEST_CROSSING ? [i] : []));
    const found = (steps: number[], value: (i: number) => number, text: (most: number, where: string) => string): Found[] => {
      if (steps.length === 0) return [];
      const worst = maxBy(steps, value);
      const numbers = steps.map((i) => frames[i + 1]!.number);
      return [
        {
          severity: 'doubt',
          frames: numbers,
          worst: frames[worst + 1]!.number,
          message: text(value(worst), `in ${inFrames(numbers)}`),
        },
      ];
    };
    const speeds = stats.map((s) => s.speed);
    const turns = stats.map((s) => s.turn);
    return [
      ...found(
        fast,
        (i) => speeds[i]!,
        (most, where) => `The camera goes at up to ${most.toFixed(1)} m/s ${where}: faster than a run of ${RUNNING} m/s. Give the segment more time.`,
      ).map((f) => ({ ...f, curve: { label: 'Speed', unit: ' m/s', values: [speeds[0]!, ...speeds] } })),
      ...found(
        turning,
        (i) => turns[i]!,
        (most, where) =>
          `The camera turns at up to ${most.toFixed(0)}°/s ${where}: things cross the frame in ${(across / most).toFixed(1)} s, and ${CROSSING_SECONDS} s are comfortable.`,
      ).map((f) => ({ ...f, curve: { label: 'Turning', unit: '°/s', values: [turns[0]!, ...turns] } })),
    ];
  }),
};
