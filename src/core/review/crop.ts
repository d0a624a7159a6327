/** A part of a picture by whole pixels, also in fixed proportions. */

/** Pixels from the upper left. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}
interface Extent {
  width: number;
  height: number;
}

/** Width over height of "16:9", "4/5", "1.85"; null of anything else. */
export function parseProportion(text: string): number | null {
  const m = /^\s*(\d+(?:\.\d+)?)\s*(?:[:/x×]\s*(\d+(?:\.\d+)?))?\s*$/.exec(text);
  if (!m) return null;
  const ratio = Number(m[1]) / Number(m[2] ?? 1);
  return Number.isFinite(ratio) && ratio >= 0.01 && ratio <= 100 ? ratio : null;
}

/**
 * The box in these proportions, its other side to the nearest pixel; null where it does not lie within the picture.
 * @param byHeight whether its height stays, instead of its width.
 */
export function fitCrop({ x, y, width, height }: Box, picture: Extent, ratio: number | null, byHeight: boolean): Box | null {
  const wide = ratio !== null && byHeight ? Math.max(1, Math.round(height * ratio)) : width;
  const high = ratio !== null && !byHeight ? Math.max(1, Math.round(width / ratio)) : height;
  const whole = [x, y, wide, high].every(Number.isInteger);
  return whole && x >= 0 && y >= 0 && wide >= 1 && high >= 1 && x + wide <= picture.width && y + high <= picture.height
    ? { x, y, width: wide, height: high }
    : null;
}

/** The box between two places in pixels, within the picture; in proportions it begins at the first place. */
export function cropBetween(from: readonly [number, number], to: readonly [number, number], picture: Extent, ratio: number | null): Box {
  const clamp = (v: number, most: number): number => Math.min(most, Math.max(0, Math.round(v)));
  const [x0, y0] = [clamp(from[0], picture.width), clamp(from[1], picture.height)];
  let [x1, y1] = [clamp(to[0], picture.width), clamp(to[1], picture.height)];
  if (ratio !== null) {
    const [right, down] = [x1 >= x0, y1 >= y0];
    // As wide as was drawn, as far as the height has room for it.
    const room = (down ? picture.height - y0 : y0) * ratio;
    const width = Math.min(Math.abs(x1 - x0), Math.floor(room));
    x1 = right ? x0 + width : x0 - width;
    const height = Math.min(Math.round(width / ratio), down ? picture.height - y0 : y0);
    y1 = down ? y0 + height : y0 - height;
  }
  const [x, y] = [Math.min(x0, x1, picture.width - 1), Math.min(y0, y1, picture.height - 1)];
  return { x, y, width: Math.max(1, Math.abs(x1 - x0)), height: Math.max(1, Math.abs(y1 - y0)) };
}
