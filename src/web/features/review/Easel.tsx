/** The easel: one render large, or up to four compared; of moving shots frame by frame in step. */
import { X } from 'lucide-react';
import { type CSSProperties, type ReactNode, useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import type { PassId } from '../../../core/image/passes.js';
import { frameStride } from '../../../core/plan/selection.js';
import { isMoving } from '../../../core/shots/kinds.js';
import { everyNth } from '../../../core/units/rate.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { AskPixelButton, PixelAnswer, useAskedPixel } from '../../preview/AskedPixel.js';
import { refreshResults } from '../../state/results.js';
import { toast } from '../../state/toast.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { Button } from '../../ui/controls.js';
import { copyPicture } from '../../ui/copyPicture.js';
import { PLAIN_PLAY } from '../../ui/playIndex.js';
import { Timeline, usePlay, useStepping } from '../../ui/Timeline.js';
import { ChangedParts } from './ChangedParts.js';
import { CompareBar } from './CompareBar.js';
import { CompareStage } from './CompareStage.js';
import { Decision } from './Decision.js';
import { DepthRange, type Range } from './DepthRange.js';
import { type Mode, renderUrl } from './easelItems.js';
import { type EaselSource, easelItems, pairsOf } from './easelSources.js';
import { FrameFacts } from './FrameFacts.js';
import { MatteName } from './MatteName.js';
import { PassSelect } from './PassSelect.js';
import { PanoramaView } from './PanoramaView.js';
import { PlayControls, usePlayRange } from './PlayControls.js';
import { FilesMenu, useMovie } from './ShotActions.js';
import { useChangedCurve } from './useChangedCurve.js';
import { useCompare } from './useCompare.js';
import { useCrop } from './useCrop.js';
import { useDiskImages } from './useDiskImages.js';
import { useGrade } from './useGrade.js';
import { useNotes } from './useNotes.js';
import { useMatteNames } from './useMatteNames.js';
import { useNoteMarks } from './useNoteMarks.js';
import { usePictureSize } from './usePictureSize.js';
import { usePreloaded } from './usePreloaded.js';
import type { PanelName, PanelOpen } from './usePanel.js';
import { useViewTools } from './useViewTools.js';
import { useSound } from './useSound.js';
import { useZoom } from './useZoom.js';
import { HELP, LABELS, MESSAGES } from './words.js';

interface Props {
  sources: [EaselSource, ...EaselSource[]];
  /** Id of the frame that is shown of the first source. */
  frame: number | undefined;
  onFrame: (id: number) => void;
  onRemove: (place: number) => void;
  /** How renders are compared at first. */
  mode: Mode | undefined;
  panel: (name: PanelName) => PanelOpen;
  /** Address of the project's set. */
  base: string;
  setId: number;
}

/** One render, or several that are compared, with all that can be said and done about them. */
export function Easel({ sources, frame: frameId, onFrame, onRemove, mode, panel, base, setId }: Props): ReactNode {
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
  const passes = sources[0].passes.filter((p) => sources.every((s) => s.passes.includes(p)));
  const [askedPass, setPass] = useState<PassId>('beauty');
  const pass = passes.includes(askedPass) ? askedPass : (passes[0] ?? 'beauty');
  const zoom = useZoom();
  const images = useDiskImages(sources.length);
  const [range, setRange] = useState<Range | null>(null);
  const items = images.withImages(easelItems(sources, frame, pass, range));
  // Every n-th frame alone is shown at an n-th of the rate.
  const rate = everyNth(batch.rate, moving ? frameStride(frames.map((f) => f.number)) : 1);
  const [playing, setPlaying] = useState(PLAIN_PLAY);
  const play = usePlay(frames.length, rate, index, setAt, playing);
  const sound = useSound(batch, run, moving && play.playing, index, rate, playing);
  const go = (next: number): void => {
    setAt(next);
    onFrame(frames[next]!.id);
  };
  useStepping(frames.length, index, go, moving ? play.toggle : undefined);
  usePlayRange(moving, index, frames.length, playing, setPlaying);
  const ahead = moving ? sources.flatMap((s) => s.frames.map((f) => renderUrl(s.batch.id, f, pass))) : [];
  const { loaded, decoded } = usePreloaded(ahead);
  const compare = useCompare(items, mode, !play.playing, zoom);
  const { comparing, settings, threshold } = compare;
  const pairs = useMemo(() => pairsOf(sources), [sources.map((s) => `${s.batch.id} ${s.run} ${s.frames.length}`).join()]);
  const changed = useChangedCurve(moving ? pairs : [], threshold);
  const pixel = useAskedPixel(`/batches/${batch.id}/frames/${frame.id}/pixel`);
  const cost = useMemo(() => ({ label: LABELS.renderTime, unit: ' s', decimals: 1, values: frames.map((f) => f.seconds ?? 0) }), [frames]);
  const movie = useMovie(batch, run, frames);
  const { url } = items[0]!;
  const copy = (): void =>
    void copyPicture(url)
      .then(() => toast(MESSAGES.copied(frame.name)))
      .catch((e: Error) => toast.error(e.message));
  const actions: MenuAction[] = [
    { label: LABELS.copyRender, run: copy },
    { label: LABELS.openInNewTab, run: () => void window.open(url, '_blank', 'noopener') },
    { label: LABELS.planThisShot, run: () => void navigate(`../shots?shot=${encodeURIComponent(shotIdOfOutput(run))}`) },
  ];
  const notes = useNotes(setId, batch.id, frame, moving ? frames.at(-1)!.number : null, panel('notes'));
  const grade = useGrade(batch, frame, sources[0], panel('grade'));
  const size = usePictureSize(url);
  const crop = useCrop(url, frame.name, size);
  const tools = useViewTools({ moving, panorama: size !== null && size.width === 2 * size.height, crop });
  const matteName = useMatteNames(batch.id, frame.id, pass);
  const marks = useNoteMarks(moving ? { setId, batch: batch.id, run } : null, frames);
  const toggleZoom = (): void => (zoom.zoom ? zoom.fit() : zoom.actual());
  useKeys({ f: zoom.fit, z: toggleZoom });
  useCommands([
    { name: LABELS.fit, keys: 'F', run: zoom.fit },
    { name: LABELS.actualPixels, keys: 'Z', run: zoom.actual },
  ]);
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="flex min-h-0 flex-1" style={{ '--color-mount': tools.tone } as CSSProperties}>
        {tools.around ? (
          <PanoramaView url={url} alt={LABELS.frame(frame.shotName, frame.number)} />
        ) : (
          <CompareStage
            items={items}
            settings={settings}
            onSettings={compare.put}
            zoom={zoom}
            figures={compare.difference.figures}
            alt={LABELS.frame(frame.shotName, frame.number)}
            pixel={pixel.at}
            onPick={pixel.ask}
            onContextMenu={menuOf(frame.name, () => actions)}
            decoded={decoded}
            loupe={tools.loupe}
            hovers={pass === 'parts' || pass === 'materials'}
            neighbours={tools.onion ? [index - 1, index + 1].flatMap((i) => (frames[i] ? [renderUrl(batch.id, frames[i], pass)] : [])) : []}
            overlay={({ placed, picture, hover }) => (
              <>
                {grade.overlay(placed)}
                {notes.overlay(placed)}
                {crop.overlay(placed, picture)}
                <MatteName name={hover && matteName(hover)} placed={placed} at={hover} />
              </>
            )}
          />
        )}
        {crop.panel}
        {notes.panel}
        {grade.panel}
        {pixel.at && (
          <aside className="w-64 shrink-0 overflow-auto border-l border-rule bg-chalk p-3">
            <PixelAnswer state={pixel} base={base} />
          </aside>
        )}
      </div>
      {comparing && (
        <CompareBar compare={compare}>
          {moving && sources.length > 1 && (
            <Button title={HELP.compareAllFrames} onClick={changed.done === null ? changed.start : changed.stop}>
              {changed.done === null ? LABELS.compareAllFrames : LABELS.stopAt(changed.done, frames.length)}
            </Button>
          )}
          <Button title={HELP.removeLast} onClick={() => (images.count > 0 ? images.removeLast() : onRemove(sources.length - 1))}>
            <X size={16} aria-hidden /> {LABELS.removeFromEasel(items.at(-1)!.place)}
          </Button>
          {settings.mode === 'difference' && !play.playing && items[0]!.frame !== null && items[1]!.frame !== null && (
            <ChangedParts first={items[0]!.frame} second={items[1]!.frame} threshold={threshold} base={base} />
          )}
        </CompareBar>
      )}
      <div className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-2 border-t border-rule bg-chalk px-4 py-2">
        <FrameFacts batch={batch} frame={frame} />
        {loaded < ahead.length && <p className="num text-sm text-graphite">{LABELS.loading(loaded, ahead.length)}</p>}
        <span className="ml-auto flex flex-wrap items-center gap-1.5">
          <PassSelect passes={passes} pass={pass} onPass={setPass} />
          {pass === 'depth' && <DepthRange range={range} onRange={setRange} />}
          <Decision batch={batch.id} frame={frame} moving={moving} onDecided={() => void refreshResults(setId)} />
          {notes.button}
          {grade.button}
          {!pixel.at && <AskPixelButton state={pixel} brief />}
          <Button title={HELP.actualPixels} aria-label={LABELS.actualPixels} aria-pressed={zoom.zoom !== null} onClick={toggleZoom}>
            <span className="num">1:1</span>
          </Button>
          {tools.button}
          {images.button}
          <FilesMenu batch={batch} run={run} frames={frames} url={url} onCopy={copy} />
          {moving && movie.button}
        </span>
        {moving && movie.latest}
      </div>
      {moving && (
        <Timeline
          numbers={frames.map((f) => f.number)}
          rate={rate}
          index={index}
          onIndex={setAt}
          play={play}
          curve={changed.curve ?? cost}
          options={<PlayControls options={playing} onOptions={setPlaying} sound={sound} />}
          range={playing.range}
          marks={marks}
        />
      )}
    </div>
  );
}
