/** What will probably be compared next: whoever knows says so, and whoever compares fetches and decodes it meanwhile. */
const listeners = new Set<(url: string) => void>();

/** @param url address of the render under the pointer. */
export function announceLikely(url: string): void {
  for (const hear of listeners) hear(url);
}

/** @returns what ends it. */
export function onLikely(hear: (url: string) => void): () => void {
  listeners.add(hear);
  return () => void listeners.delete(hear);
}
