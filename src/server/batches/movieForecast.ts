/** How large a movie will be, before it is made. */
import { stat } from 'node:fs/promises';
import { type Codec, CODEC_LIST } from '../../core/movie/movieOptions.js';
import { soundBytes } from '../../core/movie/sound.js';
import { parseRate, rateValue } from '../../core/units/rate.js';
import type { ServerContext } from '../context.js';
import type { Batch } from '../db/models.js';
import { inFolder } from '../results/shownFile.js';
import { encodeMovie } from './encodeMovie.js';
import type { Asked } from './footage.js';
import { planMovie } from './planMovie.js';

/** Frames of the shorter of two trials; the longer has twice as many. */
const TRIAL_FRAMES = 12;
/** Frames from one that stands for itself to the next, as the encoders have them where nobody says. */
const KEY_FRAMES: Partial<Record<Codec, number>> = { h264: 250, h265: 250, vp9: 128, av1: 128 };

/**
 * Bytes that a movie will take: by its bit rate; else of two trials from its middle, from which come what a frame takes that stands
 * for itself and what one takes that tells a change. Sound counts with its bit rate. Rejects as startClip throws.
 */
export async function forecastMovie(
  context: ServerContext,
  batch: Batch,
  asked: Asked,
  signal: AbortSignal,
): Promise<{ bytes: number; frames: number }> {
  const { work, silent, made, slateFrames, codec } = await planMovie(context, batch, asked);
  const frames = work.pictures.length;
  // A slate is one frame that stays, which takes next to nothing.
  const pictures = work.pictures.slice(slateFrames);
  const seconds = frames / rateValue(parseRate(made.rate));
  const heard = asked.options?.sound ? soundBytes(CODEC_LIST[codec].sound!.encoder, seconds) : 0;
  const bitRate = asked.options?.bitRate;
  if (bitRate !== undefined) return { bytes: Math.round(bitRate * 125 * seconds + heard), frames };
  const from = Math.max(0, Math.floor((pictures.length - 2 * TRIAL_FRAMES) / 2));
  const take = (count: number): Promise<number> =>
    inFolder(context, `trial.${CODEC_LIST[codec].ending}`, async (out) => {
      await encodeMovie({ ...silent, pictures: pictures.slice(from, from + count) }, out, signal, () => undefined);
      return (await stat(out)).size;
    });
  if (pictures.length <= 2 * TRIAL_FRAMES) return { bytes: Math.round((await take(pictures.length)) + heard), frames };
  const [few, more] = [await take(TRIAL_FRAMES), await take(2 * TRIAL_FRAMES)];
  const perFrame = Math.max(0, (more - few) / TRIAL_FRAMES);
  const key = Math.max(perFrame, few - (TRIAL_FRAMES - 1) * perFrame);
  const keys = Math.ceil(pictures.length / (KEY_FRAMES[codec] ?? pictures.length));
  return { bytes: Math.round(keys * key + (pictures.length - keys) * perFrame + heard), frames };
}
