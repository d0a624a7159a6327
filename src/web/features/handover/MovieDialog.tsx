/** How a movie of a shot is made; its code is loaded when somebody asks for one. */
import type { ReactNode } from 'react';
import { Dialog } from 'radix-ui';
import useSWR from 'swr';
import type { EncoderReply } from '../../../contract/packages.js';
import { codecName } from '../../../core/movie/movieOptions.js';
import { fileSize } from '../../app/format.js';
import { get } from '../../state/api.js';
import { Button } from '../../ui/controls.js';
import type { HandoverRow } from './handoverRows.js';
import { MovieFields } from './MovieFields.js';
import { HELP, LABELS, MESSAGES } from './movieWords.js';
import { useMovieForm } from './useMovieForm.js';

/** How a movie is made of a run of frames. */
export function MovieDialog({ row, onDone }: { row: HandoverRow; onDone: () => void }): ReactNode {
  const { length, estimate, partial, busy, make, foresee, ...form } = useMovieForm(row, onDone);
  const { data: encoder } = useSWR<EncoderReply, Error>('/encoder', get);
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
            {length}
            {estimate !== undefined && ` · ${MESSAGES.about(fileSize(estimate))}`}
            {partial && <span className="block text-ochre">{MESSAGES.partial(row.done, row.frames)}</span>}
          </Dialog.Description>
          <MovieFields form={form} batch={row.batch?.id} />
          <span className="flex items-center gap-3">
            <span className="mr-auto text-sm text-graphite" data-testid="encoder">
              {encoder && (encoder.shipped ? MESSAGES.shippedEncoder(encoder.version) : MESSAGES.systemEncoder(encoder.version))}
              {encoder && encoder.lacks.length > 0 && ` ${MESSAGES.encoderLacks(encoder.lacks.map(codecName))}`}
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
