/** The sun moves from frame to frame, and what lies behind the model does not follow it. */
import { stageOf } from '../../plan/set.js';
import { eachOutput, type Finding } from '../finding.js';

/** The sun moves, and the sky that lights the model does not. */
export const skyStays: Finding = {
  id: 'sky-stays',
  title: 'Sky does not follow the sun',
  area: 'light',
  needs: 'plan',
  inspect: eachOutput((output, { set }) => {
    const { frames, shot } = output;
    const altitudes = new Set(frames.map((f) => f.sun?.altitude));
    if (frames.length < 2 || altitudes.size < 2) return [];
    const { backdropImage, environment } = stageOf(set, shot.stage);
    const what = backdropImage
      ? `the backdrop image "${backdropImage.file}"`
      : environment?.visible
        ? `the environment image "${environment.file}"`
        : null;
    // An environment image gives way to daylight; a flat backdrop covers the sky.
    if (!what || (!backdropImage && frames.every((f) => f.stage.sky?.visible))) return [];
    return [
      {
        severity: 'doubt',
        message: `The sun moves, and ${what} behind the model stays the same in all ${frames.length} frames.`,
        about: { what },
      },
    ];
  }),
};
