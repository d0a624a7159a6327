import { type PartReply } from '../../contract/contract.js';
import { type Bounds, joinBounds } from '../../core/geometry/bounds.js';
import { isWithin } from '../../core/model/paths.js';

/** Box of parts with all below them, in the file's own place; null where nothing of them has a size. */
export function boxOf(parts: readonly PartReply[], paths: ReadonlySet<string>): Bounds | null {
  const boxes = paths.size === 0 ? [] : parts.filter((p) => p.triangles > 0 && p.bounds && isWithin(p.path, paths)).map((p) => p.bounds! as Bounds);
  return boxes.length > 0 ? boxes.reduce(joinBounds) : null;
}
