/** Names in the material mattes of what a frame adds to its model. */
export const GROUND_NAME = 'Ground';
/** Name of a section's caps in mattes. */
export const CAP_NAME = 'Cap';
/** Name of the lines over caps in mattes. */
export const HATCH_NAME = 'Hatch';
