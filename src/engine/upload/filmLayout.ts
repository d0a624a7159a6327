/** What a pixel of the film holds, and how its samples are numbered and shared out. */
import * as L from '../../../kernel/layout.js';
import type { Frame } from '../../core/frame/frame.js';
import { passOf } from '../../core/image/passes.js';

/** Fewer samples than this say too little of where more are needed. */
const MIN_ADAPTIVE_SAMPLES = 8;
/** Most bits of the sample index that pixels share a sequence over. */
const MAX_SEQUENCE_BITS = 12;

/** Floats a pixel that the passes need. */
export function filmLayout(frame: Pick<Frame, 'passes'>): { stride: number; bits: number } {
  const needs = new Set(frame.passes.map((p) => passOf(p).needs));
  const mattes = needs.has('mattes') ? { bits: L.PASS_MATTES, floats: L.MATTES_FLOATS } : { bits: 0, floats: 0 };
  const [bits, floats] = needs.has('apart')
    ? [L.PASS_COMPONENTS | L.PASS_APART, L.PIXEL_APART_FLOATS]
    : needs.has('light')
      ? [L.PASS_COMPONENTS, L.PIXEL_COMPONENTS_FLOATS]
      : [0, L.PIXEL_FLOATS];
  return { bits: bits | mattes.bits, stride: floats + mattes.floats };
}

/** Bits of the index that number a pixel's samples: a power of four holds them, so that neighbours share strata. */
export function sequenceBits(samples: number): number {
  let bits = 0;
  while (bits < MAX_SEQUENCE_BITS && 2 ** bits < samples) bits += 2;
  return bits;
}

/** Samples that every pixel takes before the rest goes where the denoiser helps least; 0 where all take all. */
export function baseSamples({ mode, denoise, noise, samples }: Frame['sampling']): number {
  return mode === 'traced' && denoise && noise === 0 && samples >= MIN_ADAPTIVE_SAMPLES ? Math.ceil(samples / 3) : 0;
}
