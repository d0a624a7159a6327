/** The frame in work as its tiles come, else the one that was finished last; fitted, or pixel by pixel. */
import { type ReactNode, useEffect, useState } from 'react';
import useSWR from 'swr';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import type { TilesReply } from '../../../contract/queue.js';
import { get } from '../../state/api.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import { HELP, LABELS } from './words.js';

/** Milliseconds from one look at the film to the next. */
const LOOK_MS = 1000;
const FITTED_WIDTH = 640;

/** Outlines of the tiles that workers have in hand, with their numbers, over a picture of the frame. */
function Tiles({ path }: { path: string }): ReactNode {
  // A frame that is done meanwhile has none.
  const { data: frame } = useSWR<TilesReply, Error>(path, get, { refreshInterval: LOOK_MS, shouldRetryOnError: false });
  if (!frame) return null;
  const across = (n: number): string => `${(100 * n) / frame.width}%`;
  const down = (n: number): string => `${(100 * n) / frame.height}%`;
  return frame.tiles.map(({ worker, x, y, width, height }) => (
    <span
      key={worker}
      title={LABELS.worker(worker)}
      data-testid="tile"
      className="num absolute border border-paper text-[10px] leading-none text-paper outline outline-ink"
      style={{ left: across(x), top: down(y), width: across(width), height: down(height) }}
    >
      <span className="absolute bottom-full left-0 bg-ink px-0.5">{worker}</span>
    </span>
  ));
}

/** The render in work as its tiles come, or the last one that was finished. */
export function PictureInWork({ batch, latest }: { batch: BatchReply; latest: FrameReply | undefined }): ReactNode {
  const { current } = batch;
  const [look, setLook] = useState(0);
  const [whole, setWhole] = useState(false);
  /** The frame whose picture came last: before that, and once it is done, the finished one stays. */
  const [shown, setShown] = useState<number | null>(null);
  useEffect(() => {
    if (!current) return;
    const timer = setInterval(() => setLook((n) => n + 1), LOOK_MS);
    return () => clearInterval(timer);
  }, [current?.id]);
  const fit = whole ? 'max-w-none' : 'max-h-[171px] max-w-full';
  const width = whole ? batch.size.width : FITTED_WIDTH;
  const inWork = current !== null && shown === current.id;
  if (!current && !latest) return <div className="h-[195px] shrink-0 bg-mount" />;
  return (
    <button
      type="button"
      aria-label={whole ? LABELS.fitPicture : LABELS.wholePicture}
      title={HELP.pictureInWork}
      onClick={() => setWhole(!whole)}
      className={`flex h-[195px] shrink-0 overflow-auto bg-mount p-3 ${whole ? 'items-start justify-start' : 'items-center justify-center'}`}
    >
      {current && (
        <span className={`relative shrink-0 ${inWork ? '' : 'hidden'}`}>
          <img
            src={`/api/batches/${batch.id}/frames/${current.id}/progress.webp?width=${width}&v=${look}`}
            alt={inWork ? LABELS.frameInWork(current.shot, current.number) : ''}
            data-testid="in-work"
            onLoad={() => setShown(current.id)}
            // It was done before it was looked at.
            onError={() => setShown(null)}
            className={fit}
          />
          {inWork && <Tiles path={`/batches/${batch.id}/frames/${current.id}/tiles`} />}
        </span>
      )}
      {!inWork && latest && <img src={frameImageUrl(batch.id, latest)} alt={LABELS.frame(latest.shotName, latest.number)} className={fit} />}
    </button>
  );
}
