/** A view in another kind: each kind keeps what only it has, for the way back. */
import { vec3 } from 'gl-matrix';
import { LONG_SIDE_MM, type View, type ViewKind, viewProblem } from '../camera/view.js';

/**
 * The same view as another kind. Focal length, aperture, focus and straight verticals of a perspective view, the width of a
 * parallel one and the roll of both are kept. A parallel view that never had a width begins with what the perspective one
 * shows at its target. Verticals are not kept straight any more where what was changed meanwhile forbids it.
 */
export function viewInKind(view: View, kind: ViewKind): View {
  const across = (LONG_SIDE_MM / view.focalLength) * vec3.distance(view.eye, view.target);
  const width = view.width ?? (kind === 'parallel' ? Number(across.toPrecision(4)) : undefined);
  const next: View = { ...view, kind, ...(width !== undefined && { width }) };
  return next.keepVerticals && viewProblem(next) ? { ...next, keepVerticals: false } : next;
}
