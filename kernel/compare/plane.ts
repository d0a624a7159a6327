/**
 * Planes of single floats with PLANE_MARGIN pixels around them, so that filters of four pixels at a time need no case
 * for the edge: `extend` lays the nearest pixel into the margin. A pointer is to the first pixel within. Loops go on to a
 * multiple of four pixels and write a little into the margin on the right, which `extend` mends.
 */
import { PLANE_MARGIN } from "../layout";

const MARGIN_BYTES: usize = PLANE_MARGIN * 4;

// @ts-ignore: decorator
/** Bytes from row to row, with margins on both sides. */
@inline
export function pitchOf(width: i32): usize {
  return ((<usize>width + 3) & ~3) * 4 + 2 * MARGIN_BYTES;
}

/** Room for a plane with its margin, a multiple of 16. */
export function planeBytes(width: i32, rows: i32): usize {
  return pitchOf(width) * <usize>(rows + 2 * PLANE_MARGIN);
}

/** The first pixel of a plane whose room begins at `start`. */
export function inPlane(start: usize, width: i32): usize {
  return start + pitchOf(width) * PLANE_MARGIN + MARGIN_BYTES;
}

/** Lays the nearest pixel into the margin on all sides. */
export function extend(p: usize, width: i32, rows: i32): void {
  const pitch = pitchOf(width);
  for (let y: i32 = 0; y < rows; y++) {
    const row = p + <usize>y * pitch;
    const first = v128.load32_splat(row), last = f32x4.splat(load<f32>(row + (<usize>(width - 1) << 2)));
    for (let k: usize = 16; k <= MARGIN_BYTES; k += 16) v128.store(row - k, first);
    const end = row + (<usize>width << 2);
    // From the last pixel to the end of the margin; the last four floats may overlap those before.
    const stop = row + pitch - MARGIN_BYTES;
    for (let o = end; o + 16 <= stop; o += 16) v128.store(o, last);
    v128.store(stop - 16, last);
  }
  const length = pitch, start = p - MARGIN_BYTES;
  for (let k: usize = 1; k <= <usize>PLANE_MARGIN; k++) {
    memory.copy(start - k * pitch, start, length);
    memory.copy(start + (<usize>(rows - 1) + k) * pitch, start + <usize>(rows - 1) * pitch, length);
  }
}

/** Every block of 2 × 2 as its mean; at the right and below, what is left over stands for itself. */
export function shrinkByTwo(p: usize, width: i32, rows: i32, out: usize): void {
  const w = (width + 1) >> 1, h = (rows + 1) >> 1, pitch = pitchOf(width), outPitch = pitchOf(w);
  const quarter = f32x4.splat(0.25);
  for (let y: i32 = 0; y < h; y++) {
    const row = p + <usize>y * 2 * pitch, to = out + <usize>y * outPitch;
    for (let x: i32 = 0; x < w; x += 4) {
      const from = row + (<usize>x << 3);
      const a = f32x4.add(v128.load(from), v128.load(from + pitch)), b = f32x4.add(v128.load(from, 16), v128.load(from + pitch, 16));
      const sum = f32x4.add(v128.shuffle<f32>(a, b, 0, 2, 4, 6), v128.shuffle<f32>(a, b, 1, 3, 5, 7));
      v128.store(to + (<usize>x << 2), f32x4.mul(sum, quarter));
    }
  }
}

/** Every block of `factor` × `factor` as its mean, of `outRows` rows of blocks; the blocks at the right and below are of what is there. */
export function shrink(p: usize, width: i32, rows: i32, factor: i32, out: usize, outRows: i32): void {
  const w = (width + factor - 1) / factor, pitch = pitchOf(width), outPitch = pitchOf(w);
  for (let y: i32 = 0; y < outRows; y++) {
    const top = y * factor, below = min(rows, top + factor);
    for (let x: i32 = 0; x < w; x++) {
      const left = x * factor, right = min(width, left + factor);
      let sum: f32 = 0;
      for (let v = top; v < below; v++) {
        const row = p + <usize>v * pitch;
        for (let u = left; u < right; u++) sum += load<f32>(row + (<usize>u << 2));
      }
      store<f32>(out + <usize>y * outPitch + (<usize>x << 2), sum / <f32>((below - top) * (right - left)));
    }
  }
}
