/** Connected areas of a mask. */

/** A changed area: its box in pixels, how many pixels of it changed, and the largest difference in it. */
export interface ChangedArea {
  x: number;
  y: number;
  width: number;
  height: number;
  pixels: number;
  largest: number;
}

/** Areas of fewer pixels are single bright samples, which a mean over 3 × 3 pixels spreads over 9. */
export const MIN_AREA = 10;
/** Pixels apart up to which two areas are one. */
const REACH = 4;

/**
 * Areas of the mask that are at least MIN_AREA large, most pixels first; smaller ones are taken off the mask, in place.
 * @param mask 1 where changed. @param values differences by pixel.
 */
export function findAreas(mask: Uint8Array, values: Float32Array, width: number, height: number): ChangedArea[] {
  const seen = new Uint8Array(mask.length);
  const areas: ChangedArea[] = [];
  const stack: number[] = [];
  for (let start = 0; start < mask.length; start++) {
    if (!mask[start] || seen[start]) continue;
    seen[start] = 1;
    stack.push(start);
    const own: number[] = [];
    let [left, right, top, bottom, largest] = [width, -1, height, -1, 0];
    while (stack.length > 0) {
      const i = stack.pop()!;
      own.push(i);
      const [x, y] = [i % width, Math.floor(i / width)];
      [left, right, top, bottom] = [Math.min(left, x), Math.max(right, x), Math.min(top, y), Math.max(bottom, y)];
      largest = Math.max(largest, values[i]!);
      for (let v = Math.max(0, y - REACH); v <= Math.min(height - 1, y + REACH); v++) {
        for (let u = Math.max(0, x - REACH); u <= Math.min(width - 1, x + REACH); u++) {
          const next = v * width + u;
          if (!mask[next] || seen[next]) continue;
          seen[next] = 1;
          stack.push(next);
        }
      }
    }
    if (own.length < MIN_AREA) for (const i of own) mask[i] = 0;
    else areas.push({ x: left, y: top, width: right - left + 1, height: bottom - top + 1, pixels: own.length, largest });
  }
  return areas.sort((a, b) => b.pixels - a.pixels);
}
