/** How a movie of a shot is made; its code is loaded when somebody asks for one. */
import { type ReactNode, useRef, useState } from 'react';
import { Dialog } from 'radix-ui';
import useSWR from 'swr';
import type { MovieForecastReply } from '../../../contract/batches.js';
import type { SoundReply, TextureReply } from '../../../contract/contract.js';
import type { EncoderReply } from '../../../contract/packages.js';
import { CODEC_LIST, movieSteps } from '../../../core/movie/movieOptions.js';
import { SOUND_ENDINGS } from '../../../core/movie/sound.js';
import { parseRate, rateValue } from '../../../core/units/rate.js';
import { FormFields } from '../../forms/FormFields.js';
import { fileSize } from '../../app/format.js';
import { useWorkspace } from '../../app/workspace.js';
import { get, send } from '../../state/api.js';
import { useRunFrames } from '../../state/results.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, Checkbox, Select } from '../../ui/controls.js';
import { Attached } from './Attached.js';
import type { HandoverRow } from './handoverRows.js';
import { ENCODING, FIRST, LINE, LOGO, LOOK, NO_LOGO, NO_SOUND, optionsOf, PLAYING, type Shown, SLATE, SOUND } from './movieForm.js';
import { HELP, LABELS, MESSAGES } from './movieWords.js';

/** How a movie is made of a run of frames. */
export function MovieDialog({ row, onDone }: { row: HandoverRow; onDone: () => void }): ReactNode {
  const [shown, setShown] = useState<Shown>(FIRST);
  const latest = useRef(shown);
  latest.current = shown;
  const { plan, batches } = useWorkspace();
  const [busy, setBusy] = useState(false);
  const [estimate, setEstimate] = useState<number>();
  const others = batches.filter((b) => b.id !== row.batch?.id && b.done > 0);
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
    setEstimate(undefined);
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
      const all = frames + (shown.slateText === '' ? 0 : Math.max(1, Math.round(shown.slateSeconds * rateValue(rate))));
      return MESSAGES.length(all, (all / rateValue(rate)).toFixed(2), before.toFixed(2));
    } catch (e) {
      return (e as Error).message;
    }
  };
  const asked = <T,>(route: string): Promise<T> => {
    setBusy(true);
    // What is being typed is taken, and a value that cannot be keeps the movie from being made without it.
    return Promise.resolve(plan?.flush())
      .then(() => send<T>('POST', `/batches/${row.batch?.id}/${route}`, { shot: row.run, options: { ...optionsOf(latest.current), partial } }))
      .finally(() => setBusy(false));
  };
  const make = (): void => void asked('clips').then(onDone, (e: Error) => toastProblem(e.message));
  const foresee = (): void =>
    void asked<MovieForecastReply>('clips/forecast').then(
      ({ bytes }) => setEstimate(bytes),
      (e: Error) => toastProblem(e.message),
    );
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
            {estimate !== undefined && ` · ${MESSAGES.about(fileSize(estimate))}`}
            {partial && <span className="block text-ochre">{MESSAGES.partial(row.done, row.frames)}</span>}
          </Dialog.Description>
          <div className="grid grid-cols-4 gap-x-4 gap-y-3">
            <FormFields fields={ENCODING} values={shown} put={put} />
          </div>
          <div className="grid grid-cols-4 gap-x-4 gap-y-3">
            <FormFields fields={PLAYING} values={shown} put={put} />
          </div>
          <div className="grid grid-cols-4 gap-x-4 gap-y-3">
            <FormFields fields={LOOK} values={shown} put={put} />
          </div>
          {others.length > 0 && (
            <div className="grid grid-cols-4 gap-x-4">
              <div className="col-span-2">
                <Select
                  label={LABELS.beside}
                  help={HELP.beside}
                  value={shown.beside}
                  options={[
                    { value: '', label: LABELS.nothingBeside },
                    ...others.map((b) => ({ value: String(b.id), label: LABELS.batchBeside(b.revision, b.number) })),
                  ]}
                  onValue={(beside) => put({ beside })}
                />
              </div>
            </div>
          )}
          <Checkbox
            label={LABELS.slate}
            help={HELP.slate}
            checked={shown.slateText !== ''}
            onChecked={(on) => put({ slateText: on ? '{project} | {set}, {shot} | revision {revision} | {size}' : '' })}
          />
          {shown.slateText !== '' && (
            <div className="grid grid-cols-4 gap-x-4">
              <FormFields fields={SLATE} values={shown} put={put} />
            </div>
          )}
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
            <Button disabled={busy} title={HELP.estimateSize} onClick={foresee}>
              {LABELS.estimateSize}
            </Button>
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
