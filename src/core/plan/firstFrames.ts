/** How many frames of a shot are rendered before the rest, in files of their own so that pages need no kinds of shots for it. */

/** Frames of each moving shot that come first where nothing else is said: first, middle and last. */
export const DEFAULT_FIRST_FRAMES = 3;

/** Frames a shot that are rendered first, at most. */
export const MAX_FIRST_FRAMES = 100;
