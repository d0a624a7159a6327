/** Passes out of a traced picture: float planes as they are, and as a person looks at them. */
import * as L from '../../../kernel/layout.js';
import { hasAlpha, passOf, type PassId } from '../../core/image/passes.js';
import { roundToHalf } from '../../core/image/half.js';
import { DEFAULT_LINE_WIDTH, lineCover } from '../../core/image/lineCover.js';
import { NO_DEPTH } from '../../core/image/mix.js';
import { applyGrade, type Grade, NEUTRAL_GRADE } from '../../core/image/grade.js';
import { toDisplay } from '../../core/units/colour.js';
import { isLayer, type Layers, layersOf, lightOf } from './apart.js';
import type { Film, PassSource } from './film.js';

/** The passes with lines as the coverage of each pixel at the frame's width. */
export function withLineCover(source: PassSource, lines: { width: number } = { width: DEFAULT_LINE_WIDTH }): PassSource {
  let cover: Float32Array | undefined;
  return { ...source, plane: (id) => (id === 'lines' ? (cover ??= lineCover(source.plane(id), lines.width)) : source.plane(id)) };
}

/** Passes out of a film, each made when it is asked for. */
export function filmSource(film: Film): PassSource {
  let layers: Layers | undefined;
  return { width: film.width, height: film.height, plane: (id) => (isLayer(id) ? (layers ??= layersOf(film))[id] : passPlane(film, id)) };
}

/** Passes of light at half precision, as they are kept; each is rounded once. Data stay as they are. */
export function halfSource(source: PassSource): PassSource {
  const rounded = new Map<PassId, Float32Array>();
  return {
    width: source.width,
    height: source.height,
    plane(id) {
      if (passOf(id).data) return source.plane(id);
      const known = rounded.get(id) ?? roundToHalf(source.plane(id));
      rounded.set(id, known);
      return known;
    },
  };
}

/** One value of `size` a pixel out of the sums. */
function plane(
  { width, height, sums, stride }: Film,
  size: number,
  value: (at: number, n: number, out: Float32Array, o: number) => void,
): Float32Array {
  const out = new Float32Array(width * height * size);
  for (let i = 0; i < width * height; i++) value(i * stride, Math.max(1, sums[i * stride + L.PIXEL_COUNT]!), out, i * size);
  return out;
}

/** Mean of `size` neighbouring sums. */
function mean(source: Film, field: number, size: number): Float32Array {
  const { sums } = source;
  return plane(source, size, (at, n, out, o) => {
    for (let c = 0; c < size; c++) out[o + c] = sums[at + field + c]! / n;
  });
}

/** Numbers of a pass, as PassSource says. */
export function passPlane(source: Film, id: PassId): Float32Array {
  const { sums } = source;
  switch (id) {
    case 'beauty':
      return source.colour;
    case 'diffuse':
      return mean(source, L.PIXEL_DIFFUSE, 3);
    case 'specular':
      return mean(source, L.PIXEL_SPECULAR, 3);
    case 'emission':
      // What is left of the colour: light that came straight.
      return plane(source, 3, (at, n, out, o) => {
        for (let c = 0; c < 3; c++) out[o + c] = Math.max(0, sums[at + c]! - sums[at + L.PIXEL_DIFFUSE + c]! - sums[at + L.PIXEL_SPECULAR + c]!) / n;
      });
    case 'occlusion':
      return plane(source, 1, (at, n, out, o) => {
        out[o] = (sums[at + L.PIXEL_OCCLUSION]! + n - sums[at + L.PIXEL_COVERAGE]!) / n;
      });
    case 'shadow':
      return plane(source, 1, (at, _n, out, o) => {
        const whole = sums[at + L.PIXEL_UNSHADOWED]!;
        out[o] = whole > 0 ? Math.min(1, sums[at + L.PIXEL_SHADOWED]! / whole) : 1;
      });
    case 'depth':
      return plane(source, 1, (at, _n, out, o) => {
        const cover = sums[at + L.PIXEL_COVERAGE]!;
        out[o] = cover > 0 ? sums[at + L.PIXEL_DEPTH]! / cover : NO_DEPTH;
      });
    case 'position':
      return plane(source, 3, (at, _n, out, o) => {
        const cover = sums[at + L.PIXEL_COVERAGE]!;
        for (let c = 0; c < 3; c++) out[o + c] = cover > 0 ? sums[at + L.PIXEL_POSITION + c]! / cover : 0;
      });
    case 'normal':
      return plane(source, 3, (at, _n, out, o) => {
        const [x, y, z] = [0, 1, 2].map((c) => sums[at + L.PIXEL_NORMAL + c]!) as [number, number, number];
        const length = Math.hypot(x, y, z) || 1;
        out.set([x / length, y / length, z / length], o);
      });
    case 'albedo':
      return plane(source, 3, (at, _n, out, o) => {
        const known = sums[at + L.PIXEL_GUIDE_COUNT]!;
        for (let c = 0; c < 3; c++) out[o + c] = known > 0 ? sums[at + L.PIXEL_ALBEDO + c]! / known : 0;
      });
    case 'alpha':
      return mean(source, L.PIXEL_ALPHA, 1);
    case 'parts':
      return matte(source, 0);
    case 'materials':
      return matte(source, 1);
    case 'clay':
    case 'lines': {
      const own = source.own?.[id];
      if (!own) throw new Error(`The ${id} pass was not rendered.`);
      return own;
    }
    case 'translucent':
      return mean(source, L.PIXEL_TRANSLUCENT, 3);
    case 'subject':
    case 'ground-shadow':
    case 'ground':
    case 'backdrop':
      return layersOf(source)[id];
    default:
      return lightOf(source, id);
  }
}

/** Pairs of label bits and coverage, the strongest first. */
function matte(source: Film, which: 0 | 1): Float32Array {
  const { sums, stride } = source;
  const first = stride - L.MATTES_FLOATS + which * L.MATTE_PAIRS * 2;
  return plane(source, L.MATTE_PAIRS * 2, (at, n, out, o) => {
    const pairs = Array.from({ length: L.MATTE_PAIRS }, (_, k) => [sums[at + first + 2 * k]!, sums[at + first + 2 * k + 1]! / n] as const);
    pairs.sort((a, b) => b[1] - a[1]);
    pairs.forEach(([id, share], k) => {
      out[o + 2 * k] = id;
      out[o + 2 * k + 1] = share;
    });
  });
}

/** A colour for a label, bright enough on black. */
function labelColour(bits: number): [number, number, number] {
  const part = (shift: number): number => 0.25 + (0.75 * ((bits >>> shift) & 255)) / 255;
  return [part(0), part(8), part(16)];
}

/**
 * The pass as display values 0..1, three a pixel, the way its help says. Only light is graded.
 * @param range metres that are white and nearly black, of depth; the least and most of all where absent.
 */
export function passToDisplay(source: PassSource, id: PassId, grade?: Grade, range?: readonly [number, number]): Float32Array {
  const { width, height } = source;
  const count = width * height;
  const out = new Float32Array(count * 3);
  const values = source.plane(id);
  const grey = (value: (i: number) => number): Float32Array => {
    for (let i = 0; i < count; i++) out.fill(Math.min(1, Math.max(0, value(i))), i * 3, i * 3 + 3);
    return out;
  };
  if (id === 'depth') {
    // Near is white; nothing is black.
    let [least, most] = range ?? [Infinity, 0];
    if (!range)
      for (const d of values) {
        if (d >= NO_DEPTH) continue;
        least = Math.min(least, d);
        most = Math.max(most, d);
      }
    return grey((i) => (values[i]! >= NO_DEPTH ? 0 : 1 - (0.95 * (values[i]! - least)) / Math.max(most - least, 1e-9)));
  }
  if (id === 'position') {
    const box = [0, 1, 2].map((c) => {
      let [least, most] = [Infinity, -Infinity];
      for (let i = c; i < values.length; i += 3) {
        least = Math.min(least, values[i]!);
        most = Math.max(most, values[i]!);
      }
      return [least, Math.max(most - least, 1e-9)] as const;
    });
    return out.map((_, i) => (values[i]! - box[i % 3]![0]) / box[i % 3]![1]);
  }
  if (id === 'normal') return out.map((_, i) => values[i]! * 0.5 + 0.5);
  if (id === 'albedo') return out.map((_, i) => toDisplay(values[i]!));
  if (id === 'lines') return grey((i) => 1 - values[i]!);
  if (id === 'parts' || id === 'materials') {
    const bits = new Uint32Array(values.buffer, values.byteOffset, values.length);
    for (let i = 0; i < count; i++) {
      for (let k = 0; k < L.MATTE_PAIRS; k++) {
        const at = (i * L.MATTE_PAIRS + k) * 2;
        if (values[at + 1]! <= 0) continue;
        labelColour(bits[at]!).forEach((c, a) => (out[i * 3 + a]! += c * values[at + 1]!));
      }
    }
    return out;
  }
  if (passOf(id).channels.length === 1) return grey((i) => values[i]!);
  // A factor, not light.
  if (id === 'ground-shadow') return out.map((_, i) => Math.min(1, Math.max(0, values[i]!)));
  // Diffuse, specular and straight light add up to beauty before the grade; beside it, they are shown in its exposure.
  // What is clear is shown on black.
  const light = hasAlpha(id) ? out.map((_, i) => values[Math.floor(i / 3) * 4 + (i % 3)]!) : values;
  applyGrade(light, out, id === 'beauty' ? grade : { ...(grade ?? NEUTRAL_GRADE), glow: undefined }, source);
  return out;
}
