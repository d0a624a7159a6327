/** What the server foresees of a set. */
import * as z from 'zod';
import type { Choice } from '../core/forecast/choices.js';
import type { Forecast } from '../core/forecast/forecast.js';
import type { Range } from '../core/forecast/range.js';

/** A forecast is asked for a revision, for all frames or a selection, and where it must be done in time for choices too. */
export const forecastQuery = z.object({
  revision: z.coerce.number().int().positive(),
  select: z.string().optional(),
  /** Seconds in which it must be done. */
  within: z.coerce.number().positive().optional(),
});

/** A part of a frame as a choice would render it. */
export const choicePictureQuery = z.object({
  revision: z.coerce.number().int().positive(),
  /** Run of frames (Frame.shot), and the frame's number in it. */
  run: z.string(),
  number: z.coerce.number().int().min(0),
  /** As PictureChange has them. */
  samples: z.coerce.number().positive().max(1),
  scale: z.coerce.number().min(0.05).max(1),
  denoise: z.enum(['true', 'false']),
});

/** What a set is expected to take. */
export interface ForecastReply extends Forecast {
  /** Content of the set that it is of, as SetReply has it. */
  content: string;
  /** Bytes that are free on the disk of the data folder. */
  free: number;
  /** Earlier batches on this machine from which it learnt. */
  learntFrom: number;
  /** Of the frames, those that are neither reused nor developed; absent where all are rendered. */
  toRender?: { frames: number; seconds: Range };
  /** What could be changed, where it would not be done in time; absent where no time was given. */
  choices?: Choice[];
}
