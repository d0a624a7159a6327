/** Which jobs wait while something else needs the cores: those below the highest of the priorities that are held. */
export class Holds {
  private readonly held = new Set<{ below: number }>();

  /** Holds what is of lower priority. @returns what ends that, once. */
  add(below: number): () => void {
    const hold = { below };
    this.held.add(hold);
    return () => void this.held.delete(hold);
  }

  /** Priority from which jobs go on; lower than any where nothing is held. */
  get floor(): number {
    return Math.max(-Infinity, ...[...this.held].map((h) => h.below));
  }
}
