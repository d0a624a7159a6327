/** A reel of the set, made of this batch's pictures. */
import { type ReactNode, useState } from 'react';
import { mutate } from 'swr';
import type { BatchReply, ClipReply } from '../../../contract/batches.js';
import { MOVIE_BACKGROUND } from '../../../core/movie/clip.js';
import type { Reel } from '../../../core/plan/reel.js';
import { send } from '../../state/api.js';
import { toast } from '../../state/toast.js';
import { Button } from '../../ui/controls.js';
import { MovieBackdrop } from './MovieBackdrop.js';
import { LABELS, MESSAGES } from './words.js';

/** A reel: its parts, their order and their transitions. */
export function ReelEditor({ batch, reel }: { batch: BatchReply; reel: Reel }): ReactNode {
  const clip = batch.clips.filter((c) => c.shot === `reel:${reel.id}`).at(-1);
  const [background, setBackground] = useState(MOVIE_BACKGROUND);
  const make = (): void => {
    send<ClipReply>('POST', `/batches/${batch.id}/clips`, { reel, ...(batch.alpha && { background }) })
      .then(() => mutate(`/batches?project=${batch.projectId}`))
      .catch((e: Error) => toast.error(e.message));
  };
  return (
    <div className="flex min-h-0 min-w-0 flex-col">
      <div className="flex min-h-0 flex-1 items-center justify-center bg-mount p-4">
        {clip?.state === 'ready' ? (
          <video key={clip.id} src={`/api/clips/${clip.id}/movie`} controls loop muted className="max-h-full max-w-full" data-testid="reel-movie" />
        ) : (
          <p className="mark">
            {clip?.state === 'making' ? MESSAGES.makingTheReel : clip?.state === 'failed' ? clip.message : MESSAGES.notMadeFromThis}
          </p>
        )}
      </div>
      <div className="flex shrink-0 items-center gap-4 border-t border-rule bg-chalk px-4 py-2">
        <p className="num text-sm">
          {LABELS.reelParts(reel.name, reel.parts.length)} {clip?.state === 'ready' && <span className="text-graphite">{clip.fileName}</span>}
        </p>
        <span className="ml-auto flex gap-3">
          {clip?.state === 'ready' && (
            <a className="self-center underline" href={`/api/clips/${clip.id}/movie?download`} download>
              {LABELS.downloadReel}
            </a>
          )}
          {batch.alpha && <MovieBackdrop background={background} onBackground={setBackground} />}
          <Button primary disabled={clip?.state === 'making'} onClick={make}>
            {LABELS.makeReel}
          </Button>
        </span>
      </div>
    </div>
  );
}
