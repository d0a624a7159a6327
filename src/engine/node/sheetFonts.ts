/** The fonts of sheets: they ship with the application, and no font of the machine is asked for. */
import { createRequire } from 'node:module';
import type { SheetFont } from '../../core/handover/sheets/page.js';

const require = createRequire(import.meta.url);
const FONTS: Readonly<Record<SheetFont, string>> = {
  words: '@fontsource/barlow/files/barlow-latin-400-normal.woff',
  title: '@fontsource/barlow-semi-condensed/files/barlow-semi-condensed-latin-600-normal.woff',
  numbers: '@fontsource/spline-sans-mono/files/spline-sans-mono-latin-400-normal.woff',
};

/** Files of the fonts, by what they are for. */
export const fontFiles = (): [SheetFont, string][] =>
  (Object.entries(FONTS) as [SheetFont, string][]).map(([font, file]) => [font, require.resolve(file)]);

/** Letters that the fonts do not have become a question mark. */
export const plain = (text: string): string => text.replace(/[^\x20-\x7e\u00a0-\u00ff\u2013-\u2026×·°]/g, '?');

/** Behind renders with a clear backdrop. */
export const MOUNT = '#7b7b7b';
/** Millimetres of an inch. */
export const MM_PER_INCH = 25.4;
