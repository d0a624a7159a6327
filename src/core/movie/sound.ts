/** The sound of a movie: which file, and how it is fitted to the length of the pictures. */
import * as z from 'zod';

/** Endings of files that are taken, and how each is read: nothing is guessed of what others sent. */
export const SOUND_FORMATS = { wav: 'wav', mp3: 'mp3', flac: 'flac', ogg: 'ogg', opus: 'ogg', m4a: 'mov', aac: 'aac' } as const;
/** Endings of sound files that can be used. */
export const SOUND_ENDINGS = Object.keys(SOUND_FORMATS) as (keyof typeof SOUND_FORMATS)[];

/** What a kept sound is called: content hash and ending. */
export const SOUND_NAME = new RegExp(`^[0-9a-f]{64}\\.(${SOUND_ENDINGS.join('|')})$`);

const seconds = z.number().min(0).max(30).default(0);

/** A sound under a movie. */
export const soundSchema = z.strictObject({
  file: z.string().regex(SOUND_NAME, 'is no sound that was uploaded'),
  /** As people call it. */
  name: z.string().min(1).max(200),
  /** What is too long is cut; what is too short is followed by silence, or begins again. */
  fit: z.enum(['cut', 'loop']).default('cut'),
  /** Decibels. */
  gain: z.number().min(-40).max(20).default(0),
  fadeIn: seconds,
  fadeOut: seconds,
});
/** What {@link soundSchema} reads. */
export type Sound = z.infer<typeof soundSchema>;

/** Kilobits a second of compressed sound. */
const KILOBITS = 192;

/** Arguments of ffmpeg that read the sound; they come after those of the pictures. @param file its path. */
export function soundInput(file: string, { fit }: Pick<Sound, 'fit'>): string[] {
  const ending = file.slice(file.lastIndexOf('.') + 1) as keyof typeof SOUND_FORMATS;
  return [...(fit === 'loop' ? ['-stream_loop', '-1'] : []), '-f', SOUND_FORMATS[ending], '-i', file];
}

/** Arguments that fit and encode it. @param length of the movie, seconds. */
export function soundOutput({ gain, fadeIn, fadeOut }: Sound, length: number, encoder: string): string[] {
  const out = Math.min(fadeOut, length);
  const filters = [
    ...(gain !== 0 ? [`volume=${gain}dB`] : []),
    'apad',
    `atrim=end=${length.toFixed(6)}`,
    ...(fadeIn > 0 ? [`afade=t=in:d=${Math.min(fadeIn, length).toFixed(6)}`] : []),
    ...(out > 0 ? [`afade=t=out:st=${(length - out).toFixed(6)}:d=${out.toFixed(6)}`] : []),
  ];
  // Two channels at 48 kHz are what all containers and players take.
  return [
    '-map',
    '0:v:0',
    '-map',
    '1:a:0',
    '-af',
    filters.join(','),
    '-ar',
    '48000',
    '-ac',
    '2',
    '-c:a',
    encoder,
    ...(encoder === 'pcm_s16le' ? [] : ['-b:a', `${KILOBITS}k`]),
  ];
}

/** Bytes that so many seconds of sound take: two channels at 48 kHz. */
export const soundBytes = (encoder: 'aac' | 'pcm_s16le' | 'libopus', seconds: number): number =>
  encoder === 'pcm_s16le' ? seconds * 48_000 * 2 * 2 : seconds * KILOBITS * 125;
