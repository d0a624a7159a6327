/** The easel: one render large, or up to four compared; of moving shots frame by frame in step. */
import { X } from 'lucide-react';
import { type CSSProperties, type ReactNode, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { AskPixelButton, PixelAnswer, useAskedPixel } from '../../preview/AskedPixel.js';
import { refreshResults } from '../../state/results.js';
import { toast } from '../../state/toast.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { Button } from '../../ui/controls.js';
import { copyPicture } from '../../ui/copyPicture.js';
import { Timeline } from '../../ui/Timeline.js';
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
import { PlayControls } from './PlayControls.js';
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
import { usePlayback } from './usePlayback.js';
import type { PanelName, PanelOpen } from './usePanel.js';
import { useViewTools } from './useViewTools.js';
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

/** What can be done with the render at an address, in its menu. */
function useRenderActions(url: string, name: string, run: string): { copy: () => void; actions: MenuAction[] } {
  const navigate = useNavigate();
  const copy = (): void =>
    void copyPicture(url)
      .then(() => toast(MESSAGES.copied(name)))
      .catch((e: Error) => toast.error(e.message));
  const actions = [
    { label: LABELS.copyRender, run: copy },
    { label: LABELS.openInNewTab, run: () => void window.open(url, '_blank', 'noopener') },
    { label: LABELS.planThisShot, run: () => void navigate(`../shots?shot=${encodeURIComponent(shotIdOfOutput(run))}`) },
  ];
  return { copy, actions };
}

/** Keys and commands of the zoom. @returns what shows the render pixel by pixel, or as a whole again. */
function useZoomKeys(zoom: ReturnType<typeof useZoom>): () => void {
  const toggle = (): void => (zoom.zoom ? zoom.fit() : zoom.actual());
  useKeys({ f: zoom.fit, z: toggle });
  useCommands([
    { name: LABELS.fit, keys: 'F', run: zoom.fit },
    { name: LABELS.actualPixels, keys: 'Z', run: zoom.actual },
  ]);
  return toggle;
}

/** Compares all frames of a moving shot, so that the timeline shows where they differ. */
function CompareAllFrames({ changed, count }: { changed: ReturnType<typeof useChangedCurve>; count: number }): ReactNode {
  const { done, start, stop } = changed;
  return (
    <Button title={HELP.compareAllFrames} onClick={done === null ? start : stop}>
      {done === null ? LABELS.compareAllFrames : LABELS.stopAt(done, count)}
    </Button>
  );
}

/** One render, or several that are compared, with all that can be said and done about them. */
export function Easel({ sources, frame: frameId, onFrame, onRemove, mode, panel, base, setId }: Props): ReactNode {
  const [{ batch, run, frames }] = sources;
  const shown = usePlayback(sources, frameId, onFrame);
  const { index, frame, moving, pass, play, ahead } = shown;
  const zoom = useZoom();
  const images = useDiskImages(sources.length);
  const [range, setRange] = useState<Range | null>(null);
  const items = images.withImages(easelItems(sources, frame, pass, range));
  const compare = useCompare(items, mode, !play.playing, zoom);
  const { settings, threshold } = compare;
  const pairs = useMemo(() => pairsOf(sources), [sources.map((s) => `${s.batch.id} ${s.run} ${s.frames.length}`).join()]);
  const changed = useChangedCurve(moving ? pairs : [], threshold);
  const pixel = useAskedPixel(`/batches/${batch.id}/frames/${frame.id}/pixel`);
  const cost = useMemo(() => ({ label: LABELS.renderTime, unit: ' s', decimals: 1, values: frames.map((f) => f.seconds ?? 0) }), [frames]);
  const movie = useMovie(batch, run, frames);
  const { url } = items[0]!;
  const { copy, actions } = useRenderActions(url, frame.name, run);
  const notes = useNotes(setId, batch.id, frame, moving ? frames.at(-1)!.number : null, panel('notes'));
  const grade = useGrade(batch, frame, sources[0], panel('grade'));
  const size = usePictureSize(url);
  const crop = useCrop(url, frame.name, size);
  const tools = useViewTools({ moving, panorama: size !== null && size.width === 2 * size.height, crop });
  const matteName = useMatteNames(batch.id, frame.id, pass);
  const marks = useNoteMarks(moving ? { setId, batch: batch.id, run } : null, frames);
  const toggleZoom = useZoomKeys(zoom);
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
            decoded={shown.decoded}
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
      {compare.comparing && (
        <CompareBar compare={compare}>
          {moving && sources.length > 1 && <CompareAllFrames changed={changed} count={frames.length} />}
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
        {ahead.loaded < ahead.count && <p className="num text-sm text-graphite">{LABELS.loading(ahead.loaded, ahead.count)}</p>}
        <span className="ml-auto flex flex-wrap items-center gap-1.5">
          <PassSelect passes={shown.passes} pass={pass} onPass={shown.setPass} />
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
          rate={shown.rate}
          index={index}
          onIndex={shown.setIndex}
          play={play}
          curve={changed.curve ?? cost}
          options={<PlayControls options={shown.options} onOptions={shown.setOptions} sound={shown.sound} />}
          range={shown.options.range}
          marks={marks}
        />
      )}
    </div>
  );
}
