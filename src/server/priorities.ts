/**
 * Who goes first at the workers. A person who waits for a picture comes before checks of plans, those before trials of what frames
 * cost, and all of them before frames of batches, which have 0.
 */
export const PRIORITY = {
  /** A row of small pictures, which take least. */
  strip: 12,
  /** A pixel that is asked. */
  pixel: 11,
  thumbnail: 10,
  comparison: 10,
  choice: 8,
  /** Checks have threads of their own; what is below waits for them. */
  check: 6,
  trial: 5,
  swatches: 5,
  shownFile: 5,
  /** Somebody waits for it, but not for a second. */
  testFrame: 4,
} as const;
