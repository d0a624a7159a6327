/** What a frame costs: a fixed part, a part by pixels, and a part by pixels and samples. */
import type { Frame } from '../frame/frame.js';
import { fileKeys, type Trial } from './trial.js';
import { type FrameTraits, unlikeness } from './traits.js';

/** How much a frame asks for; frames of one run ask for the same. */
export interface FrameWork {
  pixels: number;
  /** Samples a pixel, as many as it has. */
  samples: number;
  /** As Sampling has them; `noise` and `seconds` 0 where they end nothing. */
  noise: number;
  seconds: number;
  quick: boolean;
  denoised: boolean;
  /** Seconds a pixel beyond those that trials took; absent for none. */
  extraPixel?: number;
  /** As fileKey tells them. */
  files: string[];
}

/** What a frame asks of the renderer and of the disk. */
export const workOf = ({ size, sampling, files, passes }: Pick<Frame, 'size' | 'sampling' | 'files' | 'passes'>): FrameWork => ({
  pixels: size.width * size.height,
  samples: sampling.samples,
  noise: sampling.mode === 'traced' ? sampling.noise : 0,
  seconds: sampling.mode === 'traced' ? sampling.seconds : 0,
  quick: sampling.mode === 'quick',
  denoised: sampling.denoise,
  files: fileKeys({ files, passes }),
});

/** Seconds and bytes of one frame. */
export interface FrameCost {
  /** What the workers have to do, in three parts: seconds of all of them together. */
  fixed: number;
  byPixel: number;
  bySample: number;
  /** What comes on top for the machine: files are made beside, by one thread each. */
  written: number;
  bytes: Record<string, number>;
}

/** Seconds that a frame takes of one worker. */
export const workerSeconds = ({ fixed, byPixel, bySample }: Pick<FrameCost, 'fixed' | 'byPixel' | 'bySample'>): number => fixed + byPixel + bySample;

/** Seconds of a frame that no pixel explains: its scene is laid out, and its workers are told. Of the recordings; no source. */
const FIXED_SECONDS = 0.004;
/** Least samples of a pixel before its noise is looked at, as engine/upload/frame.ts has them. */
const MIN_SAMPLES = 16;
/**
 * Bytes a pixel of a file fall as the picture grows, since there is less in a pixel: by this power of the number of pixels.
 * Of the recordings; no source.
 */
const DETAIL_POWER = 0.12;

/** Per pixel and per sample, of one trial or of several. */
interface Rates {
  sample: number;
  pixel: number;
  written: number;
  bytes: Record<string, number>;
  deviations: number[];
  pixels: number;
}

function ratesOf({ pixels, samples, traced, developed, written, bytes, deviations }: Trial): Rates {
  return {
    sample: traced / (pixels * samples),
    pixel: developed / pixels,
    written: written / pixels,
    bytes: Object.fromEntries(Object.entries(bytes).map(([key, n]) => [key, n / pixels])),
    deviations,
    pixels,
  };
}

/** Share of its samples that a picture takes before its cells are as even as `noise`. */
export function shareTaken({ noise, samples }: Pick<FrameWork, 'noise' | 'samples'>, deviations: readonly number[]): number {
  if (noise <= 0 || deviations.length === 0) return 1;
  const taken = deviations.map((d) => Math.min(samples, Math.max(Math.min(MIN_SAMPLES, samples), (d / noise) ** 2)));
  return taken.reduce((a, b) => a + b, 0) / (taken.length * samples);
}

function costBy(rates: Rates, { pixels, samples, noise, seconds, files, extraPixel = 0 }: FrameWork): FrameCost {
  const byPixel = (rates.pixel + extraPixel) * pixels;
  const bySample = rates.sample * pixels * samples * shareTaken({ noise, samples }, rates.deviations);
  const known = Object.values(rates.bytes);
  const usual = known.length > 0 ? known.reduce((a, b) => a + b, 0) / known.length : 0;
  const detail = (pixels / rates.pixels) ** -DETAIL_POWER;
  const bytes: Record<string, number> = {};
  for (const key of files) bytes[key] = (bytes[key] ?? 0) + (rates.bytes[key] ?? usual) * pixels * detail;
  return {
    fixed: FIXED_SECONDS,
    byPixel,
    bySample: seconds > 0 ? Math.min(bySample, Math.max(0, seconds - byPixel)) : bySample,
    written: rates.written * pixels,
    bytes,
  };
}

/** What denoising takes, seconds a pixel: from trials of one frame without and with it. */
export const denoiseCost = (plain: Trial, denoised: Trial): number => Math.max(0, denoised.developed - plain.developed) / plain.pixels;

/** A frame of which a trial was made. */
export interface TriedFrame {
  traits: FrameTraits;
  trial: Trial;
}

/** Of all frames that were tried, the share of each in what is foreseen of one: nearly all where it was tried itself. */
function weightsFor(frame: FrameTraits, tried: readonly TriedFrame[]): number[] {
  const raw = tried.map((t) => 1 / (0.01 + unlikeness(frame, t.traits)) ** 2);
  const sum = raw.reduce((a, b) => a + b, 0);
  return raw.map((w) => w / sum);
}

/** Foresees the frame by those of its run that were tried, or by all where none was. `tried` is not empty. */
export function costOf(frame: FrameTraits, work: FrameWork, tried: readonly TriedFrame[]): FrameCost {
  const own = tried.filter((t) => t.traits.run === frame.run);
  const from = own.length > 0 ? own : tried;
  const costs = from.map((t) => costBy(ratesOf(t.trial), work));
  const weights = weightsFor(frame, from);
  const mean = (pick: (c: FrameCost) => number): number => costs.reduce((sum, c, i) => sum + weights[i]! * pick(c), 0);
  return {
    fixed: FIXED_SECONDS,
    byPixel: mean((c) => c.byPixel),
    bySample: mean((c) => c.bySample),
    written: mean((c) => c.written),
    bytes: Object.fromEntries([...new Set(work.files)].map((key) => [key, mean((c) => c.bytes[key] ?? 0)])),
  };
}
