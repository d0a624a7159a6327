/** Isolated points: pixels that stand apart from the middle of the nine that they lie among. */

/** Luma of display values 0..255 (ITU-R BT.709). */
function lumaOf(display: Float32Array): Float64Array {
  return Float64Array.from(
    { length: display.length / 3 },
    (_, i) => 0.2126 * display[3 * i]! + 0.7152 * display[3 * i + 1]! + 0.0722 * display[3 * i + 2]!,
  );
}

/** How far each pixel lies from the median of its 3 × 3 neighbours, below it as negative; the frame's edge is left out. */
export function fromMedian(display: Float32Array, width: number, height: number): Float64Array {
  const luma = lumaOf(display);
  const out = new Float64Array(luma.length);
  const nine = new Float64Array(9);
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1; x + 1 < width; x++) {
      for (let k = 0; k < 9; k++) nine[k] = luma[(y + Math.floor(k / 3) - 1) * width + x + (k % 3) - 1]!;
      out[y * width + x] = luma[y * width + x]! - nine.sort()[4]!;
    }
  return out;
}

/** Three times the root mean square by which the reference's pixels lie from their medians: what lies farther stands apart. */
export function speckLimit(reference: Float32Array, width: number, height: number): number {
  const d = fromMedian(reference, width, height);
  return 3 * Math.sqrt(d.reduce((s, v) => s + v * v, 0) / d.length);
}

/** Percent of pixels that stand apart by more than a limit: all, and those that are too dark. */
export function speckShare(display: Float32Array, width: number, height: number, limit: number): { all: number; dark: number } {
  const d = fromMedian(display, width, height);
  const percent = (keep: (v: number) => boolean): number => (100 * d.filter(keep).length) / d.length;
  return { all: percent((v) => Math.abs(v) > limit), dark: percent((v) => v < -limit) };
}
