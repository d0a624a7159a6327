/**
 * Who goes first at the workers: whoever waits for a render, then checks of plans, then trials of what frames cost, and after all of
 * them frames of batches, which have 0.
 */
export const PRIORITY = {
  /** A row of thumbnails, which take least. */
  strip: 12,
  /** A pixel that is asked. */
  pixel: 11,
  thumbnail: 10,
  comparison: 10,
  /** A plan or an elevation, that views stand on. */
  drawing: 9,
  choice: 8,
  shownFile: 7,
  swatches: 7,
  /** Somebody waits for it, but not for a second. */
  testFrame: 6,
  /** Checks have threads of their own; what is below waits for them. */
  check: 5,
  trial: 4,
} as const;
