/** A set with one turntable of tiny frames. */
import { emptySet, type SetFile } from '../../src/core/plan/set.js';
import { formatSheetSchema } from '../../src/core/plan/formatSheet.js';

/** A set of one small turntable. */
export function spin(frames = 4): SetFile {
  const set = emptySet('Spin');
  return {
    ...set,
    sheet: formatSheetSchema.parse({ ...set.sheet, size: { width: 32, height: 18 }, quality: 'quick' }),
    views: [{ id: 'v', name: 'View', kind: 'perspective', eye: [3, 2, 4], target: [0, 0.5, 0], focalLength: 50, keepVerticals: false }],
    shots: [
      {
        id: 'spin',
        kind: 'turntable',
        view: 'v',
        frames,
        degrees: 360,
        start: 0,
        direction: 'clockwise',
        turns: ['subject'],
        pivot: 'centre',
        thereAndBack: false,
        ease: false,
      },
    ],
  };
}
