/** A frame whose edges are moved: more or less is seen, at the same scale. */
import type { Size, View } from './view.js';

/** Pixels of the long side, by which a lens is told. */
function longSide(size: Size, pixelAspect: number): number {
  return Math.max(size.width * pixelAspect, size.height);
}

/**
 * The view through a frame of another size with as many pixels to a degree, or to a metre of a parallel
 * view, as through the first: the picture is cropped or widened about its middle, never scaled. A panorama stays.
 */
export function resizeFrame(view: View, from: Size, to: Size, pixelAspect: number): View {
  const k = longSide(to, pixelAspect) / longSide(from, pixelAspect);
  if (view.kind === 'parallel') return { ...view, width: (view.width ?? 1) * k };
  if (view.kind === 'panorama') return view;
  // 36 mm lie across the long side: a lens half as long sees twice as much across the middle.
  return { ...view, focalLength: Math.min(1200, Math.max(8, view.focalLength / k)) };
}

/** Even and at least 16: what movies take. */
export function evenSize({ width, height }: Size): Size {
  const even = (v: number): number => Math.max(16, 2 * Math.round(v / 2));
  return { width: even(width), height: even(height) };
}

/** Share of each side that stays free of action and of lettering: EBU R 95, 3.5 % and 5 % (from memory). */
export const SAFE_MARGINS = { action: 0.035, graphics: 0.05 } as const;
