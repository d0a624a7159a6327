import type { PartReply } from '../../contract/contract.js';
import { type Bounds, joinBounds } from '../../core/math/bounds.js';
import { withinAll } from '../../core/model/paths.js';

/** Box of parts with all below them, in the file's own place; null where nothing of them has a size. */
export function partBounds(parts: readonly PartReply[], paths: ReadonlySet<string>): Bounds | null {
  if (paths.size === 0) return null;
  const within = withinAll(parts, paths);
  const boxes = parts.filter((p, i) => within[i] && p.triangles > 0 && p.bounds).map((p) => p.bounds! as Bounds);
  return boxes.length > 0 ? boxes.reduce(joinBounds) : null;
}
