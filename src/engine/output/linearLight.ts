/** The light of a frame before its grade, as its files are graded from it. */
import type { Frame } from '../../core/frame/frame.js';
import { compositeLines } from '../lines/draw.js';
import { halfSource, type PassSource } from './passes.js';

export interface LinearLight {
  width: number;
  height: number;
  channels: 3 | 4;
  /** Red, green, blue of linear Rec. 709, premultiplied where there is alpha, rows from the top. */
  values: Float32Array;
}

/** @param alpha whether the frame is clear behind its subject. @param maxPixels more are reduced by a whole factor, as means of blocks. */
export function linearLight(source: PassSource, lines: Frame['lines'] | null, alpha: boolean, maxPixels: number): LinearLight {
  const halves = halfSource(source);
  const plain = halves.plane('beauty');
  const beauty = lines ? compositeLines(plain, halves.plane('lines'), lines.colour) : plain;
  const cover = alpha ? halves.plane('alpha') : null;
  const factor = Math.max(1, Math.ceil(Math.sqrt((source.width * source.height) / maxPixels)));
  const [width, height] = [Math.floor(source.width / factor), Math.floor(source.height / factor)];
  const channels = alpha ? 4 : 3;
  const values = new Float32Array(width * height * channels);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const to = (y * width + x) * channels;
      for (let v = y * factor; v < (y + 1) * factor; v++)
        for (let u = x * factor; u < (x + 1) * factor; u++) {
          const from = v * source.width + u;
          for (let c = 0; c < 3; c++) values[to + c]! += beauty[from * 3 + c]!;
          if (cover) values[to + 3]! += cover[from]!;
        }
      if (factor > 1) for (let c = 0; c < channels; c++) values[to + c]! /= factor * factor;
    }
  return { width, height, channels, values };
}
