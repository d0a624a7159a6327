/** What the application calls itself in what it writes. */

/** Its version, as package.json has it. */
export const VERSION = '0.1.0';
/** Its name with its version. */
export const APPLICATION = `Cold Easel ${VERSION}`;
