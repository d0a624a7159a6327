/** What is made of the renders of a shot: its files, and its movies. */
import { Copy, Download, FileDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { mutate } from 'swr';
import type { BatchReply, ClipReply, FrameReply } from '../../../contract/batches.js';
import { MOVIE_BACKGROUND } from '../../../core/movie/clip.js';
import { SHOT_KINDS, type Shot } from '../../../core/shots/kinds.js';
import { fileSize } from '../../app/format.js';
import { send } from '../../state/api.js';
import { toast } from '../../state/toast.js';
import { Button, PLAIN_BUTTON } from '../../ui/controls.js';
import { MovieBackdrop } from './MovieBackdrop.js';
import { HELP, LABELS, MESSAGES } from './words.js';

function ClipLine({ clip }: { clip: ClipReply }): ReactNode {
  if (clip.state === 'making') return <p className="text-graphite">{MESSAGES.makingTheMovie}</p>;
  if (clip.state === 'failed') return <p className="text-ochre">{clip.message}</p>;
  return (
    <div className="flex items-center gap-4">
      <video src={`/api/clips/${clip.id}/movie`} controls loop muted className="h-20 bg-mount" />
      <div className="text-sm">
        <p className="num">{clip.fileName}</p>
        <p className="num text-graphite">{LABELS.h264Bt709(fileSize(clip.bytes))}</p>
        <a className="underline" href={`/api/clips/${clip.id}/movie?download`} download>
          {LABELS.downloadMovie}
        </a>
      </div>
    </div>
  );
}

interface FilesProps {
  batch: BatchReply;
  run: string;
  frames: FrameReply[];
  /** Address of the render that is shown. */
  url: string;
  onCopy: () => void;
}

/** The render, all of the shot, and a page of a sun study, to take along. */
export function FilesMenu({ batch, run, frames, url, onCopy }: FilesProps): ReactNode {
  const shot = encodeURIComponent(run);
  return (
    <Popover.Root>
      <Popover.Trigger className={PLAIN_BUTTON} aria-label={LABELS.files} title={HELP.files}>
        <FileDown size={16} aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" sideOffset={4} className="z-40 flex flex-col items-stretch gap-2 border border-graphite bg-chalk p-3">
          <Button onClick={onCopy} title={HELP.copy}>
            <Copy size={16} aria-hidden /> {LABELS.copy}
          </Button>
          <a className={PLAIN_BUTTON} href={`${url}&download`} download>
            <Download size={16} aria-hidden /> {LABELS.thisFile}
          </a>
          <a className={PLAIN_BUTTON} href={`/api/batches/${batch.id}/stills.zip?shot=${shot}`} download>
            <Download size={16} aria-hidden /> {LABELS.allAsZip(frames.length)}
          </a>
          {SHOT_KINDS[frames[0]!.kind as Shot['kind']]?.hasDayPage && (
            <a className={PLAIN_BUTTON} href={`/api/batches/${batch.id}/days.html?shot=${shot}`} download title={HELP.datesDownAndHours}>
              <Download size={16} aria-hidden /> {LABELS.datesByHours}
            </a>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** Movies of a moving shot, of all of it or by date. */
export function useMovie(batch: BatchReply, run: string, frames: FrameReply[]): { button: ReactNode; latest: ReactNode } {
  const [background, setBackground] = useState(MOVIE_BACKGROUND);
  const dates = [...new Set(frames.flatMap((f) => f.date ?? []))];
  const clips = batch.clips.filter((c) => c.shot === run || c.shot.startsWith(`${run}#`));
  const making = clips.some((c) => c.state === 'making');
  const make = (date?: string): void => {
    send<ClipReply>('POST', `/batches/${batch.id}/clips`, { shot: run, ...(date && { date }), ...(batch.alpha && { background }) })
      .then(() => mutate(`/batches?project=${batch.projectId}`))
      .catch((e: Error) => toast.error(e.message));
  };
  const last = clips.at(-1);
  return {
    button: (
      <>
        {batch.alpha && <MovieBackdrop background={background} onBackground={setBackground} />}
        {dates.length > 1 && (
          <Button disabled={making} onClick={() => dates.forEach((d) => make(d))} title={dates.join(', ')}>
            {LABELS.moviePerDate}
          </Button>
        )}
        <Button disabled={making} onClick={() => make()}>
          {LABELS.makeMovie}
        </Button>
      </>
    ),
    latest: last && (
      <div className="w-full border-t border-rule pt-2">
        <ClipLine key={last.id + last.state} clip={last} />
      </div>
    ),
  };
}
