import type { ReactNode } from 'react';
import { resizeFrame } from '../../../core/camera/resizeFrame.js';
import { cameraOf, panoramaSize, type View } from '../../../core/camera/view.js';
import type { Bounds } from '../../../core/math/bounds.js';
import { assignmentsForView } from '../../../core/materials/assignments.js';
import { resolveTransform, withPlinth } from '../../../core/model/modelTransform.js';
import { type SetFile, stageOf } from '../../../core/plan/set.js';
import { directionToSun, resolveStage, type Stage } from '../../../core/stage/stage.js';
import type { RevisionReply, SetReply } from '../../../contract/contract.js';
import type { usePreview } from '../../preview/usePreview.js';
import { Viewport } from '../../viewport/Viewport.js';
import type { ViewEditor } from './useViewEditor.js';
import { LABELS, MESSAGES } from './words.js';

/** The view as it renders, and another beside it where one is compared with. */
export function ViewDesk(props: {
  file: SetFile;
  revision: RevisionReply;
  editor: ViewEditor;
  /** What is looked from. */
  shown: View;
  bounds: Bounds;
  compared: View | undefined;
  /** The set whose frame is drawn over this one's. */
  theirs: SetReply | undefined;
  live: ReturnType<typeof usePreview>;
}): ReactNode {
  const { file, revision, editor, shown, bounds, compared, theirs, live } = props;
  const { sheet } = file;
  const { selected, loose, framing, picking, move } = editor;
  const stageFor = (view: View): Stage => resolveStage(stageOf(file, view.overrides?.stage), withPlinth(file.transform, bounds));
  const sectionFor = ({ overrides: shows }: View): SetFile['section'] =>
    typeof shows?.section === 'string' ? file.sections?.find((s) => s.id === shows.section) : shows?.section === false ? undefined : file.section;
  const around = shown.kind === 'panorama';
  const whole = framing ?? sheet.size;
  const size = around ? panoramaSize(whole) : whole;
  const through = framing ? resizeFrame(shown, sheet.size, framing, sheet.pixelAspect) : shown;
  // The viewport knows no panorama: it looks the same way through 90°.
  const camera = around
    ? cameraOf({ ...shown, kind: 'perspective', focalLength: 18, keepVerticals: false }, size, 1)
    : cameraOf(through, size, sheet.pixelAspect);
  return (
    <div className={`grid min-h-0 ${compared ? 'grid-cols-2 gap-px' : ''}`}>
      <Viewport
        model={revision.hash}
        camera={camera}
        size={size}
        pixelAspect={around ? 1 : sheet.pixelAspect}
        stage={stageFor(shown)}
        sun={directionToSun(stageFor(shown))}
        {...(picking ? { onPick: editor.picked } : { onMove: move })}
        {...(!around && !live.picture && { onFrame: editor.frameTo })}
        {...(theirs && { other: { size: theirs.file.sheet.size, label: theirs.file.name } })}
        section={sectionFor(shown)}
        materials={assignmentsForView(file.materials, shown.overrides)}
        place={resolveTransform(file.transform, revision.bounds)}
        grade={file.grade}
        picture={live.picture}
      >
        {live.caption}
        <p className="num mark mark-tl pointer-events-none text-sm">
          {size.width} × {size.height}
        </p>
        {shown.keepVerticals && (
          <p className="num mark mark-bl pointer-events-none text-sm">{LABELS.verticalsStraightShift(camera.shift.toFixed(2))}</p>
        )}
        {loose && <p className="mark mark-tr pointer-events-none text-sm">{selected ? LABELS.moved(selected.name) : LABELS.notSavedYet}</p>}
        {picking && (
          <p className="mark mark-br pointer-events-none text-sm">
            {picking === 'points'
              ? MESSAGES.clickForThePlane(editor.left === 1 ? LABELS.aPoint : `${editor.left} points`)
              : picking === 'focus'
                ? MESSAGES.clickThePointTo
                : MESSAGES.clickPartsToHide}
          </p>
        )}
      </Viewport>
      {compared && (
        <Viewport
          model={revision.hash}
          camera={cameraOf(compared, sheet.size, sheet.pixelAspect)}
          size={sheet.size}
          pixelAspect={sheet.pixelAspect}
          stage={stageFor(compared)}
          sun={directionToSun(stageFor(compared))}
          section={sectionFor(compared)}
          materials={assignmentsForView(file.materials, compared.overrides)}
          place={resolveTransform(file.transform, revision.bounds)}
          grade={file.grade}
        >
          <p className="mark mark-tl pointer-events-none text-sm">{compared.name}</p>
        </Viewport>
      )}
    </div>
  );
}
