/** What is said of movies: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  movieOf: (name: string) => `Movie of ${name}`,
  codec: 'Codec',
  rate: 'Rate',
  quality: 'Quality',
  bitRate: 'Kilobits per second',
  beside: 'Beside it',
  nothingBeside: 'nothing',
  batchBeside: (letter: string, number: number) => `revision ${letter}, batch ${number}`,
  slate: 'Slate',
  slateText: 'Slate text',
  slateSeconds: 'Slate length',
  estimateSize: 'Estimate size',
  from: 'From frame',
  to: 'To frame',
  play: 'Play',
  loops: 'Times',
  speed: 'Speed',
  holdFirst: 'Hold first',
  holdLast: 'Hold last',
  fadeIn: 'Fade in',
  fadeOut: 'Fade out',
  fadeColour: 'Fade colour',
  background: 'Backdrop',
  burnIn: 'Burnt-in line',
  line: 'Line',
  corner: 'Corner',
  logo: 'Logo',
  logoFile: 'Logo file',
  chooseLogo: 'Choose logo …',
  removeLogo: 'Remove logo',
  logoCorner: 'Logo corner',
  logoWidth: 'Logo width',
  logoMargin: 'Margin',
  logoOpacity: 'Opacity',
  sound: 'Sound',
  soundFile: 'Sound file',
  chooseSound: 'Choose sound …',
  removeSound: 'Remove sound',
  soundFit: 'Fit',
  soundGain: 'Gain',
  soundIn: 'Sound fade in',
  soundOut: 'Sound fade out',
  cancel: 'Cancel',
  make: 'Make movie',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  codec:
    'H.264 plays everywhere. ProRes and sequences are for editing. ProRes 4444, VP9, WebP and sequences keep a clear backdrop. AV1 is small and slow to make.',
  rate: 'Frames per second, as 25 or 24000/1001; empty keeps the planned rate.',
  quality: '1 to 100; higher makes larger files.',
  bitRate: 'Average bit rate, 50 to 500000 kbit/s, instead of the quality; empty keeps the quality.',
  beside: 'Shows the same shot of another batch to the right, each named by its revision. The movie is as wide as both.',
  slate: 'Shows a page of words before the first frame.',
  slateText: (tokens: string) => `| begins a new line. Tokens: ${tokens}.`,
  slateSeconds: 'Seconds before the first frame, 0.1 to 30.',
  estimateSize: 'Encodes up to 36 frames to estimate the file size.',
  from: 'Number of the first frame; empty begins with the first.',
  to: 'Number of the last frame; empty ends with the last.',
  play: 'Once, or there and back without stopping at the ends.',
  loops: 'How often it plays within the file, 1 to 20.',
  speed: '2 shows every second frame, 0.5 shows each twice; 0.1 to 10.',
  hold: 'Seconds for which the frame is held, up to 30.',
  fade: 'Seconds of the fade, up to 30.',
  fadeColour: 'Colour of the fades, as #rrggbb.',
  background: 'Colour behind a clear backdrop, as #rrggbb. Empty keeps it clear where the codec can, else neutral grey.',
  logoCorner: 'Corner of the frame in which the logo is.',
  logoWidth: 'Share of the width of the frame, 1 to 100 %.',
  logoMargin: 'Room to the edges of the frame, 0 to 40 % of its width.',
  logoOpacity: '5 to 100 %; at 100 % nothing shines through.',
  soundFit: 'Sound that is too long is cut. What is too short ends in silence, or begins again.',
  soundGain: 'Louder or softer than the file, -40 to 20 dB.',
  soundFade: 'Seconds of the fade, up to 30.',
  burnIn: 'Writes a line over every frame.',
  line: (tokens: string) => `Own words and tokens: ${tokens}.`,
  corner: 'Where the line is.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  length: (frames: number, seconds: string, planned: string) =>
    `${frames} frames, ${seconds} s${seconds === planned ? ' as planned' : ` instead of ${planned} s as planned`}`,
  about: (size: string) => `about ${size}`,
  partial: (done: number, frames: number) =>
    `${done} of ${frames} frames are rendered; the movie is made of those, and can be made again when more are there.`,
  noSound: 'No sound.',
  noLogo: 'No logo.',
  systemEncoder: (version: string) => `Made by ffmpeg ${version} of this machine.`,
  encoderLacks: (codecs: string[]) => `It cannot write ${[...new Set(codecs)].join(', ')}.`,
  shippedEncoder: (version: string) => `Made by ffmpeg ${version}, which came with the application.`,
} satisfies WordTable;

/** Ways in which a sound fits a movie's length. */
export const FIT_WORDS = { cut: 'cut, or silence', loop: 'repeat' } satisfies WordTable;
/** Ways in which a movie plays. */
export const PLAY_WORDS = { once: 'once', thereAndBack: 'there and back' } satisfies WordTable;
/** Corners of the frame. */
export const CORNER_WORDS = {
  'top left': 'top left',
  'top right': 'top right',
  'bottom left': 'bottom left',
  'bottom right': 'bottom right',
} satisfies WordTable;
