/** Reads out of a traced picture which part, or which material, stands in each pixel. */
import * as L from '../../../kernel/layout.js';
import type { PartMap } from '../../core/review/changedParts.js';
import type { LinearRender } from '../scheduler/job.js';
import { cryptomatteHash } from '../upload/memoryViews.js';

/** Passes that mattes are. */
export const MATTES = ['parts', 'materials'] as const;
/** One of {@link MATTES}. */
export type Matte = (typeof MATTES)[number];

/** @param picture traced with that pass. @param names that its labels may have. */
export function matteMapOf(
  { sums, stride, width, height }: Pick<LinearRender, 'sums' | 'stride' | 'width' | 'height'>,
  matte: Matte,
  names: readonly string[],
): PartMap {
  const bits = new Uint32Array(sums.buffer, sums.byteOffset, sums.length);
  const named = new Map(names.map((name) => [cryptomatteHash(name), name]));
  const parts: string[] = [];
  const places = new Map<number, number>();
  const map = new Uint16Array(width * height);
  const first = stride - L.MATTES_FLOATS + MATTES.indexOf(matte) * L.MATTE_PAIRS * 2;
  for (let i = 0; i < map.length; i++) {
    let best = 0;
    let label = 0;
    for (let k = 0; k < L.MATTE_PAIRS; k++) {
      const at = i * stride + first + 2 * k;
      if (sums[at + 1]! <= best) continue;
      best = sums[at + 1]!;
      label = bits[at]!;
    }
    const name = best > 0 ? named.get(label) : undefined;
    if (name === undefined) continue;
    let place = places.get(label);
    if (place === undefined) {
      place = parts.push(name);
      places.set(label, place);
    }
    map[i] = place;
  }
  return { width, height, parts, map };
}
