/** Linear light as a page has it from the server, and how it is graded: the same steps as for files. */
import { applyGrade, type Grade } from '../../../core/image/grade.js';
import { lineCover } from '../../../core/image/lineStyle.js';
import { compositeLines, mixBeauty } from '../../../core/image/mix.js';
import { passOf, type PassId } from '../../../core/image/passes.js';
import type { Rgb } from '../../../core/units/colour.js';

/** Light of a render, at the size in which it is graded on screen. */
export interface Light {
  width: number;
  height: number;
  /** Pixels of the render across one of these. */
  reduced: number;
  planes: Partial<Record<PassId, Float32Array>>;
}

/** How lines are drawn over it: width in pixels of the render, colour in linear light. */
export interface DrawnLines {
  width: number;
  colour: Rgb;
}

/** Takes channels that lie side by side apart. */
export function readLight({ width, height, reduced }: Omit<Light, 'planes'>, passes: readonly PassId[], values: Float32Array): Light {
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
  return { width, height, reduced, planes };
}

/** Premultiplied colour as it is without its alpha. */
function divided(colour: Float32Array, alpha: Float32Array): Float32Array {
  const out = new Float32Array(colour.length);
  for (let i = 0, at = 0; at < out.length; i++) {
    const a = alpha[i]!;
    const by = 1 / (a > 1e-4 ? a : 1e-4);
    for (const end = at + 3; at < end; at++) out[at] = colour[at]! * by;
  }
  return out;
}

/** Display values 0..1 with straight alpha, as 8-bit RGBA. @param lines what is drawn, where the light tells how far pixels are from lines. */
export function gradeLight({ width, height, reduced, planes }: Light, grade: Grade, lines: DrawnLines | null): Uint8ClampedArray<ArrayBuffer> {
  const { beauty, alpha = null, lines: distances } = planes;
  const mixedColour = grade.mix ? mixBeauty(beauty!, (id) => planes[id] ?? null, grade.mix, grade.exposure, alpha) : beauty!;
  const drawn = distances && lines ? compositeLines(mixedColour, lineCover(distances, lines.width / reduced), lines.colour) : mixedColour;
  const display = new Float32Array(drawn.length);
  // The render is premultiplied, so it is divided first.
  const straight = alpha ? divided(drawn, alpha) : drawn;
  applyGrade(straight, display, grade, { width, height });
  const bytes = new Uint8ClampedArray(width * height * 4);
  const count = width * height;
  // Such arrays round for themselves, and much faster.
  for (let i = 0, from = 0, to = 0; i < count; i++, from += 3, to += 4) {
    bytes[to] = display[from]! * 255;
    bytes[to + 1] = display[from + 1]! * 255;
    bytes[to + 2] = display[from + 2]! * 255;
    bytes[to + 3] = alpha ? alpha[i]! * 255 : 255;
  }
  return bytes;
}

/** Rows of a light, from `top` on. */
export function bandOf({ width, height, reduced, planes }: Light, top: number, rows: number): Light {
  const own: Light['planes'] = {};
  for (const [id, plane] of Object.entries(planes) as [PassId, Float32Array][]) {
    const perRow = plane.length / height;
    own[id] = plane.slice(top * perRow, (top + rows) * perRow);
  }
  return { width, height: rows, reduced, planes: own };
}

/** Whether each row is graded by itself: glare comes from all around. */
export const gradesInBands = (grade: Grade): boolean => !grade.glow;
