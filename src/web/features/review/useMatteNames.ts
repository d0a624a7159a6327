/** The name of what stands under the pointer, where mattes are shown. */
import useSWR from 'swr';
import type { MatteReply } from '../../../contract/results.js';
import type { PassId } from '../../../core/image/passes.js';
import { get } from '../../state/api.js';

interface MatteMap extends Omit<MatteReply, 'map'> {
  map: Uint16Array;
}

async function load(path: string): Promise<MatteMap> {
  const { map, ...reply } = await get<MatteReply>(path);
  const bytes = Uint8Array.from(atob(map), (c) => c.charCodeAt(0));
  return { ...reply, map: new Uint16Array(bytes.buffer) };
}

/** Finds the part's path or the material's name at a place of the render; null where nothing is, or no matte is shown. */
export function useMatteNames(batch: number, frame: number, pass: PassId): (at: { x: number; y: number }) => string | null {
  const shown = pass === 'parts' || pass === 'materials';
  const { data } = useSWR<MatteMap, Error>(shown ? `/batches/${batch}/frames/${frame}/matte?of=${pass}` : null, load);
  return ({ x, y }) => {
    if (!data || !shown) return null;
    const { width, height, parts, map } = data;
    const k = map[Math.min(height - 1, Math.floor(y * height)) * width + Math.min(width - 1, Math.floor(x * width))]!;
    return k > 0 ? parts[k - 1]! : null;
  };
}
