/** Cameras in kernel memory, and where a pixel's samples lie. */
import * as L from '../../../kernel/layout.js';
import type { Sampling } from '../../core/frame/frame.js';
import type { Camera, Size } from '../../core/camera/view.js';
import { writeF32, type Views } from './memoryViews.js';

/** Number of the kernel's projection. */
export const PROJECTIONS = { perspective: 0, parallel: 1, panorama: 2 } as const;

/** Writes a camera for a picture of this size. */
export function writeCamera(views: Views, at: number, camera: Camera, { width, height }: Size): void {
  const p = camera.projectionMatrix;
  const v = camera.viewMatrix;
  // Rows of the view matrix are the camera's axes in the world.
  const right = [v[0]!, v[4]!, v[8]!];
  const up = [v[1]!, v[5]!, v[9]!];
  const forward = [-v[2]!, -v[6]!, -v[10]!];
  let corner = [0, 0, 0];
  let dx = right;
  let dy = up.map((c) => -c);
  if (camera.kind !== 'panorama') {
    // Through clip point (x, y): perspective a direction ((x + P8) / P0, (y + P9) / P5, -1), parallel a place.
    const parallel = camera.kind === 'parallel';
    const start = parallel ? camera.eye : forward;
    const along = (x: number, y: number): number[] => start.map((f, i) => f + ((x + p[8]!) / p[0]!) * right[i]! + ((y + p[9]!) / p[5]!) * up[i]!);
    corner = along(-1, 1);
    dx = along(1, 1).map((c, i) => (c - corner[i]!) / width);
    dy = along(-1, -1).map((c, i) => (c - corner[i]!) / height);
  }
  writeF32(views, at + L.CAMERA_EYE, camera.eye);
  writeF32(views, at + L.CAMERA_CORNER, corner);
  writeF32(views, at + L.CAMERA_DX, dx);
  writeF32(views, at + L.CAMERA_DY, dy);
  writeF32(views, at + L.CAMERA_FORWARD, forward);
}

/** Density of each filter over -1/2 .. 1/2 of its width. The Gaussian is three standard deviations wide to each side. */
const SHAPES: Record<Sampling['filter']['kind'], (x: number) => number> = {
  box: () => 1,
  tent: (x) => 1 - 2 * Math.abs(x),
  gauss: (x) => Math.exp(-18 * x * x),
};

/**
 * Offsets in pixels by cumulative chance, FILTER_CELLS + 1 of them: samples are drawn by the filter,
 * so each belongs to one pixel and counts whole (Ernst, Stamminger, Greiner, "Filter importance sampling", 2006).
 */
export function filterTable({ kind, width }: Sampling['filter']): Float32Array {
  const fine = 4096;
  const sums = new Float64Array(fine + 1);
  for (let i = 0; i < fine; i++) sums[i + 1] = sums[i]! + SHAPES[kind]((i + 0.5) / fine - 0.5);
  const out = new Float32Array(L.FILTER_CELLS + 1);
  let i = 0;
  for (let k = 0; k <= L.FILTER_CELLS; k++) {
    const want = (k / L.FILTER_CELLS) * sums[fine]!;
    while (i < fine - 1 && sums[i + 1]! < want) i++;
    const share = sums[i + 1]! > sums[i]! ? (want - sums[i]!) / (sums[i + 1]! - sums[i]!) : 0;
    out[k] = ((i + Math.min(Math.max(share, 0), 1)) / fine - 0.5) * width;
  }
  return out;
}
