/** How a movie is encoded: BT.709, limited range, exact rate; H.264 in MP4, which plays everywhere, where nothing else is asked. */
import { type Codec, CODEC_LIST, codecName } from './movieOptions.js';
import { type Sound, soundInput, soundOutput } from './sound.js';
import { parseRate } from '../units/rate.js';
import type { Size } from '../camera/view.js';

/** H.264 with 4:2:0 colour has one colour sample for two by two pixels. */
export const takesEvenSizes = ({ width, height }: Size): boolean => width % 2 === 0 && height % 2 === 0;

/** Why no movie can be made, or null. */
export function clipProblem({ size, frames, missing }: { size: Size; frames: number; missing: number }, codec: Codec = 'h264'): string | null {
  if (frames < 2) return 'A clip needs at least two frames; this shot has one.';
  if (missing > 0) return `${missing} of ${frames} frames are not rendered yet; resume the batch or render them again first.`;
  if (CODEC_LIST[codec].even && !takesEvenSizes(size)) {
    return `${codecName(codec)} with halved colour needs even sizes, and the frames are ${size.width} × ${size.height}. Change the format sheet to an even size and render again.`;
  }
  return null;
}

/** Colour behind renders with a clear backdrop, where none is asked for: the neutral grey that renders are looked at on. */
export const MOVIE_BACKGROUND = '#7b7b7b';

/** Codecs that an encoder writes; a sequence is packed. */
export type EncodedCodec = Exclude<Codec, 'sequence'>;

/** Encoders of ffmpeg by the codecs that they write. */
const ENCODERS: Readonly<Record<EncodedCodec, string>> = {
  h264: 'libx264',
  h264Mov: 'libx264',
  h265: 'libx265',
  prores422: 'prores_ks',
  prores4444: 'prores_ks',
  vp9: 'libvpx-vp9',
  av1: 'libaom-av1',
  gif: 'gif',
  webp: 'libwebp_anim',
};

/** Codecs that a build of ffmpeg cannot write. @param listed what it says to `-encoders`: flags, name and description of each on a line. */
export function lackedCodecs(listed: string): EncodedCodec[] {
  const names = new Set([...listed.matchAll(/^ [A-Z.]{6} (\S+)/gm)].map((m) => m[1]!));
  return (Object.keys(ENCODERS) as EncodedCodec[]).filter((codec) => !names.has(ENCODERS[codec]));
}

/** What one movie is encoded with. */
export interface ClipOptions {
  rate: string;
  size: Size;
  pixelAspect: number;
  input: 'png' | 'jpeg';
  /** H.264 where absent. */
  codec?: EncodedCodec;
  /** 1 to 100. */
  quality?: number;
  /** Kilobits a second on average, instead of the quality. */
  bitRate?: number;
  /** Whether it is clear behind its subject, where the codec can be. */
  alpha?: boolean;
  /** Sound with the path of its file, and the length of the movie in seconds. */
  sound?: Sound & { path: string; length: number };
}

const BT709 = ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv'];

/** Pictures are sRGB at full range; the movie is Y'CbCr by BT.709 at limited range, and says so. */
const toVideo = (format: string, aspect: string): string =>
  // Chroma is halved by plain averages: sharper filters ring beside saturated edges.
  `scale=in_range=full:out_range=tv:out_color_matrix=bt709:flags=accurate_rnd+full_chroma_int+area,format=${format},setparams=colorspace=bt709:color_primaries=bt709:color_trc=bt709,setsar=${aspect}`;

/** The encoders of VP9 and AV1 keep to a quality alone where their bit rate is 0. */
const CONSTANT = ['-b:v', '0'];

/** Constant rate factor of a quality 1..100, from `least` (at 100) to `most`; less is better. Or a bit rate, which peaks may double. */
function amount(
  { quality = 88, bitRate }: Pick<ClipOptions, 'quality' | 'bitRate'>,
  least: number,
  most: number,
  free: readonly string[] = [],
): string[] {
  if (bitRate !== undefined) return ['-b:v', `${bitRate}k`, '-maxrate', `${2 * bitRate}k`, '-bufsize', `${4 * bitRate}k`];
  return [...free, '-crf', String(Math.round(most - ((most - least) * quality) / 100))];
}

/** Filter, encoder and container of a codec, as arguments of ffmpeg. */
function encoderArguments(options: ClipOptions, aspect: string): string[] {
  const { codec = 'h264', quality = 88, alpha = false, rate } = options;
  const { numerator } = parseRate(rate);
  const mp4 = ['-video_track_timescale', String(numerator), '-movflags', '+faststart', '-f', CODEC_LIST[codec].ending];
  const filter = (format: string): string[] => ['-vf', toVideo(format, aspect)];
  switch (codec) {
    case 'h264':
    case 'h264Mov':
      return [...filter('yuv420p'), '-c:v', ENCODERS[codec], '-preset', 'medium', ...amount(options, 7, 48), '-profile:v', 'high', ...BT709, ...mp4];
    case 'h265':
      // The tag by which players of the trade know it in MP4.
      return [
        ...filter('yuv420p'),
        '-c:v',
        ENCODERS[codec],
        '-preset',
        'medium',
        ...amount(options, 9, 50),
        '-tag:v',
        'hvc1',
        '-x265-params',
        'log-level=error',
        ...BT709,
        ...mp4,
      ];
    case 'prores422':
      return [...filter('yuv422p10le'), '-c:v', ENCODERS[codec], '-profile:v', '3', '-vendor', 'apl0', ...BT709, ...mp4];
    case 'prores4444':
      return [...filter(alpha ? 'yuva444p10le' : 'yuv444p10le'), '-c:v', ENCODERS[codec], '-profile:v', '4', '-vendor', 'apl0', ...BT709, ...mp4];
    case 'vp9':
      return [
        ...filter(alpha ? 'yuva420p' : 'yuv420p'),
        '-c:v',
        ENCODERS[codec],
        ...amount(options, 8, 60, CONSTANT),
        '-deadline',
        'good',
        '-cpu-used',
        '4',
        '-auto-alt-ref',
        '0',
        ...BT709,
        '-f',
        'webm',
      ];
    case 'av1':
      return [
        ...filter('yuv420p'),
        '-c:v',
        ENCODERS[codec],
        '-strict',
        'experimental',
        ...amount(options, 8, 60, CONSTANT),
        '-cpu-used',
        '6',
        '-row-mt',
        '1',
        ...BT709,
        '-f',
        'webm',
      ];
    case 'webp':
      // Full range RGB throughout: the format is sRGB by its standard.
      return ['-vf', `format=${alpha ? 'bgra' : 'bgr0'}`, '-c:v', ENCODERS[codec], '-quality', String(quality), '-loop', '0', '-f', 'webp'];
    case 'gif':
      // One palette for all frames, of what moves and what stands; errors are spread.
      return ['-filter_complex', '[0:v]split[a][b];[a]palettegen=stats_mode=full[p];[b][p]paletteuse=dither=sierra2_4a', '-loop', '0', '-f', 'gif'];
  }
}

/** Arguments of ffmpeg but for the output's name; the pictures come in one after another. */
export function clipArguments(options: ClipOptions): string[] {
  const { numerator, denominator } = parseRate(options.rate);
  const aspect = `${Math.round(options.pixelAspect * 10_000)}/10000`;
  const input = ['-f', 'image2pipe', '-framerate', `${numerator}/${denominator}`, '-c:v', options.input === 'png' ? 'png' : 'mjpeg', '-i', '-'];
  const { sound, codec = 'h264' } = options;
  const heard = sound && CODEC_LIST[codec].sound;
  return [
    '-hide_banner',
    '-loglevel',
    'error',
    '-y',
    ...input,
    ...(heard ? soundInput(sound.path, sound) : []),
    ...(heard ? soundOutput(sound, sound.length, heard.encoder) : []),
    ...encoderArguments(options, aspect),
  ];
}
