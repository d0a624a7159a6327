import type { RevisionReply } from '../../contract/contract.js';
import type { Frame } from '../../core/frame/frame.js';
import type { SetFile } from '../../core/plan/set.js';
import { lookedAt, sizeOfAspect, viewFrame } from '../../core/planning/previewFrame.js';
import type { View } from '../../core/camera/view.js';

/** Long side of the live preview in pixels: enough to judge on a mount, quick enough to follow a hand. */
const LONG_SIDE = 800;
const SAMPLES = 256;

/** The frame that the live preview shows of one that is planned. */
export const plannedPreview = (frame: Frame): Frame => lookedAt(frame, LONG_SIDE, SAMPLES);

/** The frame that the live preview of a view shows; null where the set cannot be planned. */
export function previewFrame(file: SetFile, view: View, revision: Pick<RevisionReply, 'bounds' | 'hash'>, project: string): Frame | null {
  const { size, pixelAspect } = file.sheet;
  const small = sizeOfAspect((size.width * pixelAspect) / size.height, LONG_SIDE);
  // Pixels of the live preview are square.
  const square = { ...file, sheet: { ...file.sheet, pixelAspect: 1 } };
  try {
    return viewFrame(square, view, { bounds: revision.bounds, scene: revision.hash, project }, small, SAMPLES);
  } catch {
    return null;
  }
}
