/** The options of a movie as fields show them. */
import { describeIssues } from '../../../core/base/issues.js';
import { CORNERS } from '../../../core/frame/legend.js';
import type { Logo } from '../../../core/movie/logo.js';
import { CODEC_LIST, CODECS, hasBitRate, LINE_TOKENS, type MovieOptions, movieOptionsSchema } from '../../../core/movie/movieOptions.js';
import type { Sound } from '../../../core/movie/sound.js';
import type { FieldSpec } from '../../forms/FormFields.js';
import { CORNER_WORDS, FIT_WORDS, HELP, LABELS, PLAY_WORDS } from './movieWords.js';

/** The options as fields show them: what may be absent is an empty text. */
export interface Shown extends Omit<
  MovieOptions,
  'rate' | 'from' | 'to' | 'line' | 'background' | 'sound' | 'logo' | 'bitRate' | 'slate' | 'beside'
> {
  rate: string;
  from: string;
  to: string;
  text: string;
  corner: string;
  background: string;
  /** Kilobits a second; '' where the quality counts. */
  bitRate: string;
  /** Lines of the slate, with `|` between them; '' where there is none. */
  slateText: string;
  slateSeconds: number;
  /** Id of the batch at the right; '' where there is none. */
  beside: string;
  /** The same of the logo; sizes in per cent. */
  logoFile: string;
  logoName: string;
  logoCorner: Logo['corner'];
  logoWidth: number;
  logoMargin: number;
  logoOpacity: number;
  /** File and name of the sound; '' where there is none. */
  soundFile: string;
  soundName: string;
  soundFit: Sound['fit'];
  soundGain: number;
  soundIn: number;
  soundOut: number;
}

/** How it is encoded. */
export const ENCODING: readonly FieldSpec<Shown>[] = [
  {
    key: 'codec',
    kind: 'select',
    label: LABELS.codec,
    help: HELP.codec,
    options: CODECS.map((value) => ({ value, label: CODEC_LIST[value].label })),
  },
  { key: 'rate', kind: 'text', label: LABELS.rate, help: HELP.rate },
  {
    key: 'quality',
    kind: 'number',
    label: LABELS.quality,
    help: HELP.quality,
    decimals: 0,
    when: (o) => CODEC_LIST[o.codec].quality && o.bitRate === '',
  },
  { key: 'bitRate', kind: 'text', label: LABELS.bitRate, help: HELP.bitRate, when: (o) => hasBitRate(o.codec) },
];
/** Which frames it shows, and how long. */
export const PLAYING: readonly FieldSpec<Shown>[] = [
  { key: 'from', kind: 'text', label: LABELS.from, help: HELP.from },
  { key: 'to', kind: 'text', label: LABELS.to, help: HELP.to },
  {
    key: 'play',
    kind: 'select',
    label: LABELS.play,
    help: HELP.play,
    options: (['once', 'thereAndBack'] as const).map((value) => ({ value, label: PLAY_WORDS[value] })),
  },
  { key: 'loops', kind: 'number', label: LABELS.loops, help: HELP.loops, decimals: 0 },
  { key: 'speed', kind: 'number', label: LABELS.speed, help: HELP.speed, decimals: 2, step: 0.25 },
  { key: 'holdFirst', kind: 'number', label: LABELS.holdFirst, help: HELP.hold, unit: 's', decimals: 2, step: 0.5 },
  { key: 'holdLast', kind: 'number', label: LABELS.holdLast, help: HELP.hold, unit: 's', decimals: 2, step: 0.5 },
];
/** Fades, and what is behind clear renders. */
export const LOOK: readonly FieldSpec<Shown>[] = [
  { key: 'fadeIn', kind: 'number', label: LABELS.fadeIn, help: HELP.fade, unit: 's', decimals: 2, step: 0.5 },
  { key: 'fadeOut', kind: 'number', label: LABELS.fadeOut, help: HELP.fade, unit: 's', decimals: 2, step: 0.5 },
  { key: 'fadeColour', kind: 'colour', label: LABELS.fadeColour, help: HELP.fadeColour },
  { key: 'background', kind: 'text', label: LABELS.background, help: HELP.background },
];
/** The line over every frame. */
export const LINE: readonly FieldSpec<Shown>[] = [
  { key: 'text', kind: 'text', label: LABELS.line, help: HELP.line(LINE_TOKENS.map((t) => `{${t}}`).join(' ')), className: 'col-span-3' },
  {
    key: 'corner',
    kind: 'select',
    label: LABELS.corner,
    help: HELP.corner,
    options: CORNERS.map((value) => ({ value, label: CORNER_WORDS[value] })),
  },
];

/** The page before the first frame. */
export const SLATE: readonly FieldSpec<Shown>[] = [
  {
    key: 'slateText',
    kind: 'text',
    label: LABELS.slateText,
    help: HELP.slateText(LINE_TOKENS.map((t) => `{${t}}`).join(' ')),
    className: 'col-span-3',
  },
  { key: 'slateSeconds', kind: 'number', label: LABELS.slateSeconds, help: HELP.slateSeconds, unit: 's', decimals: 2, step: 0.5 },
];

/** How its sound fits. */
export const SOUND: readonly FieldSpec<Shown>[] = [
  {
    key: 'soundFit',
    kind: 'select',
    label: LABELS.soundFit,
    help: HELP.soundFit,
    options: (['cut', 'loop'] as const).map((value) => ({ value, label: FIT_WORDS[value] })),
  },
  { key: 'soundGain', kind: 'number', label: LABELS.soundGain, help: HELP.soundGain, unit: 'dB', decimals: 1, step: 1 },
  { key: 'soundIn', kind: 'number', label: LABELS.soundIn, help: HELP.soundFade, unit: 's', decimals: 2, step: 0.5 },
  { key: 'soundOut', kind: 'number', label: LABELS.soundOut, help: HELP.soundFade, unit: 's', decimals: 2, step: 0.5 },
];

/** Where its logo is. */
export const LOGO: readonly FieldSpec<Shown>[] = [
  {
    key: 'logoCorner',
    kind: 'select',
    label: LABELS.logoCorner,
    help: HELP.logoCorner,
    options: CORNERS.map((value) => ({ value, label: CORNER_WORDS[value] })),
  },
  { key: 'logoWidth', kind: 'number', label: LABELS.logoWidth, help: HELP.logoWidth, unit: '%', decimals: 1, step: 1 },
  { key: 'logoMargin', kind: 'number', label: LABELS.logoMargin, help: HELP.logoMargin, unit: '%', decimals: 1, step: 1 },
  { key: 'logoOpacity', kind: 'number', label: LABELS.logoOpacity, help: HELP.logoOpacity, unit: '%', decimals: 0, step: 5 },
];

/** Values of a movie without a logo. */
export const NO_LOGO = { logoFile: '', logoName: '', logoCorner: 'top right', logoWidth: 12, logoMargin: 3, logoOpacity: 100 } as const;
/** Values of a movie without sound. */
export const NO_SOUND = { soundFile: '', soundName: '', soundFit: 'cut', soundGain: 0, soundIn: 0, soundOut: 0 } as const;
/** What the fields begin with. */
export const FIRST: Shown = {
  ...movieOptionsSchema.parse({}),
  rate: '',
  from: '',
  to: '',
  text: '',
  corner: 'bottom left',
  background: '',
  bitRate: '',
  slateText: '',
  slateSeconds: 2,
  beside: '',
  ...NO_LOGO,
  ...NO_SOUND,
};

/** Throws an Error that says which value is wrong. */
export function optionsOf({
  rate,
  from,
  to,
  text,
  corner,
  background,
  bitRate,
  slateText,
  slateSeconds,
  beside,
  soundFile,
  soundName,
  soundFit,
  soundGain,
  soundIn,
  soundOut,
  logoFile,
  logoName,
  logoCorner,
  logoWidth,
  logoMargin,
  logoOpacity,
  ...others
}: Shown): MovieOptions {
  const read = movieOptionsSchema.safeParse({
    ...others,
    ...(rate !== '' && { rate }),
    ...(from !== '' && { from: Number(from) }),
    ...(to !== '' && { to: Number(to) }),
    ...(text !== '' && { line: { text, corner } }),
    ...(background !== '' && { background }),
    ...(bitRate !== '' && hasBitRate(others.codec) && { bitRate: Number(bitRate) }),
    ...(slateText !== '' && {
      slate: {
        text: slateText
          .split('|')
          .map((line) => line.trim())
          .join('\n'),
        seconds: slateSeconds,
      },
    }),
    ...(beside !== '' && { beside: { batch: Number(beside) } }),
    ...(logoFile !== '' && {
      logo: { file: logoFile, name: logoName, corner: logoCorner, width: logoWidth / 100, margin: logoMargin / 100, opacity: logoOpacity / 100 },
    }),
    ...(soundFile !== '' && { sound: { file: soundFile, name: soundName, fit: soundFit, gain: soundGain, fadeIn: soundIn, fadeOut: soundOut } }),
  });
  if (!read.success) throw new Error(describeIssues(read.error).join('\n'));
  return read.data;
}
