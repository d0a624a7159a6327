/** CIEDE2000 above which a pixel counts as changed: about 1 is just noticeable. */
export const DEFAULT_THRESHOLD = 1;
/** Smallest difference that can be asked for, in CIEDE2000. */
export const MIN_THRESHOLD = 0.5;
/** Largest difference that can be asked for, in CIEDE2000. */
export const MAX_THRESHOLD = 20;
