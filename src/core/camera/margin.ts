/** Share of the frame that a fit leaves free at each edge, where nobody says otherwise. */
export const DEFAULT_FIT_MARGIN = 0.08;
