/** How a movie of a shot is made; its code is loaded when somebody asks for one. */
import { type ReactNode, useRef, useState } from 'react';
import { Dialog } from 'radix-ui';
import useSWR from 'swr';
import type { SoundReply, TextureReply } from '../../../contract/contract.js';
import type { EncoderReply } from '../../../contract/packages.js';
import { describeIssues } from '../../../core/base/issues.js';
import { CORNERS } from '../../../core/frame/legend.js';
import { CODEC_LIST, CODECS, LINE_TOKENS, type MovieOptions, movieOptionsSchema, movieSteps } from '../../../core/movie/movieOptions.js';
import type { Logo } from '../../../core/movie/logo.js';
import { type Sound, SOUND_ENDINGS } from '../../../core/movie/sound.js';
import { parseRate, rateValue } from '../../../core/units/rate.js';
import { type FieldSpec, FormFields } from '../../forms/FormFields.js';
import { useWorkspace } from '../../app/workspace.js';
import { get, send } from '../../state/api.js';
import { useRunFrames } from '../../state/results.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, Checkbox } from '../../ui/controls.js';
import { Attached } from './Attached.js';
import type { HandoverRow } from './handoverRows.js';
import { CORNER_WORDS, FIT_WORDS, HELP, LABELS, MESSAGES, PLAY_WORDS } from './movieWords.js';

/** The options as fields show them: what may be absent is an empty text. */
interface Shown extends Omit<MovieOptions, 'rate' | 'from' | 'to' | 'line' | 'background' | 'sound' | 'logo'> {
  rate: string;
  from: string;
  to: string;
  text: string;
  corner: string;
  background: string;
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

const ENCODING: readonly FieldSpec<Shown>[] = [
  {
    key: 'codec',
    kind: 'select',
    label: LABELS.codec,
    help: HELP.codec,
    options: CODECS.map((value) => ({ value, label: CODEC_LIST[value].label })),
  },
  { key: 'rate', kind: 'text', label: LABELS.rate, help: HELP.rate },
  { key: 'quality', kind: 'number', label: LABELS.quality, help: HELP.quality, decimals: 0, when: (o) => CODEC_LIST[o.codec].quality },
];
const PLAYING: readonly FieldSpec<Shown>[] = [
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
const LOOK: readonly FieldSpec<Shown>[] = [
  { key: 'fadeIn', kind: 'number', label: LABELS.fadeIn, help: HELP.fade, unit: 's', decimals: 2, step: 0.5 },
  { key: 'fadeOut', kind: 'number', label: LABELS.fadeOut, help: HELP.fade, unit: 's', decimals: 2, step: 0.5 },
  { key: 'fadeColour', kind: 'colour', label: LABELS.fadeColour, help: HELP.fadeColour },
  { key: 'background', kind: 'text', label: LABELS.background, help: HELP.background },
];
const LINE: readonly FieldSpec<Shown>[] = [
  { key: 'text', kind: 'text', label: LABELS.line, help: HELP.line(LINE_TOKENS.map((t) => `{${t}}`).join(' ')), className: 'col-span-3' },
  {
    key: 'corner',
    kind: 'select',
    label: LABELS.corner,
    help: HELP.corner,
    options: CORNERS.map((value) => ({ value, label: CORNER_WORDS[value] })),
  },
];

const SOUND: readonly FieldSpec<Shown>[] = [
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

const LOGO: readonly FieldSpec<Shown>[] = [
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

const NO_LOGO = { logoFile: '', logoName: '', logoCorner: 'top right', logoWidth: 12, logoMargin: 3, logoOpacity: 100 } as const;
const NO_SOUND = { soundFile: '', soundName: '', soundFit: 'cut', soundGain: 0, soundIn: 0, soundOut: 0 } as const;
const FIRST: Shown = {
  ...movieOptionsSchema.parse({}),
  rate: '',
  from: '',
  to: '',
  text: '',
  corner: 'bottom left',
  background: '',
  ...NO_LOGO,
  ...NO_SOUND,
};

/** Throws an Error that says which value is wrong. */
function optionsOf({
  rate,
  from,
  to,
  text,
  corner,
  background,
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
    ...(logoFile !== '' && {
      logo: { file: logoFile, name: logoName, corner: logoCorner, width: logoWidth / 100, margin: logoMargin / 100, opacity: logoOpacity / 100 },
    }),
    ...(soundFile !== '' && { sound: { file: soundFile, name: soundName, fit: soundFit, gain: soundGain, fadeIn: soundIn, fadeOut: soundOut } }),
  });
  if (!read.success) throw new Error(describeIssues(read.error).join('\n'));
  return read.data;
}

/** How a movie is made of a run of frames. */
export function MovieDialog({ row, onDone }: { row: HandoverRow; onDone: () => void }): ReactNode {
  const [shown, setShown] = useState<Shown>(FIRST);
  const latest = useRef(shown);
  latest.current = shown;
  const { plan } = useWorkspace();
  const [busy, setBusy] = useState(false);
  const { data: encoder } = useSWR<EncoderReply, Error>('/encoder', get);
  const { data: frameList } = useRunFrames(row.batch ? { batch: row.batch.id, run: row.run } : null);
  const planned = row.batch?.rate ?? '24';
  // The rest may still be rendering: the movie is behind its frames then, and says so.
  const partial = row.done < row.frames;
  const put = (values: Partial<Shown>): string | null => {
    const next = { ...shown, ...values };
    try {
      optionsOf(next);
    } catch (e) {
      return (e as Error).message;
    }
    setShown(next);
    return null;
  };
  const length = (): string => {
    const rate = parseRate(shown.rate || planned);
    if (!frameList) return '';
    try {
      const frames = movieSteps(
        frameList
          .filter((f) => !partial || f.state === 'done')
          .map((f) => f.number)
          .sort((a, b) => a - b),
        optionsOf(shown),
        rate,
      ).length;
      const before = row.frames / rateValue(parseRate(planned));
      return MESSAGES.length(frames, (frames / rateValue(rate)).toFixed(2), before.toFixed(2));
    } catch (e) {
      return (e as Error).message;
    }
  };
  const make = (): void => {
    setBusy(true);
    // What is being typed is taken, and a value that cannot be keeps the movie from being made without it.
    Promise.resolve(plan?.flush())
      .then(() => send('POST', `/batches/${row.batch?.id}/clips`, { shot: row.run, options: { ...optionsOf(latest.current), partial } }))
      .then(onDone, (e: Error) => toastProblem(e.message))
      .finally(() => setBusy(false));
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          // The help of a field that has the focus would stand before the title.
          onOpenAutoFocus={(e) => {
            e.preventDefault();
            (e.currentTarget as HTMLElement).focus();
          }}
          className="fixed left-1/2 top-1/2 z-50 flex max-h-[92vh] w-[720px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 flex-col gap-4 overflow-auto border border-graphite bg-chalk p-5"
        >
          <Dialog.Title className="text-lg font-semibold">{LABELS.movieOf(row.name)}</Dialog.Title>
          <Dialog.Description className="num text-sm text-graphite" data-testid="movie-length">
            {length()}
            {partial && <span className="block text-ochre">{MESSAGES.partial(row.done, row.frames)}</span>}
          </Dialog.Description>
          <div className="grid grid-cols-3 gap-x-4 gap-y-3">
            <FormFields fields={ENCODING} values={shown} put={put} />
          </div>
          <div className="grid grid-cols-4 gap-x-4 gap-y-3">
            <FormFields fields={PLAYING} values={shown} put={put} />
          </div>
          <div className="grid grid-cols-4 gap-x-4 gap-y-3">
            <FormFields fields={LOOK} values={shown} put={put} />
          </div>
          <Checkbox
            label={LABELS.burnIn}
            help={HELP.burnIn}
            checked={shown.text !== ''}
            onChecked={(on) => put({ text: on ? '{project} {revision} · {timecode}' : '' })}
          />
          {shown.text !== '' && (
            <div className="grid grid-cols-4 gap-x-4">
              <FormFields fields={LINE} values={shown} put={put} />
            </div>
          )}
          <Attached<TextureReply>
            path="/textures"
            accept=".png,.jpg,.jpeg,.webp"
            words={{ title: LABELS.logo, file: LABELS.logoFile, choose: LABELS.chooseLogo, remove: LABELS.removeLogo, none: MESSAGES.noLogo }}
            name={shown.logoName}
            onFile={({ file }, name) => put({ logoFile: file, logoName: name })}
            onRemove={() => put(NO_LOGO)}
          >
            <FormFields fields={LOGO} values={shown} put={put} />
          </Attached>
          {CODEC_LIST[shown.codec].sound && (
            <Attached<SoundReply>
              path="/sounds"
              accept={SOUND_ENDINGS.map((e) => `.${e}`).join()}
              words={{ title: LABELS.sound, file: LABELS.soundFile, choose: LABELS.chooseSound, remove: LABELS.removeSound, none: MESSAGES.noSound }}
              name={shown.soundName}
              onFile={({ file }, name) => put({ soundFile: file, soundName: name })}
              onRemove={() => put(NO_SOUND)}
            >
              <FormFields fields={SOUND} values={shown} put={put} />
            </Attached>
          )}
          <span className="flex items-center gap-3">
            <span className="mr-auto text-sm text-graphite" data-testid="encoder">
              {encoder && (encoder.shipped ? MESSAGES.shippedEncoder(encoder.version) : MESSAGES.systemEncoder(encoder.version))}
            </span>
            <Button onClick={onDone}>{LABELS.cancel}</Button>
            <Button primary disabled={busy} onClick={make}>
              {LABELS.make}
            </Button>
          </span>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
