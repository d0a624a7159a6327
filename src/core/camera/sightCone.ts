/** What a view sees of a plan: its cone of sight, as far as its target. */
import { halfTangents, type Size, type View } from './view.js';

/** Corners across and down a plan (x and z), in metres: of a parallel view four, else three from the eye on; none where it looks straight down. */
export function sightCone(view: View, size: Size, pixelAspect: number): [number, number][] {
  const [ex, , ez] = view.eye;
  const [tx, , tz] = view.target;
  const [dx, dz] = [tx - ex, tz - ez];
  const far = Math.hypot(dx, dz);
  if (far < 1e-9) return [];
  const aspect = (size.width * pixelAspect) / size.height;
  const isParallel = view.kind === 'parallel';
  const half = isParallel ? ((view.width ?? 1) / 2) * Math.min(1, aspect) : halfTangents(view.focalLength, size, pixelAspect)[0] * far;
  const [px, pz] = [(-dz / far) * half, (dx / far) * half];
  const near: [number, number][] = isParallel
    ? [
        [ex - px, ez - pz],
        [ex + px, ez + pz],
      ]
    : [[ex, ez]];
  return [...near, [tx + px, tz + pz], [tx - px, tz - pz]];
}
