/** Linear light as a page has it from the server, and what is done to it before the kernel grades it: the same steps as for files. */
import { exposedLight, type Grade } from '../../core/image/grade.js';
import { lineCover } from '../../core/image/lineCover.js';
import { compositeLines, mixBeauty } from '../../core/image/mix.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import type { Rgb } from '../../core/units/colour.js';

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

/** Light as the kernel grades it (engine/grade). */
export interface PreparedLight {
  /** Straight and linear, three a pixel. */
  colour: Float32Array;
  /** Whether exposure, white balance and glare are in it. */
  exposed: boolean;
}

/** Equal for grades that prepare the light alike: what is done before exposure, and glare with what comes before it. */
export function preparationKey({ mix, glow, exposure, whiteBalance }: Grade, lines: DrawnLines | null): string {
  return JSON.stringify([mix && [mix, exposure], lines, glow && [glow, exposure, whiteBalance]]);
}

/** Mixes passes, draws lines and adds glare. @param lines what is drawn, where the light tells how far pixels are from lines. */
export function prepareLight({ width, height, reduced, planes }: Light, grade: Grade, lines: DrawnLines | null): PreparedLight {
  const { beauty, alpha = null, lines: distances } = planes;
  const mixedColour = grade.mix ? mixBeauty(beauty!, (id) => planes[id] ?? null, grade.mix, grade.exposure, alpha) : beauty!;
  const drawn = distances && lines ? compositeLines(mixedColour, lineCover(distances, lines.width / reduced), lines.colour) : mixedColour;
  // The render is premultiplied, so it is divided first.
  const straight = alpha ? divided(drawn, alpha) : drawn;
  return grade.glow ? { colour: exposedLight(straight, grade, { width, height }), exposed: true } : { colour: straight, exposed: false };
}
