/** What a reader of wires finds. */
export interface Wires {
  /** Both ends of every piece, six numbers each, in metres, in the file's own axes. */
  lists: number[][];
  /** How many sets or curves there are besides that cannot be read. */
  leftOut: number;
}
