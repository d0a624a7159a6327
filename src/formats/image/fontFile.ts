/** Fonts that ship with the application, as outlines: no font of the machine is asked for. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Font, parse } from 'opentype.js';

const require = createRequire(import.meta.url);

/** The font in a file of a package, as `@fontsource/…/….woff`. Throws where it is not there or no font. */
export function shippedFont(file: string): Font {
  // Asked for as Node does it: the package has no named exports for import.
  const library = require('opentype.js') as { parse: typeof parse };
  const bytes = readFileSync(require.resolve(file));
  return library.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
}
