/** CIEDE2000 above which a pixel counts as changed: about 1 is just noticeable. */
export const DEFAULT_THRESHOLD = 1;
export const MIN_THRESHOLD = 0.5;
export const MAX_THRESHOLD = 20;
