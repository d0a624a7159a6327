/** How a clip is encoded: H.264 in MP4 that plays everywhere, BT.709, limited range, exact rate. */
import { parseRate } from '../units/rate.js';
import type { Size } from '../camera/view.js';

/** H.264 with 4:2:0 colour has one colour sample for two by two pixels. */
export const takesEvenSizes = ({ width, height }: Size): boolean => width % 2 === 0 && height % 2 === 0;

/** Why no clip can be made, or null. */
export function clipProblem({ size, frames, missing }: { size: Size; frames: number; missing: number }): string | null {
  if (frames < 2) return 'A clip needs at least two frames; this shot has one.';
  if (missing > 0) return `${missing} of ${frames} frames are not rendered yet; resume the batch or render them again first.`;
  if (!takesEvenSizes(size)) {
    return `H.264 with 4:2:0 colour needs even sizes, and the frames are ${size.width} × ${size.height}. Change the format sheet to an even size and render again.`;
  }
  return null;
}

/** Colour behind renders with a clear backdrop, where none is asked for: the neutral grey that renders are looked at on. */
export const MOVIE_BACKGROUND = '#7b7b7b';

export interface ClipOptions {
  rate: string;
  size: Size;
  pixelAspect: number;
  input: 'png' | 'jpeg';
}

/** Arguments of ffmpeg but for the output's name; the pictures come in one after another. */
export function clipArguments({ rate, pixelAspect, input }: ClipOptions): string[] {
  const { numerator, denominator } = parseRate(rate);
  const aspect = `${Math.round(pixelAspect * 10_000)}/10000`;
  return [
    '-hide_banner',
    '-loglevel',
    'error',
    '-y',
    '-f',
    'image2pipe',
    '-framerate',
    `${numerator}/${denominator}`,
    '-c:v',
    input === 'png' ? 'png' : 'mjpeg',
    '-i',
    '-',
    // Pictures are sRGB at full range; the movie is Y'CbCr by BT.709 at limited range, and says so.
    // Chroma is halved by plain averages: sharper filters ring beside saturated edges.
    '-vf',
    `scale=in_range=full:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+area,format=yuv420p,setsar=${aspect}`,
    '-c:v',
    'libx264',
    '-preset',
    'medium',
    '-crf',
    '12',
    '-profile:v',
    'high',
    '-color_primaries',
    'bt709',
    '-color_trc',
    'bt709',
    '-colorspace',
    'bt709',
    '-color_range',
    'tv',
    '-video_track_timescale',
    String(numerator),
    '-movflags',
    '+faststart',
    '-f',
    'mp4',
  ];
}
