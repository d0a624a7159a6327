/** The selected shot: its frame in the viewport, its instrument, its fields and the timeline. */
import { directionToSun } from '../../../core/stage/stage.js';
import { type ReactNode, useMemo, useState } from 'react';
import type { Bounds } from '../../../core/math/bounds.js';
import { withShot } from '../../../core/edit/editSet.js';
import type { Frame } from '../../../core/frame/frame.js';
import type { Corner } from '../../../core/frame/legend.js';
import { effectiveSettings } from '../../../core/plan/formatSheet.js';
import { stageOf } from '../../../core/plan/set.js';
import { kindOf, type Shot, shotName } from '../../../core/shots/kinds.js';
import { parseRate } from '../../../core/units/rate.js';
import { useWorkspace } from '../../app/workspace.js';
import { usePreviewFrame } from '../../preview/usePreview.js';
import { drawingThumbnailUrl } from '../../ui/Thumbnail.js';
import { Timeline, usePlay, useStepping } from '../../ui/Timeline.js';
import { Viewport } from '../../viewport/Viewport.js';
import { SHOT_EDITORS } from './shotEditors.js';
import { ShotFields } from './ShotFields.js';
import { useTestFrame } from './useTestFrame.js';

const LEGEND_MARKS: Record<Corner, string> = {
  'top left': 'mark-tl',
  'top right': 'mark-tr',
  'bottom left': 'mark-bl',
  'bottom right': 'mark-br',
};

interface ShotEditorProps {
  shot: Shot;
  frames: Frame[];
  revision: number;
  /** Content hash of the model. */
  model: string;
  bounds: Bounds;
}

/** The frames and the settings of one shot. */
export function ShotEditor({ shot, frames, revision, model, bounds }: ShotEditorProps): ReactNode {
  const { plan, setId } = useWorkspace();
  const { file, version } = plan!;
  const { sheet } = file;
  const [at, setIndex] = useState(0);
  const index = Math.min(at, frames.length - 1);
  const { rate } = effectiveSettings(sheet, shot);
  const play = usePlay(frames.length, rate, index, setIndex);
  const moving = kindOf(shot).moving;
  useStepping(frames.length, index, setIndex, moving ? play.toggle : undefined);
  const frame = frames[index]!;
  const curve = useMemo(() => kindOf(shot).curve?.(shot, frames, parseRate(rate)) ?? null, [shot, frames, rate]);
  const live = usePreviewFrame(frame, shotName(shot));
  const test = useTestFrame(frame, shotName(shot));
  const Instrument = SHOT_EDITORS[shot.kind];
  return (
    <>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,0.9fr)_240px] border-t border-ink">
        <div className="flex min-h-0 flex-col">
          <div className="flex min-h-0 flex-1">
            <Viewport
              model={model}
              camera={frame.camera}
              size={frame.size}
              pixelAspect={frame.pixelAspect}
              stage={frame.stage}
              section={frame.section && { planes: frame.section.planes }}
              materials={plan!.file.materials}
              place={frame.transform}
              grade={frame.grade}
              {...(frame.turn && { turn: frame.turn })}
              {...(frame.sun && { sun: directionToSun(frame.stage) })}
              picture={test.picture ?? live.picture}
            >
              {test.picture ? test.caption : live.caption}
              {frame.legend && (
                <p className={`num mark ${LEGEND_MARKS[frame.legend.corner]} pointer-events-none whitespace-pre text-sm`}>{frame.legend.text}</p>
              )}
            </Viewport>
          </div>
          <div className="flex shrink-0 flex-wrap items-center gap-2 border-t border-rule px-3 py-1.5">
            {live.controls}
            {test.controls}
          </div>
        </div>
        <div className="min-h-0 p-3">
          <Instrument
            shot={shot}
            put={(next) => plan!.edit((f) => withShot(f, next))}
            frames={frames}
            index={index}
            onIndex={setIndex}
            desk={{
              set: setId,
              revision,
              version,
              views: file.views,
              bounds,
              ...(stageOf(file, shot.stage).site && { site: stageOf(file, shot.stage).site }),
              drawing: (what, cut) => drawingThumbnailUrl(setId, revision, version, what, cut),
            }}
          />
        </div>
        <ShotFields shot={shot} asked={live.asked} />
      </div>
      {moving && <Timeline numbers={frames.map((f) => f.number)} rate={rate} index={index} onIndex={setIndex} play={play} curve={curve} />}
    </>
  );
}
