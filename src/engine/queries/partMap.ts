/** Reads out of a traced picture which part stands in each pixel. */
import * as L from '../../../kernel/layout.js';
import type { PartMap } from '../../core/review/changedParts.js';
import type { CompiledScene } from '../scene/compile.js';
import type { LinearRender } from '../scheduler/job.js';
import { cryptomatteHash } from '../upload/memoryViews.js';

/** @param picture traced with the pass `parts`. @param scene as resolveScene has it for the frame. */
export function partMapOf(
  { sums, stride, width, height }: Pick<LinearRender, 'sums' | 'stride' | 'width' | 'height'>,
  scene: Pick<CompiledScene, 'parts'>,
): PartMap {
  const bits = new Uint32Array(sums.buffer, sums.byteOffset, sums.length);
  const paths = new Map(scene.parts.map((p) => [cryptomatteHash(p.path), p.path]));
  const parts: string[] = [];
  const places = new Map<number, number>();
  const map = new Uint16Array(width * height);
  const first = stride - L.MATTES_FLOATS;
  for (let i = 0; i < map.length; i++) {
    let best = 0;
    let label = 0;
    for (let k = 0; k < L.MATTE_PAIRS; k++) {
      const at = i * stride + first + 2 * k;
      if (sums[at + 1]! <= best) continue;
      best = sums[at + 1]!;
      label = bits[at]!;
    }
    const path = best > 0 ? paths.get(label) : undefined;
    if (path === undefined) continue;
    let place = places.get(label);
    if (place === undefined) {
      place = parts.push(path);
      places.set(label, place);
    }
    map[i] = place;
  }
  return { width, height, parts, map };
}
