/** The frame of one view at a given size, as a still of the set would have it. */
import type { Size, View } from '../camera/view.js';
import { withFrame, type Frame } from '../frame/frame.js';
import { planFrames, type PlanContext } from './planFrames.js';
import type { SetFile } from '../plan/set.js';

/** As it is looked at; `view` need not be kept in the set yet. Throws as framesOf does. */
export function viewFrame(set: SetFile, view: View, context: PlanContext, size: Size, samples: number): Frame {
  const shot = { id: 'live', kind: 'still' as const, views: [view.id] };
  const sheet = { ...set.sheet, size, alpha: false, passes: ['beauty' as const], files: [{ type: 'png' as const, bits: 8 as const }] };
  const [frame] = planFrames({ ...set, views: [view], shots: [shot], sheet, reference: set.reference }, context);
  return forPreview(frame!, samples);
}

/** A planned frame as it is looked at, of square pixels and so many across its longer side. */
export function lookedAt(frame: Frame, longSide: number, samples: number): Frame {
  const aspect = (frame.size.width * frame.pixelAspect) / frame.size.height;
  return withFrame(forPreview(frame, samples), { size: sizeOfAspect(aspect, longSide), pixelAspect: 1, transparent: false });
}

/** Pixels of an image with that ratio of width to height, by its longer side. */
export const sizeOfAspect = (aspect: number, longSide: number): Size =>
  aspect >= 1 ? { width: longSide, height: Math.round(longSide / aspect) } : { width: Math.round(longSide * aspect), height: longSide };

/** A frame as it is looked at: traced to so many samples, with mattes and position, so that a pixel can be asked. */
export function forPreview(frame: Frame, samples: number): Frame {
  return withFrame(frame, {
    passes: ['beauty', 'position', 'parts', 'materials'],
    sampling: { ...frame.sampling, mode: 'traced', samples, seconds: 0, noise: 0 },
  });
}
