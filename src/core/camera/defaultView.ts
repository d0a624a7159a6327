/** The view that a person starts from. */
import type { Bounds } from '../math/bounds.js';
import { fitView, type Size, type View } from './view.js';

/** Three-quarter from the right, fitted to the subject. */
export function defaultView(bounds: Bounds, size: Size, pixelAspect: number): View {
  const start: View = { id: 'new', name: 'View', kind: 'perspective', eye: [0.8, 0.42, 1], target: [0, 0, 0], focalLength: 50, keepVerticals: false };
  return fitView(start, bounds, size, pixelAspect);
}
