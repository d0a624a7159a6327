/** Linear light as a page has it from the server, and how it is graded: the same steps as for files. */
import { applyGrade, type Grade } from '../../../core/image/grade.js';
import { compositeLines, mixBeauty } from '../../../core/image/mix.js';
import { passOf, type PassId } from '../../../core/image/passes.js';
import type { Rgb } from '../../../core/units/colour.js';

export interface Light {
  width: number;
  height: number;
  planes: Partial<Record<PassId, Float32Array>>;
  lineColour: Rgb | null;
}

/** Takes channels that lie side by side apart. */
export function readLight(width: number, height: number, passes: readonly PassId[], lineColour: Rgb | null, values: Float32Array): Light {
  const count = width * height;
  const channels = values.length / count;
  const planes: Light['planes'] = {};
  let first = 0;
  for (const id of passes) {
    const size = passOf(id).channels.length;
    const plane = new Float32Array(count * size);
    for (let i = 0; i < count; i++) for (let c = 0; c < size; c++) plane[i * size + c] = values[i * channels + first + c]!;
    planes[id] = plane;
    first += size;
  }
  return { width, height, planes, lineColour };
}

/** Display values 0..1 with straight alpha, as 8-bit RGBA. */
export function gradeLight({ width, height, planes, lineColour }: Light, grade: Grade): Uint8ClampedArray<ArrayBuffer> {
  const { beauty, alpha = null, lines } = planes;
  const mixedColour = grade.mix ? mixBeauty(beauty!, (id) => planes[id] ?? null, grade.mix, grade.exposure, alpha) : beauty!;
  const drawn = lines && lineColour ? compositeLines(mixedColour, lines, lineColour) : mixedColour;
  const display = new Float32Array(drawn.length);
  // The render is premultiplied, so it is divided first.
  const straight = alpha ? drawn.map((c, i) => c / Math.max(alpha[Math.floor(i / 3)]!, 1e-4)) : drawn;
  applyGrade(straight, display, grade, { width, height });
  const bytes = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    for (let c = 0; c < 3; c++) bytes[i * 4 + c] = Math.round(display[i * 3 + c]! * 255);
    bytes[i * 4 + 3] = alpha ? Math.round(Math.min(1, alpha[i]!) * 255) : 255;
  }
  return bytes;
}
