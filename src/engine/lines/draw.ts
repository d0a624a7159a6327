/**
 * Draws lines with hidden ones removed: pieces of a pixel or two are asked of the kernel whether they see the eye. What
 * comes out is how far each pixel is from them, so that their width is chosen afterwards.
 */
import * as L from '../../../kernel/layout.js';
import type { Camera, Size } from '../../core/camera/view.js';
import { MAX_LINE_WIDTH } from '../../core/image/lineCover.js';
import type { Kernel } from '../kernel.js';

/** Length of a piece that is asked at its middle, in pixels. */
const PIECE = 1.5;
/** How far before the surface a piece is asked, in pixels: its own faces must not hide it. */
const LIFT = 1.6;
/** Pixels around a line whose distance is told: as far as the widest one covers. */
const REACH = MAX_LINE_WIDTH / 2 + 0.5;
/** Visible pieces that are measured together, one after another: a pixel between two of them is near both. */
const TOGETHER = 8;

/** Lines to be drawn into one frame. */
export interface LineJob {
  /** Six numbers a line: both ends in the world. */
  segments: Float32Array;
  camera: Camera;
  size: Size;
}

/** Where in kernel memory rays may lie: address and bytes. */
export interface RayBuffers {
  memory: WebAssembly.Memory;
  at: number;
  bytes: number;
  /** Record of the laid frame. */
  frame: number;
}

/** Distance of each pixel's middle from the nearest line, in pixels, up to REACH. A panorama has no lines. */
export function drawLines(kernel: Kernel, room: RayBuffers, { segments, camera, size }: LineJob): Float32Array {
  const distances = new Float32Array(size.width * size.height).fill(REACH);
  if (camera.kind === 'panorama') return distances;
  const v = camera.viewMatrix;
  const p = camera.projectionMatrix;
  const parallel = camera.kind === 'parallel';
  const most = Math.floor(room.bytes / (L.QUERY_BYTES + L.HIT_BYTES));
  const rays = new Float32Array(room.memory.buffer, room.at, (most * L.QUERY_BYTES) / 4);
  const hits = new Uint32Array(room.memory.buffer, room.at + most * L.QUERY_BYTES, (most * L.HIT_BYTES) / 4);
  // Ends of the pieces that are asked next, in pixels.
  const ends = new Float64Array(most * 4);
  // Whether a piece goes on from the one before it.
  const follows = new Uint8Array(most);
  let pieces = 0;
  const flush = (): void => {
    kernel.query(room.frame, room.at, room.at + most * L.QUERY_BYTES, pieces, 1, L.OPAQUE);
    const seen = (i: number): boolean => hits[(i * L.HIT_BYTES + L.HIT_TRIANGLE) / 4] === 0;
    for (let i = 0; i < pieces; i++) {
      if (!seen(i)) continue;
      const first = i;
      // Pieces of one line begin where the one before them ends.
      while (i + 1 < pieces && i + 1 - first < TOGETHER && seen(i + 1) && follows[i + 1] === 1) i++;
      measure(distances, size, ends[first * 4]!, ends[first * 4 + 1]!, ends[i * 4 + 2]!, ends[i * 4 + 3]!);
    }
    pieces = 0;
  };
  const pixel = (x: number, y: number, z: number): [number, number] => {
    const w = parallel ? 1 : -z;
    return [
      (((p[0]! * x + (parallel ? 0 : p[8]! * z)) / w + 1) / 2) * size.width,
      ((1 - (p[5]! * y + (parallel ? 0 : p[9]! * z)) / w) / 2) * size.height,
    ];
  };
  const toEye = (x: number, y: number, z: number): [number, number, number] => [
    v[0]! * x + v[4]! * y + v[8]! * z + v[12]!,
    v[1]! * x + v[5]! * y + v[9]! * z + v[13]!,
    v[2]! * x + v[6]! * y + v[10]! * z + v[14]!,
  ];
  for (let i = 0; i + 5 < segments.length; i += 6) {
    let a = toEye(segments[i]!, segments[i + 1]!, segments[i + 2]!);
    let b = toEye(segments[i + 3]!, segments[i + 4]!, segments[i + 5]!);
    const near = -Math.max(0.01, camera.nearClipping ?? 0);
    if (!parallel || camera.nearClipping) {
      if (a[2] > near && b[2] > near) continue;
      const cut = (from: typeof a, to: typeof a): typeof a =>
        from.map((c, k) => c + ((near - from[2]) / (to[2] - from[2])) * (to[k]! - c)) as typeof a;
      if (a[2] > near) a = cut(a, b);
      else if (b[2] > near) b = cut(b, a);
    }
    const [ax, ay] = pixel(a[0], a[1], a[2]);
    const [bx, by] = pixel(b[0], b[1], b[2]);
    if (isOutside(size, ax, ay, bx, by)) continue;
    const count = Math.min(Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / PIECE)), 4 * (size.width + size.height));
    let [x0, y0] = [ax, ay];
    let goesOn = false;
    for (let k = 0; k < count; k++) {
      const [t, e] = [(k + 0.5) / count, (k + 1) / count];
      const [x1, y1] = pixel(a[0] + e * (b[0] - a[0]), a[1] + e * (b[1] - a[1]), a[2] + e * (b[2] - a[2]));
      const outside = isOutside(size, x0, y0, x1, y1);
      if (!outside) {
        const [x, y, z] = [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])];
        // From the piece to the eye, lifted by some pixels' worth of space.
        const distance = parallel ? 1e4 : Math.sqrt(x * x + y * y + z * z);
        const [tx, ty, tz] = parallel ? [0, 0, 1] : [-x / distance, -y / distance, -z / distance];
        const lift = ((parallel ? 1 : -z) * 2 * LIFT) / (p[0]! * size.width);
        const [fx, fy, fz] = [x + tx * lift - v[12]!, y + ty * lift - v[13]!, z + tz * lift - v[14]!];
        // Back to the world: the view's rotation is its own inverse turned over.
        const at = pieces * 8;
        for (let r = 0; r < 3; r++) {
          rays[at + r] = v[r * 4]! * fx + v[r * 4 + 1]! * fy + v[r * 4 + 2]! * fz;
          rays[at + 3 + r] = v[r * 4]! * tx + v[r * 4 + 1]! * ty + v[r * 4 + 2]! * tz;
        }
        rays[at + 6] = distance - lift;
        ends[pieces * 4] = x0;
        ends[pieces * 4 + 1] = y0;
        ends[pieces * 4 + 2] = x1;
        ends[pieces * 4 + 3] = y1;
        follows[pieces] = goesOn ? 1 : 0;
        if (++pieces === most) flush();
      }
      goesOn = !outside;
      [x0, y0] = [x1, y1];
    }
  }
  if (pieces > 0) flush();
  return distances;
}

/** Whether a straight piece is too far from the picture to be seen in it. */
const isOutside = ({ width, height }: Size, x0: number, y0: number, x1: number, y1: number): boolean =>
  Math.max(x0, x1) < -REACH || Math.min(x0, x1) > width + REACH || Math.max(y0, y1) < -REACH || Math.min(y0, y1) > height + REACH;

/** Takes a straight piece with round ends into the distances around it. */
function measure(distances: Float32Array, { width: w, height: h }: Size, x0: number, y0: number, x1: number, y1: number): void {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const length = dx * dx + dy * dy || 1;
  const [left, right] = [Math.max(0, Math.floor(Math.min(x0, x1) - REACH)), Math.min(w, Math.max(x0, x1) + REACH)];
  for (let y = Math.max(0, Math.floor(Math.min(y0, y1) - REACH)), end = Math.min(h, Math.max(y0, y1) + REACH); y < end; y++) {
    const py = y + 0.5 - y0;
    for (let x = left, at = y * w + left; x < right; x++, at++) {
      const px = x + 0.5 - x0;
      const t = Math.min(1, Math.max(0, (px * dx + py * dy) / length));
      const [qx, qy] = [px - t * dx, py - t * dy];
      const square = qx * qx + qy * qy;
      const known = distances[at]!;
      if (square < known * known) distances[at] = Math.sqrt(square);
    }
  }
}
