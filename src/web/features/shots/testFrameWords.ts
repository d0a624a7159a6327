/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

const SCALE_NAMES: Record<number, string> = { 1: 'Full size', 0.5: 'Half size', 0.25: 'Quarter size' };

/** Names of things and actions: one to four words. */
export const LABELS = {
  testFrame: 'Test frame',
  testFrameOf: (number: number) => `Test of frame ${number}`,
  scale: (scale: number) => SCALE_NAMES[scale] ?? 'Full size',
  keep: 'Keep test',
  discardKept: 'Discard kept test',
  compare: 'Compare',
  save: 'Save',
  close: 'Close test',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  testFrame: 'Renders this frame now, at the quality of the shot and before any batch.',
  keep: 'Keeps this test to compare later ones with.',
  compare: 'Hold down to show the kept test.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  cancelAt: (percent: number) => `Cancel test (${percent} %)`,
  kept: ' · kept',
  facts: (number: number, size: string, samples: number, seconds: string, kept: string) =>
    `frame ${number} · ${size} · ${samples} samples · ${seconds} s${kept}`,
} satisfies WordTable;
