/** How a movie is made of the frames of a shot: which of them in what order, what lies over them, and how it is encoded. */
import * as z from 'zod';
import { fillTokens } from '../base/tokens.js';
import { cornerSchema } from '../frame/legend.js';
import { rateSchema } from '../frame/settings.js';
import { hexSchema } from '../units/colour.js';
import { type Rate, rateValue } from '../units/rate.js';
import { logoSchema } from './logo.js';
import { soundSchema } from './sound.js';

/** Ids of codecs. */
export const CODECS = ['h264', 'h264Mov', 'h265', 'prores422', 'prores4444', 'vp9', 'av1', 'gif', 'webp', 'sequence'] as const;
/** One of {@link CODECS}. */
export type Codec = (typeof CODECS)[number];

interface CodecEntry {
  label: string;
  /** Ending of the file, which tells its container. */
  ending: 'mp4' | 'mov' | 'webm' | 'gif' | 'webp' | 'zip';
  /** The name by which a prober knows it. */
  probed: string;
  /** Whether it can be clear behind its subject. */
  alpha: boolean;
  /** Whether its colour is halved both ways, so that sizes must be even. */
  even: boolean;
  /** Whether a quality can be chosen. */
  quality: boolean;
  /** Encoder of its sound, and the name by which a prober knows it; null where it has none. */
  sound: { encoder: 'aac' | 'pcm_s16le' | 'libopus'; probed: string } | null;
}

const AAC = { encoder: 'aac', probed: 'aac' } as const;
const PCM = { encoder: 'pcm_s16le', probed: 'pcm_s16le' } as const;
const OPUS = { encoder: 'libopus', probed: 'opus' } as const;

/** What each codec is called, written by, and able to. */
export const CODEC_LIST: Readonly<Record<Codec, CodecEntry>> = {
  h264: { label: 'H.264, MP4', ending: 'mp4', probed: 'h264', alpha: false, even: true, quality: true, sound: AAC },
  h264Mov: { label: 'H.264, MOV', ending: 'mov', probed: 'h264', alpha: false, even: true, quality: true, sound: AAC },
  h265: { label: 'H.265, MP4', ending: 'mp4', probed: 'hevc', alpha: false, even: true, quality: true, sound: AAC },
  prores422: {
    label: 'ProRes 422 HQ, MOV',
    ending: 'mov',
    probed: 'prores',
    alpha: false,
    even: true,
    quality: false,
    sound: PCM,
  },
  prores4444: {
    label: 'ProRes 4444, MOV',
    ending: 'mov',
    probed: 'prores',
    alpha: true,
    even: false,
    quality: false,
    sound: PCM,
  },
  vp9: { label: 'VP9, WebM', ending: 'webm', probed: 'vp9', alpha: true, even: true, quality: true, sound: OPUS },
  av1: { label: 'AV1, WebM', ending: 'webm', probed: 'av1', alpha: false, even: true, quality: true, sound: OPUS },
  gif: { label: 'GIF', ending: 'gif', probed: 'gif', alpha: false, even: false, quality: false, sound: null },
  sequence: { label: 'Image sequence, ZIP', ending: 'zip', probed: 'sequence', alpha: true, even: false, quality: false, sound: null },
  webp: { label: 'Animated WebP', ending: 'webp', probed: 'webp', alpha: true, even: false, quality: true, sound: null },
};

/** Name of a codec without its container. */
export const codecName = (codec: Codec): string => CODEC_LIST[codec].label.split(',')[0]!;

/** Whether a codec can keep to a bit rate. */
export const hasBitRate = (codec: Codec): boolean => CODEC_LIST[codec].quality && codec !== 'webp';

const seconds = z.number().min(0).max(30).default(0);
/** How a movie is made. */
export const movieOptionsSchema = z
  .strictObject({
    codec: z.enum(CODECS).default('h264'),
    /** Frames a second; the planned rate where absent. */
    rate: rateSchema.optional(),
    /** 1 to 100, where the codec has a quality. */
    quality: z.int().min(1).max(100).default(88),
    /** Kilobits a second on average, instead of the quality, where the codec has one. */
    bitRate: z.int().min(50).max(500_000).optional(),
    /** First and last frame number; all where absent. */
    from: z.int().min(0).optional(),
    to: z.int().min(0).optional(),
    play: z.enum(['once', 'thereAndBack']).default('once'),
    /** How often it plays in one file. */
    loops: z.int().min(1).max(20).default(1),
    /** 2 shows every second frame, 0.5 each twice. */
    speed: z.number().min(0.1).max(10).default(1),
    /** Seconds that come out of and go into the colour. */
    fadeIn: seconds,
    fadeOut: seconds,
    fadeColour: hexSchema.default('#000000'),
    /** Seconds for which the first and the last frame stand still besides. */
    holdFirst: seconds,
    holdLast: seconds,
    /** Words over every frame; `{…}` are tokens. */
    line: z.strictObject({ text: z.string().min(1).max(200), corner: cornerSchema.default('bottom left') }).optional(),
    /** A page of words before the first frame, with the tokens of the line; lines by line breaks. */
    slate: z.strictObject({ text: z.string().min(1).max(1000), seconds: z.number().min(0.1).max(30).default(2) }).optional(),
    /** The same shot of another batch at the right of this one's, each with its revision. */
    beside: z.strictObject({ batch: z.int().positive() }).optional(),
    /** Colour behind clear renders, where the codec has no alpha or it is wanted. */
    background: hexSchema.optional(),
    /** An image over every frame. */
    logo: logoSchema.optional(),
    /** Only of frames that are rendered, where some are not. */
    partial: z.boolean().default(false),
    /** Sound under it. */
    sound: soundSchema.optional(),
  })
  .refine(
    (o) => o.sound === undefined || CODEC_LIST[o.codec].sound !== null,
    'A GIF, animated WebP or image sequence has no sound. Choose another codec, or leave the sound out.',
  )
  .refine(
    (o) => o.bitRate === undefined || hasBitRate(o.codec),
    'ProRes, GIF, animated WebP and image sequences have no bit rate. Choose another codec, or leave the bit rate out.',
  )
  .refine((o) => o.from === undefined || o.to === undefined || o.from <= o.to, 'The last frame comes before the first.');
/** What {@link movieOptionsSchema} reads. */
export type MovieOptions = z.infer<typeof movieOptionsSchema>;
/** What goes where nothing is said: H.264 at the planned rate. */
export const PLAIN_MOVIE: MovieOptions = movieOptionsSchema.parse({});

/** One frame of the movie: which of the shot's it shows, and how much of it is seen through the fade. */
export interface MovieStep {
  index: number;
  share: number;
}

/** Frames that a movie holds at most: an hour at 60 a second. */
export const MAX_MOVIE_FRAMES = 216_000;

/**
 * What a movie shows, frame by frame. Throws an Error where nothing is left, or it would be too long.
 * @param numbers of the shot's frames, in order. @param rate at which it plays.
 */
export function movieSteps(numbers: readonly number[], options: MovieOptions, rate: Rate): MovieStep[] {
  const { from = -Infinity, to = Infinity, play, loops, speed, fadeIn, fadeOut, holdFirst, holdLast } = options;
  const chosen = numbers.flatMap((n, i) => (n >= from && n <= to ? [i] : []));
  if (chosen.length === 0) throw new Error(`There is no frame from ${options.from ?? 'the first'} to ${options.to ?? 'the last'}.`);
  // Neither end comes twice, so that loops have no stop in them.
  const round = play === 'thereAndBack' ? [...chosen, ...chosen.slice(1, -1).reverse()] : chosen;
  const looped = Array.from({ length: loops }, () => round).flat();
  const count = Math.max(1, Math.round(looped.length / speed));
  const perSecond = rateValue(rate);
  const held = (s: number): number => Math.round(s * perSecond);
  if (count + held(holdFirst) + held(holdLast) > MAX_MOVIE_FRAMES)
    throw new Error(`The movie would have more than ${MAX_MOVIE_FRAMES} frames. Make it shorter.`);
  const played = Array.from({ length: count }, (_, i) => looped[Math.min(looped.length - 1, Math.floor(i * speed))]!);
  const indices = [
    ...Array.from({ length: held(holdFirst) }, () => played[0]!),
    ...played,
    ...Array.from({ length: held(holdLast) }, () => played.at(-1)!),
  ];
  const [coming, going] = [held(fadeIn), held(fadeOut)];
  return indices.map((index, i) => {
    const left = indices.length - 1 - i;
    // The first and the last frame of a fade are the colour alone.
    const share = Math.min(coming > 0 ? i / coming : 1, going > 0 ? left / going : 1, 1);
    return { index, share };
  });
}

/** Tokens of the line, and what each stands for in one frame. */
export const LINE_TOKENS = ['project', 'set', 'shot', 'view', 'revision', 'frame', 'timecode', 'date', 'time', 'size'] as const;
/** What the tokens of a line over the movie stand for, of one frame. */
export type LineWords = Readonly<Record<(typeof LINE_TOKENS)[number], string>>;

/** The line with its tokens filled in. Throws an Error that names one that is not known. */
export const fillLine = (text: string, words: LineWords): string => fillTokens(text, words);
