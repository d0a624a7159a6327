/** The camera is under the ground of its stage. */
import { eachOutput, type Finding } from '../finding.js';
import { formatMetres, inFramesOf, maxBy } from '../wording.js';

/** The eye is under the ground that the stage lays. */
export const belowGround: Finding = {
  id: 'below-ground',
  title: 'Camera below the ground',
  area: 'image',
  needs: 'plan',
  inspect: eachOutput((output, { set }) => {
    const below = output.frames.filter(({ camera, stage }) => {
      if (!stage.base || stage.base.shadowCatcher || camera.kind === 'parallel') return false;
      const { x, z, outer, height } = stage.base;
      return camera.eye[1] < height && Math.hypot(camera.eye[0] - x, camera.eye[2] - z) < outer;
    });
    if (below.length === 0) return [];
    const depth = (f: (typeof below)[number]): number => f.stage.base!.height - f.camera.eye[1];
    const worst = maxBy(below, depth);
    const where = inFramesOf(set, output, below);
    return [
      {
        severity: 'fault',
        frames: below.map((f) => f.number),
        worst: worst.number,
        message: `The camera is up to ${formatMetres(depth(worst))} below the ground ${where}. Raise the eye, or lower the ground.`,
      },
    ];
  }),
};
