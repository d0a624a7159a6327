/** The camera is inside a solid. */
import { eachOutput, type Finding, probed } from '../finding.js';
import { inFramesOf, quotePart } from '../wording.js';

/** Share of the directions around the eye that meet a surface from behind: from outside a solid hardly any do. */
const INSIDE = 0.5;

/** The eye is inside a part, so that the frame shows its back faces. */
export const cameraInside: Finding = {
  id: 'camera-inside',
  title: 'Camera inside a part',
  area: 'image',
  needs: 'rays',
  inspect: eachOutput((output, { set }, probe) => {
    // A parallel view has no eye: it looks from a whole plane.
    const inside = probed(output, probe).filter(({ frame, probe: p }) => frame.camera.kind !== 'parallel' && p.enclosed >= INSIDE);
    if (inside.length === 0) return [];
    const frames = inside.map((f) => f.frame);
    const where = inFramesOf(set, output, frames);
    return [
      {
        severity: 'fault',
        frames: frames.map((f) => f.number),
        worst: frames[0]!.number,
        message: `The camera is inside ${quotePart(inside[0]!.probe.enclosedBy!)} ${where}. Move the eye out of it.`,
      },
    ];
  }),
};
