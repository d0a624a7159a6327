/** Paths of parts: names from the root, joined by "/". */

/** Whether a path is the other one's, or hangs below it. */
export function isBelow(path: string, top: string): boolean {
  return path === top || path.startsWith(`${top}/`);
}

/** Of each part of a tree whether it is one of these paths, or hangs below one. Parents must stand before their children. */
export function withinAll(parts: readonly { path: string; parent: number }[], tops: ReadonlySet<string>): boolean[] {
  const within: boolean[] = [];
  for (const { path, parent } of parts) within.push(tops.has(path) || (parent >= 0 && within[parent]!));
  return within;
}

/** Whether a path is one of these, or hangs below one. */
export function isWithin(path: string, tops: ReadonlySet<string>): boolean {
  for (let at = path; ; at = at.slice(0, at.lastIndexOf('/'))) {
    if (tops.has(at)) return true;
    if (!at.includes('/')) return false;
  }
}
