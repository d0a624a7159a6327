/** A picture of a film while it is being filled: what its tiles hold so far, smaller where that is asked, not denoised. */
import * as L from '../../../kernel/layout.js';
import { applyGrade, type Grade } from '../../core/image/grade.js';
import type { LiveFilm } from '../scheduler/job.js';

/** What of a render in work can be seen. */
export interface PictureSoFar {
  width: number;
  height: number;
  /** Four bytes a pixel, straight alpha: clear where nothing is traced yet. */
  rgba: Uint8Array;
}

/** Pixels of the film, along each side, that are averaged to one. */
const MAX_AVERAGED = 3;

/** @param maxWidth of the picture in pixels; a narrower film is shown as it is. */
export function filmSoFar({ width, height, sums, stride }: Omit<LiveFilm, 'tiles'>, grade: Grade, maxWidth: number): PictureSoFar {
  const scale = Math.max(1, width / maxWidth);
  const [w, h] = [Math.max(1, Math.round(width / scale)), Math.max(1, Math.round(height / scale))];
  const colour = new Float32Array(w * h * 3);
  const there = new Float32Array(w * h);
  const taken = Math.min(MAX_AVERAGED, Math.ceil(scale));
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const out = y * w + x;
      let count = 0;
      for (let j = 0; j < taken * taken; j++) {
        const fx = Math.min(width - 1, Math.floor(((x + ((j % taken) + 0.5) / taken) * width) / w));
        const fy = Math.min(height - 1, Math.floor(((y + (Math.floor(j / taken) + 0.5) / taken) * height) / h));
        const at = (fy * width + fx) * stride;
        const n = sums[at + L.PIXEL_COUNT]!;
        if (!(n > 0)) continue;
        count++;
        for (let c = 0; c < 3; c++) colour[out * 3 + c]! += sums[at + L.PIXEL_COLOUR + c]! / n;
      }
      if (count === 0) continue;
      there[out] = count / (taken * taken);
      for (let c = 0; c < 3; c++) colour[out * 3 + c]! /= count;
    }
  }
  applyGrade(colour, colour, grade, { width: w, height: h });
  const rgba = new Uint8Array(w * h * 4);
  for (let i = 0; i < w * h; i++) {
    for (let c = 0; c < 3; c++) rgba[i * 4 + c] = Math.round(colour[i * 3 + c]! * 255);
    rgba[i * 4 + 3] = Math.round(there[i]! * 255);
  }
  return { width: w, height: h, rgba };
}
