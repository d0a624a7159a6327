/** What is written down of a movie that was made. */
import type { Codec } from '../../core/movie/movieOptions.js';
import type { Sound } from '../../core/movie/sound.js';

/** What a movie came to, for whoever checks it. */
export interface MadeMovie {
  codec: Codec;
  rate: string;
  frames: number;
  /** Hash of the files that it was made of. */
  source?: string;
  /** It was made of what was there of a run. */
  partial?: boolean;
  /** File of its sound, and how that is fitted. */
  sound?: string;
  fit?: Sound['fit'];
  /** Pixels, where they are others than its frames'. */
  size?: { width: number; height: number };
}
