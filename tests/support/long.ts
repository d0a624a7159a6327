/** Tests that take too long for every change: `npm run soak -- units` runs them, as its `pages` does those of the interface. */
import { it } from 'vitest';

/** In the place of `it`. */
export const longTest = it.runIf(process.env.EASEL_LONG !== undefined);
