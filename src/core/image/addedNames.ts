/** Names in the material mattes of what a frame adds to its model. */
export const GROUND_NAME = 'Ground';
export const CAP_NAME = 'Cap';
export const HATCH_NAME = 'Hatch';
