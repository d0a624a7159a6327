/** What renders without the denoiser come to beside the long references: kept for an engine's version, as they take minutes. */
import { readFileSync, writeFileSync } from 'node:fs';
import { ENGINE_VERSION, withFrame } from '../../src/core/frame/frame.js';
import { judge, type Judged, shown, studio } from './judge.js';
import { loadReference, type Reference, REFERENCES, TURNING } from './references.js';

/** How far renders without the denoiser are from their references. */
export interface Undenoised {
  engine: string;
  /** By the reference's name, then by samples. */
  stills: Record<string, Record<string, Judged>>;
  /** Flicker of the turntable by samples, of each of FLICKER_SEEDS. */
  flicker: Record<string, number[]>;
}

/** Samples that are kept of each reference. The lamp's 256 stand beside 64 denoised ones; the pavilion's take longer than all else. */
const KEPT: Record<string, number[]> = { tern: [16, 64, 256], northmere: [16, 64] };
const FLICKER = [16, 128];
/** Added to the frames' own seeds: with one alone, luck decides within some parts in a hundred. */
export const FLICKER_SEEDS = [0, 7919, 15838, 23757, 31676, 39595];

const FILE = new URL('../reference/pictures/undenoised.json', import.meta.url);

/** Renders a reference's frame and judges it; `taken` are the samples of a pixel in the mean. */
export async function judgeReference(
  place: Awaited<ReturnType<typeof studio>>,
  reference: Reference,
  long: Float32Array,
  samples: number,
  denoise: boolean,
): Promise<Judged & { taken: number }> {
  const { width, height } = reference.size;
  const { colour, taken } = await place.shoot(place.frames[reference.frame]!, { x: 0, y: 0, width, height }, samples, denoise);
  return { ...judge(colour, long, width, height), taken };
}

/** What two neighbouring frames of the turntable differ by, less what they must differ by: seen, when played, as flicker. */
export async function flickerOf(place: Awaited<ReturnType<typeof studio>>, samples: number, denoise: boolean, more = 0): Promise<number> {
  const [first] = TURNING;
  const due = await Promise.all(TURNING.map(loadReference));
  const [a, b] = await Promise.all(
    TURNING.map(async ({ frame }) => {
      const own = place.frames[frame]!;
      // Two frames whose seeds lie as far apart in every round would be no rounds of their own.
      const seeded = withFrame(own, { seed: (own.seed + more * (frame + 1)) >>> 0 });
      return shown((await place.shoot(seeded, { x: 0, y: 0, ...first.size }, samples, denoise)).colour);
    }),
  );
  return Math.sqrt(a!.reduce((sum, v, i) => sum + (b![i]! - v - (due[1]![i]! - due[0]![i]!)) ** 2, 0) / a!.length);
}

/** Renders all that is kept: about three minutes on two cores. */
export async function measureUndenoised(): Promise<Undenoised> {
  const stills: Undenoised['stills'] = {};
  for (const reference of REFERENCES) {
    const place = await studio(reference.model(), reference.set, reference.size);
    const long = await loadReference(reference);
    for (const samples of KEPT[reference.name]!) {
      const { rmse, ssim } = await judgeReference(place, reference, long, samples, false);
      (stills[reference.name] ??= {})[samples] = { rmse, ssim };
    }
    await place.close();
  }
  const [first] = TURNING;
  const place = await studio(first.model(), first.set, first.size);
  const flicker: Undenoised['flicker'] = {};
  for (const samples of FLICKER) {
    flicker[samples] = [];
    for (const more of FLICKER_SEEDS) flicker[samples].push(await flickerOf(place, samples, false, more));
  }
  await place.close();
  return { engine: ENGINE_VERSION, stills, flicker };
}

/** Writes the figures anew. */
export function saveUndenoised(figures: Undenoised): void {
  writeFileSync(FILE, `${JSON.stringify(figures, null, 2)}\n`);
}

/** @throws Error where the figures are of another engine. */
export function loadUndenoised(): Undenoised {
  const figures = JSON.parse(readFileSync(FILE, 'utf8')) as Undenoised;
  if (figures.engine !== ENGINE_VERSION)
    throw new Error(`undenoised.json is of engine ${figures.engine}, not ${ENGINE_VERSION}: run npx tsx scripts/references.ts undenoised.`);
  return figures;
}
