/** The easel: one render large, or up to four compared; of moving shots frame by frame in step. */
import { Maximize, X } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { frameStride } from '../../../core/plan/selection.js';
import { DEFAULT_THRESHOLD } from '../../../core/review/threshold.js';
import { isMoving } from '../../../core/shots/kinds.js';
import { everyNth } from '../../../core/units/rate.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { AskPixelButton, PixelAnswer, useAskedPixel } from '../../preview/AskedPixel.js';
import { send } from '../../state/api.js';
import { refreshResults } from '../../state/results.js';
import { toast } from '../../state/toast.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { Button } from '../../ui/controls.js';
import { copyPicture } from '../../ui/copyPicture.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import { Timeline, usePlay, useStepping } from '../../ui/Timeline.js';
import { CompareBar } from './CompareBar.js';
import { type CompareSettings, CompareStage } from './CompareStage.js';
import { Decision } from './Decision.js';
import { useDifference } from './differenceJob.js';
import { type EaselItem, frameInStep, LETTERS } from './easelItems.js';
import { FilesMenu, useMovie } from './ShotActions.js';
import { usePreloaded } from './usePreloaded.js';
import { useZoom } from './useZoom.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** A run of a batch on the easel, with its finished frames. */
export interface EaselSource {
  batch: BatchReply;
  run: string;
  label: string;
  frames: FrameReply[];
}

interface Props {
  sources: [EaselSource, ...EaselSource[]];
  /** Id of the frame that is shown of the first source. */
  frame: number | undefined;
  onFrame: (id: number) => void;
  onRemove: (place: number) => void;
  /** Address of the project's set. */
  base: string;
  setId: number;
}

const PLAIN: CompareSettings = { mode: 'side', wipe: 0.5, upright: false, rate: 1, share: 0.5, area: null };

/** The frame of another source that goes with one of the first: in step, or of the same view. */
function counterpart(of: FrameReply, all: readonly FrameReply[], frames: readonly FrameReply[]): FrameReply | undefined {
  if (isMoving(of.kind)) return frameInStep(frames, of.number);
  const place = all.filter((f) => f.view === of.view).indexOf(of);
  const same = frames.filter((f) => f.view === of.view);
  return same[place] ?? same[0] ?? frames[0];
}

/** What a render came to: its name, samples and time, and what ended it before its time. */
function FrameFacts({ batch, frame }: { batch: BatchReply; frame: FrameReply }): ReactNode {
  const early = frame.ended === 'hand' || frame.ended === 'time';
  const more = (): void => {
    send('POST', `/batches/${batch.id}/frames/${frame.id}/resume`)
      .then(() => toast(MESSAGES.continuesFromSamples(frame.name, frame.samples ?? 0)))
      .catch((e: Error) => toast.error(e.message));
  };
  const said = MESSAGES.samplesS(
    frame.samples ?? 0,
    frame.seconds?.toFixed(2) ?? '',
    (early && MESSAGES.endedByBeforeIts(frame.ended ?? '', batch.samples)) || '',
  );
  return (
    <>
      <p className="num min-w-0 truncate text-sm" title={`${frame.name} ${said}`}>
        {frame.name} <span className="text-graphite">{said}</span>
      </p>
      {early && (
        <Button onClick={more} title={HELP.continuesFromWhereSampling}>
          {LABELS.continueSampling}
        </Button>
      )}
    </>
  );
}

export function Easel({ sources, frame: frameId, onFrame, onRemove, base, setId }: Props): ReactNode {
  const navigate = useNavigate();
  const [{ batch, run, frames }] = sources;
  const asked = Math.max(
    0,
    frames.findIndex((f) => f.id === frameId),
  );
  const [at, setAt] = useState(asked);
  // Another view of the same still is another frame of it.
  useEffect(() => setAt(asked), [frameId]);
  const index = Math.min(at, frames.length - 1);
  const frame = frames[index]!;
  const moving = isMoving(frame.kind);
  const [settings, setSettings] = useState(PLAIN);
  const put = (change: Partial<CompareSettings>): void => setSettings((s) => ({ ...s, ...change }));
  const [threshold, setThreshold] = useState(DEFAULT_THRESHOLD);
  const zoom = useZoom();

  const shownOf = (source: EaselSource): FrameReply | undefined => (source === sources[0] ? frame : counterpart(frame, frames, source.frames));
  const items: EaselItem[] = sources.flatMap((source, i) => {
    const shown = shownOf(source);
    return shown
      ? [{ key: `${source.batch.id} ${source.run} ${i}`, letter: LETTERS[i]!, label: source.label, url: frameImageUrl(source.batch.id, shown) }]
      : [];
  });
  const comparing = items.length > 1;
  const shownSettings = comparing ? settings : { ...settings, mode: 'one' as const };
  const loaded = usePreloaded(moving ? sources.flatMap((s) => s.frames.map((f) => frameImageUrl(s.batch.id, f))) : []);
  const wanted = moving ? sources.reduce((n, s) => n + s.frames.length, 0) : 0;
  // Every n-th frame alone is shown at an n-th of the rate.
  const rate = everyNth(batch.rate, moving ? frameStride(frames.map((f) => f.number)) : 1);
  const play = usePlay(frames.length, rate, index, setAt);
  const go = (next: number): void => {
    setAt(next);
    onFrame(frames[next]!.id);
  };
  useStepping(frames.length, index, go, moving ? play.toggle : undefined);
  const difference = useDifference(
    comparing && settings.mode !== 'one' && !play.playing ? { first: items[0]!.url, second: items[1]!.url, threshold } : null,
  );
  const { figures } = difference;
  useEffect(() => put({ area: null }), [figures]);
  const pixel = useAskedPixel(`/batches/${batch.id}/frames/${frame.id}/pixel`);
  const cost = useMemo(() => ({ label: LABELS.renderTime, unit: ' s', decimals: 1, values: frames.map((f) => f.seconds ?? 0) }), [frames]);
  const movie = useMovie(batch, run, frames);

  const url = items[0]!.url;
  const copy = (): void =>
    void copyPicture(url)
      .then(() => toast(MESSAGES.copied(frame.name)))
      .catch((e: Error) => toast.error(e.message));
  const actions: MenuAction[] = [
    { label: LABELS.copyRender, run: copy },
    { label: LABELS.openInNewTab, run: () => void window.open(url, '_blank', 'noopener') },
    { label: LABELS.planThisShot, run: () => void navigate(`../shots?shot=${encodeURIComponent(shotIdOfOutput(run))}`) },
  ];
  const stepArea = (by: 1 | -1): void => {
    const count = figures?.areas.length ?? 0;
    if (!figures || count === 0) return;
    const next = ((settings.area ?? (by > 0 ? -1 : 0)) + by + count) % count;
    const area = figures.areas[next]!;
    put({ area: next, mode: 'difference' });
    zoom.goTo((area.x + area.width / 2) / figures.width, (area.y + area.height / 2) / figures.height, 2);
  };
  useKeys({
    f: zoom.fit,
    z: () => (zoom.zoom ? zoom.fit() : zoom.actual()),
    n: comparing ? () => stepArea(1) : undefined,
    x: comparing ? () => put({ mode: 'wipe', wipe: settings.wipe > 0.5 ? 0 : 1 }) : undefined,
  });
  useCommands([
    { name: LABELS.fit, keys: 'F', run: zoom.fit },
    { name: LABELS.actualPixels, keys: 'Z', run: zoom.actual },
    ...(comparing
      ? [
          { name: LABELS.nextArea, keys: 'N', run: () => stepArea(1) },
          { name: LABELS.swap, keys: 'X', run: () => put({ mode: 'wipe', wipe: settings.wipe > 0.5 ? 0 : 1 }) },
        ]
      : []),
  ]);
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="flex min-h-0 flex-1">
        <CompareStage
          items={items}
          settings={shownSettings}
          onSettings={put}
          zoom={zoom}
          figures={figures}
          alt={LABELS.frame(frame.shotName, frame.number)}
          pixel={pixel.at}
          onPick={pixel.ask}
          onContextMenu={menuOf(frame.name, () => actions)}
        />
        {pixel.at && (
          <aside className="w-64 shrink-0 overflow-auto border-l border-rule bg-chalk p-3">
            <PixelAnswer state={pixel} base={base} />
          </aside>
        )}
      </div>
      {comparing && (
        <CompareBar settings={settings} onSettings={put} threshold={threshold} onThreshold={setThreshold} {...difference} onArea={stepArea} />
      )}
      <div className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-2 border-t border-rule bg-chalk px-4 py-2">
        <FrameFacts batch={batch} frame={frame} />
        {moving && loaded < wanted && <p className="num text-sm text-graphite">{LABELS.loading(loaded, wanted)}</p>}
        <span className="ml-auto flex flex-wrap items-center gap-2">
          <Decision batch={batch.id} frame={frame} moving={moving} onDecided={() => void refreshResults(setId)} />
          {!pixel.at && <AskPixelButton state={pixel} />}
          <Button title={HELP.actualPixels} aria-pressed={zoom.zoom !== null} onClick={() => (zoom.zoom ? zoom.fit() : zoom.actual())}>
            <Maximize size={16} aria-hidden /> {zoom.zoom ? LABELS.fit : LABELS.actualPixels}
          </Button>
          <FilesMenu batch={batch} run={run} frames={frames} url={url} onCopy={copy} />
          {moving && movie.button}
          {comparing && (
            <Button title={HELP.removeLast} onClick={() => onRemove(sources.length - 1)}>
              <X size={16} aria-hidden /> {LABELS.removeFromEasel(LETTERS[sources.length - 1]!)}
            </Button>
          )}
        </span>
        {moving && movie.latest}
      </div>
      {moving && <Timeline numbers={frames.map((f) => f.number)} rate={rate} index={index} onIndex={setAt} play={play} curve={cost} />}
    </div>
  );
}
