/** A turntable's outer edge moves by such steps that they are seen one by one. */
import { parseRate } from '../../units/rate.js';
import { effectiveSettings } from '../../plan/formatSheet.js';
import { subjectBounds } from '../../planning/planFrames.js';
import { MAX_FRAMES, rimSpeed, type TurntableShot } from '../../shots/turntable/turntable.js';
import { boxInFrame } from '../boxInFrame.js';
import { eachOutput, type Finding, overBox } from '../finding.js';
import { editFix } from '../fixes.js';

/** A turntable's edge moves so far from frame to frame that it strobes. */
export const strobing: Finding = {
  id: 'strobing',
  title: 'Turntable strobes',
  area: 'movement',
  needs: 'plan',
  inspect: eachOutput((output, { set, bounds }) => {
    const { shot, frames } = output;
    if (!('degrees' in shot) || frames.length < 2) return [];
    const turntable: TurntableShot = shot;
    const sheet = effectiveSettings(set.sheet, turntable);
    if (sheet.shutter > 0 || turntable.frames === undefined) return [];
    const rate = parseRate(sheet.rate);
    const { size, pixelAspect } = frames[0]!;
    const speedWith = (n: number): ReturnType<typeof rimSpeed> =>
      rimSpeed({ ...turntable, frames: n }, { views: set.views, bounds: subjectBounds(set, bounds), rate }, size, pixelAspect);
    const edge = speedWith(turntable.frames);
    if (!edge || edge.pixels <= edge.most) return [];
    // The chord of a step is shorter than its arc, so a little more than in proportion is needed.
    let enough = Math.ceil((turntable.frames * edge.pixels) / edge.most);
    for (let next = speedWith(enough); next && next.pixels > next.most && enough < MAX_FRAMES; next = speedWith(enough)) enough++;
    return [
      {
        severity: 'doubt',
        message: `The subject’s outer edge moves up to ${edge.pixels.toFixed(0)} pixels a frame, and ${edge.most.toFixed(0)} still look even without motion blur. ${enough} frames would do.`,
        fix: editFix(`Make it ${enough} frames`, set, {
          ...set,
          shots: set.shots.map((s) => (s.id === turntable.id ? { ...turntable, frames: enough } : s)),
        }),
        worst: frames[0]!.number,
        ...overBox(boxInFrame(frames[0]!, subjectBounds(set, bounds))),
        about: { edge },
      },
    ];
  }),
};
