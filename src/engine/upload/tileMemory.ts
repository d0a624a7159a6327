/** Sizes of what a worker keeps in kernel memory. */
import * as L from '../../../kernel/layout.js';

/** Largest side of a traced or denoised tile. */
export const MAX_TILE = 64;
/** A tile of the largest side with every pass; drawing lines keeps its rays there. */
export const TILE_BYTES = MAX_TILE * MAX_TILE * (L.PIXEL_APART_FLOATS + L.MATTES_FLOATS) * 4;
