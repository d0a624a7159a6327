/** Grades the lower part of a light beside the worker that has the whole. */
import type { Grade } from '../../../core/image/grade.js';
import { type DrawnLines, gradeLight, type Light } from './gradedLight.js';

/** The light comes first, and again where it is another. */
export type BandAsk = { light: Light } | { grade: Grade; lines: DrawnLines | null };

let light: Light | null = null;

onmessage = ({ data }: MessageEvent<BandAsk>) => {
  if ('light' in data) {
    light = data.light;
    return;
  }
  const bytes = gradeLight(light!, data.grade, data.lines);
  postMessage(bytes, { transfer: [bytes.buffer] });
};
