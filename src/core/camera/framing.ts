/** One plan in several sizes: how a view made for one frame looks through another. */

import { type Bounds, corners, type Vec3 } from '../math/bounds.js';

import { cameraOf, halfTangents, LONG_SIDE_MM, panoramaSize, projectPoint, type Size, type View } from './view.js';

/** The long side's share that lies across: 1 in landscape, the aspect in portrait. */
function widthOf(size: Size, pixelAspect: number): number {
  return Math.min(1, (size.width * pixelAspect) / size.height);
}

/** The view so that this lies across the frame, in tangents of the half angle or, of a parallel view, in half metres. */
function withWidth(view: View, half: number, size: Size, pixelAspect: number): View {
  const long = half / widthOf(size, pixelAspect);
  return view.kind === 'parallel' ? { ...view, width: 2 * long } : { ...view, focalLength: LONG_SIDE_MM / 2 / long };
}

/** Half of what lies across and upright in the frame: tangents, or metres of a parallel view. */
function halves(view: View, size: Size, pixelAspect: number): [number, number] {
  if (view.kind !== 'parallel') return halfTangents(view.focalLength, size, pixelAspect);
  const across = ((view.width ?? 1) / 2) * widthOf(size, pixelAspect);
  return [across, (across * size.height) / (size.width * pixelAspect)];
}

/** How far the subject reaches from the middle of the frame, across and upright, in halves of the frame. */
function reach(view: View, size: Size, pixelAspect: number, bounds: Bounds): number | null {
  const camera = cameraOf(view, size, pixelAspect);
  let most = 0;
  for (const corner of corners(bounds)) {
    const at = projectPoint(camera, size, corner as Vec3);
    if (!at) return null;
    most = Math.max(most, Math.abs((2 * at[0]) / size.width - 1), Math.abs((2 * at[1]) / size.height - 1));
  }
  return most;
}

/**
 * The view, made for a frame of `main` pixels, as it looks through one of `other`. The eye stays; the angle of view
 * (or the width of a parallel view) changes. `zoom` counts for `fitSubject`: what of the main frame's width and height is
 * kept, see subjectZoom. A panorama has one size for all.
 */
export function reframe(view: View, main: Size, other: Size, pixelAspect: number, framing: Framing, zoom = 1): View {
  if (view.kind === 'panorama') return view;
  const [across, upright] = halves(view, main, pixelAspect);
  const aspect = (other.width * pixelAspect) / other.height;
  const half = { keepWidth: across, keepHeight: upright * aspect, fitSubject: Math.max(across, upright * aspect) * zoom }[framing];
  return withWidth(view, half, other, pixelAspect);
}

/**
 * Share of all that the main frame shows at which the subject fills the other frame as it fills the main one; 1 where it
 * reaches behind the eye or out of the main frame.
 */
export function subjectZoom(view: View, main: Size, other: Size, pixelAspect: number, bounds: Bounds): number {
  if (view.kind === 'panorama') return 1;
  const was = reach(view, main, pixelAspect, bounds);
  const is = reach(reframe(view, main, other, pixelAspect, 'fitSubject'), other, pixelAspect, bounds);
  return was === null || is === null || was < 1e-6 || was > 1 ? 1 : is / was;
}

/** The size of a frame through a view: a panorama is twice as wide as high. */
export function frameSize(view: Pick<View, 'kind'>, size: Size): Size {
  return view.kind === 'panorama' ? panoramaSize(size) : size;
}

/** How a further size is framed beside the sheet's own: what lies across stays, what lies upright, or the subject as large as it was. */
export const FRAMINGS = ['keepWidth', 'keepHeight', 'fitSubject'] as const;

/** One of {@link FRAMINGS}. */
export type Framing = (typeof FRAMINGS)[number];
