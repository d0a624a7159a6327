import { isMoving, SHOT_KINDS, type Shot } from '../../../core/shots/kinds.js';
import { Copy, Download } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { mutate } from 'swr';
import type { BatchReply, ClipReply, FrameReply } from '../../../contract/batches.js';
import { MOVIE_BACKGROUND } from '../../../core/movie/clip.js';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { frameStride } from '../../../core/plan/selection.js';
import { everyNth } from '../../../core/units/rate.js';
import { send } from '../../state/api.js';
import { useFrames } from '../../state/queries.js';
import { toast } from '../../state/toast.js';
import { useWorkspace } from '../../app/workspace.js';
import { fileSize } from '../../app/format.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { Button, EmptyState, PLAIN_BUTTON, Select, PageHeader } from '../../ui/controls.js';
import { AskPixelButton, PixelAnswer, PixelMark, placeOf, useAskedPixel } from '../../preview/AskedPixel.js';
import { copyPicture } from '../../ui/copyPicture.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import { Decision } from './Decision.js';
import { MovieBackdrop } from './MovieBackdrop.js';
import { ReelEditor } from './ReelEditor.js';
import { Timeline, usePlay, useStepping } from '../../ui/Timeline.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Fetches every picture of a shot ahead, so that playing does not wait for them. */
function usePreloaded(urls: string[]): number {
  const [loaded, setLoaded] = useState(0);
  const key = urls.join('|');
  useEffect(() => {
    let live = true;
    let count = 0;
    setLoaded(0);
    const images = key
      .split('|')
      .filter(Boolean)
      .map((url) => {
        const image = new Image();
        image.onload = () => live && setLoaded(++count);
        image.src = url;
        return image;
      });
    return () => {
      live = false;
      for (const image of images) image.src = '';
    };
  }, [key]);
  return loaded;
}

function ClipLine({ clip }: { clip: ClipReply }): ReactNode {
  if (clip.state === 'making') return <p className="text-graphite">{MESSAGES.makingTheMovie}</p>;
  if (clip.state === 'failed') return <p className="text-ochre">{clip.message}</p>;
  return (
    <div className="flex items-center gap-4">
      <video src={`/api/clips/${clip.id}/movie`} controls loop muted className="h-28 bg-mount" />
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

function FrameViewer({ batch, shot, frames, base }: { batch: BatchReply; shot: string; frames: FrameReply[]; base: string }): ReactNode {
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const [background, setBackground] = useState(MOVIE_BACKGROUND);
  const [at, setAt] = useState(() =>
    Math.max(
      0,
      frames.findIndex((f) => f.id === Number(query.get('frame'))),
    ),
  );
  const index = Math.min(at, frames.length - 1);
  const moving = isMoving(frames[0]!.kind);
  const urls = frames.map((f) => frameImageUrl(batch.id, f));
  const loaded = usePreloaded(moving ? urls : []);
  // Every n-th frame alone is shown at an n-th of the rate.
  const rate = everyNth(batch.rate, moving ? frameStride(frames.map((f) => f.number)) : 1);
  const play = usePlay(frames.length, rate, index, setAt);
  const go = (next: number): void => {
    setAt(next);
    setQuery((q) => ({ ...Object.fromEntries(q), frame: String(frames[next]!.id) }), { replace: true });
  };
  useStepping(frames.length, index, go, moving ? play.toggle : undefined);
  const frame = frames[index]!;
  const pixel = useAskedPixel(`/batches/${batch.id}/frames/${frame.id}/pixel`);
  const cost = useMemo(() => ({ label: LABELS.renderTime, unit: ' s', decimals: 1, values: frames.map((f) => f.seconds ?? 0) }), [frames]);
  const dates = [...new Set(frames.flatMap((f) => f.date ?? []))];
  const early = frame.ended === 'hand' || frame.ended === 'time';
  const more = (): void => {
    send('POST', `/batches/${batch.id}/frames/${frame.id}/resume`)
      .then(() => toast(MESSAGES.continuesFromSamples(frame.name, frame.samples ?? 0)))
      .catch((e: Error) => toast.error(e.message));
  };
  const copy = (): void =>
    void copyPicture(urls[index]!)
      .then(() => toast(MESSAGES.copied(frame.name)))
      .catch((e: Error) => toast.error(e.message));
  const pictureActions: MenuAction[] = [
    { label: LABELS.copyRender, run: copy },
    { label: LABELS.openInNewTab, run: () => void window.open(urls[index], '_blank', 'noopener') },
    { label: LABELS.planThisShot, run: () => void navigate(`../shots?shot=${encodeURIComponent(shotIdOfOutput(shot))}`) },
  ];
  const clips = batch.clips.filter((c) => c.shot === shot || c.shot.startsWith(`${shot}#`));
  const make = (date?: string): void => {
    send<ClipReply>('POST', `/batches/${batch.id}/clips`, { shot, ...(date && { date }), ...(batch.alpha && { background }) })
      .then(() => mutate(`/batches?project=${batch.projectId}`))
      .catch((e: Error) => toast.error(e.message));
  };
  return (
    <div className="flex min-h-0 min-w-0 flex-col">
      <div className="flex min-h-0 flex-1">
        <div className="flex min-h-0 min-w-0 flex-1 items-center justify-center bg-mount p-4">
          <span className="relative flex max-h-full max-w-full">
            <img
              onContextMenu={menuOf(frame.name, () => pictureActions)}
              onClick={(e) => pixel.ask(placeOf(e))}
              src={urls[index]}
              alt={LABELS.frame(frame.shotName, frame.number)}
              data-testid="easel-picture"
              title={HELP.clickPicture}
              className="max-h-full max-w-full cursor-crosshair object-contain"
            />
            <PixelMark at={pixel.at} />
          </span>
        </div>
        {pixel.at && (
          <aside className="w-64 shrink-0 overflow-auto border-l border-rule bg-chalk p-3">
            <PixelAnswer state={pixel} base={base} />
          </aside>
        )}
      </div>
      <div className="flex shrink-0 flex-wrap items-center gap-4 border-t border-rule bg-chalk px-4 py-2">
        <p className="num text-sm">
          {frame.name}{' '}
          <span className="text-graphite">
            {MESSAGES.samplesS(
              frame.samples ?? 0,
              frame.seconds?.toFixed(2) ?? '',
              (early && MESSAGES.endedByBeforeIts(frame.ended ?? '', batch.samples)) || '',
            )}
          </span>
        </p>
        {early && (
          <Button onClick={more} title={HELP.continuesFromWhereSampling}>
            {LABELS.continueSampling}
          </Button>
        )}
        {moving && loaded < frames.length && <p className="num text-sm text-graphite">{LABELS.loading(loaded, frames.length)}</p>}
        <Decision batch={batch.id} frame={frame} />
        {!pixel.at && <AskPixelButton state={pixel} />}
        <span className="ml-auto flex flex-wrap gap-3">
          <Button onClick={copy} title={HELP.copy}>
            <Copy size={16} aria-hidden /> {LABELS.copy}
          </Button>
          <a className={PLAIN_BUTTON} href={`${urls[index]}&download`} download>
            <Download size={16} aria-hidden /> {LABELS.thisFile}
          </a>
          <a className={PLAIN_BUTTON} href={`/api/batches/${batch.id}/stills.zip?shot=${encodeURIComponent(shot)}`} download>
            <Download size={16} aria-hidden /> {LABELS.allAsZip(frames.length)}
          </a>
          {SHOT_KINDS[frame.kind as Shot['kind']]?.hasDayPage && (
            <a
              className={PLAIN_BUTTON}
              href={`/api/batches/${batch.id}/days.html?shot=${encodeURIComponent(shot)}`}
              download
              title={HELP.datesDownAndHours}
            >
              <Download size={16} aria-hidden /> {LABELS.datesByHours}
            </a>
          )}
          {moving && batch.alpha && <MovieBackdrop background={background} onBackground={setBackground} />}
          {dates.length > 1 && (
            <Button disabled={clips.some((c) => c.state === 'making')} onClick={() => dates.forEach((d) => make(d))} title={dates.join(', ')}>
              {LABELS.moviePerDate}
            </Button>
          )}
          {moving && (
            <Button primary disabled={clips.some((c) => c.state === 'making')} onClick={() => make()}>
              {LABELS.makeMovie}
            </Button>
          )}
        </span>
        {clips.length > 0 && (
          <div className="w-full border-t border-rule pt-2">
            <ClipLine key={clips.at(-1)!.id + clips.at(-1)!.state} clip={clips.at(-1)!} />
          </div>
        )}
      </div>
      {moving && <Timeline numbers={frames.map((f) => f.number)} rate={rate} index={index} onIndex={setAt} play={play} curve={cost} />}
    </div>
  );
}

/** Look at the results: rows are shots, the easel shows one. */
export default function ReviewStep(): ReactNode {
  const { project, setId, batches, plan } = useWorkspace();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const withPictures = batches.filter((b) => b.done > 0);
  const batch = withPictures.find((b) => b.id === Number(query.get('batch'))) ?? withPictures[0];
  const { data: all } = useFrames(batch?.id);
  const frames = all?.filter((f) => f.state === 'done') ?? [];
  if (!batch) {
    return (
      <>
        <PageHeader title={LABELS.review} />
        <EmptyState title={HELP.noRenderIsFinished}>
          <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/${batches.length > 0 ? 'batch' : 'shots'}`)}>
            {batches.length > 0 ? LABELS.goToBatch : LABELS.planShots}
          </Button>
        </EmptyState>
      </>
    );
  }
  const shots = [...new Set(frames.map((f) => f.shot))];
  const shot = shots.find((s) => s === query.get('shot')) ?? shots[0];
  const own = frames.filter((f) => f.shot === shot);
  const reels = plan?.file.reels ?? [];
  const reel = reels.find((r) => r.id === query.get('reel'));
  return (
    <>
      <PageHeader title={LABELS.review} facts={MESSAGES.batchRevisionOfRenders(batch.number, batch.revision, batch.done, batch.total)} />
      <div className="grid min-h-0 flex-1 grid-cols-[236px_minmax(0,1fr)]">
        <aside className="flex min-h-0 flex-col border-r border-rule bg-chalk">
          <div className="border-b border-rule px-4 py-2">
            <Select
              label={LABELS.batch}
              help={HELP.batch}
              value={String(batch.id)}
              options={withPictures.map((b) => ({ value: String(b.id), label: LABELS.revision(b.number, b.name, b.revision) }))}
              onValue={(id) => setQuery({ batch: id })}
            />
          </div>
          <ul className="min-h-0 flex-1 overflow-auto">
            {shots.map((s) => {
              const list = frames.filter((f) => f.shot === s);
              return (
                <li key={s}>
                  <button
                    type="button"
                    className={`flex w-full flex-col gap-1 border-b border-rule p-3 text-left ${s === shot ? 'bg-paper' : ''}`}
                    style={s === shot ? { boxShadow: 'inset 3px 0 0 var(--color-madder)' } : undefined}
                    onClick={() => setQuery({ batch: String(batch.id), shot: s })}
                  >
                    <span className="flex justify-between gap-2">
                      <span className="truncate font-medium">{list[0]!.shotName}</span>
                      <span className="num text-sm text-graphite">{list.length}</span>
                    </span>
                    <span className="flex h-[84px] items-center justify-center bg-mount p-1">
                      <img src={frameImageUrl(batch.id, list[0]!, 'thumb')} alt="" className="max-h-full max-w-full" />
                    </span>
                  </button>
                </li>
              );
            })}
          </ul>
          {reels.length > 0 && (
            <section className="border-t border-ink" aria-label={LABELS.reels}>
              <h2 className="px-3 pt-2 font-head text-xs font-medium text-graphite">{LABELS.reels}</h2>
              {reels.map((r) => (
                <button
                  key={r.id}
                  type="button"
                  aria-pressed={r.id === reel?.id}
                  className={`block w-full truncate px-3 py-1.5 text-left ${r.id === reel?.id ? 'bg-paper font-medium' : ''}`}
                  onClick={() => setQuery({ batch: String(batch.id), reel: r.id })}
                >
                  {r.name}
                </button>
              ))}
            </section>
          )}
        </aside>
        {reel && <ReelEditor key={`${batch.id} ${reel.id}`} batch={batch} reel={reel} />}
        {!reel && shot && own.length > 0 && (
          <FrameViewer key={`${batch.id} ${shot}`} batch={batch} shot={shot} frames={own} base={`/p/${project.id}/s/${setId}`} />
        )}
      </div>
    </>
  );
}
