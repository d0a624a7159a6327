/** Which parts of the model a difference is about: what stands in its changed pixels, before and after. */
import { MIN_AREA } from './areas.js';
import type { Difference } from './difference.js';

/** What stands in each pixel of a render, of any size with the render's proportions. */
export interface PartMap {
  width: number;
  height: number;
  /** Paths. */
  parts: string[];
  /** Place in `parts` and 1; 0 where no part is. */
  map: Uint16Array;
}

/** Only in the first render, only in the second, or in both. */
export type Presence = 'both' | 'first' | 'second';

/** A part that looks different in the later render. */
export interface ChangedPart {
  path: string;
  /** Share of the picture's pixels that changed where the part is, 0..1. */
  share: number;
  presence: Presence;
}

/** Of a part's own pixels, the share that must have changed: less is its outline, which a neighbour changes. */
const MIN_OWN_SHARE = 0.05;

function visiblePixels({ parts, map }: PartMap): Map<string, number> {
  const counts = new Uint32Array(parts.length + 1);
  for (const k of map) counts[k]!++;
  return new Map(parts.flatMap((path, i) => (counts[i + 1]! > 0 ? [[path, counts[i + 1]!] as const] : [])));
}

/** Parts by the pixels that changed on them, most first. */
export function changedParts({ width, height, mask }: Pick<Difference, 'width' | 'height' | 'mask'>, first: PartMap, second: PartMap): ChangedPart[] {
  const at = (map: PartMap, x: number, y: number): number =>
    map.map[Math.floor(((y + 0.5) / height) * map.height) * map.width + Math.floor(((x + 0.5) / width) * map.width)]!;
  const changed = new Map<string, number>();
  const add = (path: string): void => void changed.set(path, (changed.get(path) ?? 0) + 1);
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    const [a, b] = [at(first, x, y), at(second, x, y)];
    const before = a > 0 ? first.parts[a - 1]! : null;
    const after = b > 0 ? second.parts[b - 1]! : null;
    if (before !== null) add(before);
    if (after !== null && after !== before) add(after);
  }
  const [was, is] = [visiblePixels(first), visiblePixels(second)];
  const pixels = width * height;
  const scale = pixels / (first.width * first.height);
  return [...changed]
    .filter(([path, count]) => count >= MIN_AREA && count >= MIN_OWN_SHARE * scale * Math.max(was.get(path) ?? 0, is.get(path) ?? 0))
    .sort((a, b) => b[1] - a[1])
    .map(([path, count]) => ({ path, share: count / pixels, presence: was.has(path) ? (is.has(path) ? 'both' : 'first') : 'second' }));
}
