/** What a picture's values come to: histogram, waveform, and where they are clipped. */

/** Values of a channel at 8 bits. */
export const LEVELS = 256;

/** Histogram and waveform of an image of 8 bits. */
export interface Scopes {
  /** Pixels of each of 256 values: red, green, blue and luma, one after another. */
  histogram: Uint32Array;
  /** For each of `columns` parts of the width, how many pixels have each of `rows` ranges of luma, the brightest first. */
  waveform: { columns: number; rows: number; counts: Uint32Array };
  /** Shares of the pixels of which a channel is at its end, 0..1. */
  black: number;
  white: number;
}

/** Luma of 8-bit values, by the weights of Rec. 709. */
const lumaOf = (r: number, g: number, b: number): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** Whether all three channels are at the lower end, or one is at the upper end. */
export const isBlack = (r: number, g: number, b: number): boolean => r === 0 && g === 0 && b === 0;
/** Clipped in a channel at least, at 8 bits. */
export const isWhite = (r: number, g: number, b: number): boolean => r === 255 || g === 255 || b === 255;

/** @param pixels RGBA bytes; clear ones do not count. */
export function scopesOf(pixels: Uint8ClampedArray, width: number, columns = 128, rows = 64): Scopes {
  const histogram = new Uint32Array(4 * LEVELS);
  const counts = new Uint32Array(columns * rows);
  let [count, black, white] = [0, 0, 0];
  for (let i = 0, at = 0; at < pixels.length; i++, at += 4) {
    if (pixels[at + 3] === 0) continue;
    const [r, g, b] = [pixels[at]!, pixels[at + 1]!, pixels[at + 2]!];
    const luma = Math.round(lumaOf(r, g, b));
    histogram[r]!++;
    histogram[LEVELS + g]!++;
    histogram[2 * LEVELS + b]!++;
    histogram[3 * LEVELS + luma]!++;
    const column = Math.floor(((i % width) / width) * columns);
    counts[(rows - 1 - Math.floor((luma * rows) / LEVELS)) * columns + column]!++;
    count++;
    if (isBlack(r, g, b)) black++;
    if (isWhite(r, g, b)) white++;
  }
  return { histogram, waveform: { columns, rows, counts }, black: black / Math.max(1, count), white: white / Math.max(1, count) };
}
