/** The light of a frame before its grade, with what a grade mixes: as its files are graded from it. */
import { passOf, type PassId } from '../../core/image/passes.js';
import type { PassSource } from './film.js';
import { halfSource } from './passes.js';

/** Largest half float: what lies beyond, as depth where nothing is, comes out as it. */
const MOST_HALF = 65504;

/** Light of a render, at the size in which it is graded on screen. */
export interface LinearLight {
  width: number;
  height: number;
  /** Pixels of the render across one of these. */
  reduced: number;
  /** Channels of all passes together, a pixel after another, rows from the top; colour is linear Rec. 709, premultiplied where there is alpha. */
  channels: number;
  values: Float32Array;
}

/** @param passes whose channels lie side by side, in this order. @param maxPixels more are reduced by a whole factor, as means of blocks. */
export function linearLight(source: PassSource, passes: readonly PassId[], maxPixels: number): LinearLight {
  const halves = halfSource(source);
  const factor = Math.max(1, Math.ceil(Math.sqrt((source.width * source.height) / maxPixels)));
  const [width, height] = [Math.floor(source.width / factor), Math.floor(source.height / factor)];
  const channels = passes.reduce((sum, id) => sum + passOf(id).channels.length, 0);
  const values = new Float32Array(width * height * channels);
  let first = 0;
  for (const id of passes) {
    const plane = halves.plane(id);
    const size = passOf(id).channels.length;
    // Distances from lines are in pixels.
    const share = 1 / (factor * factor * (id === 'lines' ? factor : 1));
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const to = (y * width + x) * channels + first;
        for (let v = y * factor; v < (y + 1) * factor; v++)
          for (let u = x * factor; u < (x + 1) * factor; u++)
            for (let c = 0; c < size; c++) values[to + c]! += Math.min(MOST_HALF, plane[(v * source.width + u) * size + c]!) * share;
      }
    first += size;
  }
  return { width, height, reduced: factor, channels, values };
}
