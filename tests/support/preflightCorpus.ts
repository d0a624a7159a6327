/** Sets made by code for the checks before a run: with one planted fault each, and clean ones, some of them near the limits. */
import { CLEAN } from './preflightClean.js';
import { PLANTED } from './preflightPlanted.js';
import type { CorpusSet } from './preflightScenes.js';

/** All sets with a planted fault, and all clean ones. */
export function corpus(): CorpusSet[] {
  const named = (name: string, s: number): string => `${name}, at ${s}`;
  return [
    ...PLANTED.flatMap(([id, make, scales, follows]) =>
      scales.map((s): CorpusSet => ({ name: named(id, s), planted: id, ...(follows && { follows }), ...make(s) })),
    ),
    ...CLEAN.flatMap(([name, make, scales]) => scales.map((s): CorpusSet => ({ name: named(name, s), ...make(s) }))),
  ];
}
