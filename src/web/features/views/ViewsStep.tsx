import { type ReactNode, useState } from 'react';
import { directionToSun } from '../../../core/stage/stage.js';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { SetReply } from '../../../contract/contract.js';
import { transformedBounds, resolveTransform, withPlinth } from '../../../core/model/modelTransform.js';
import { type SetFile, stageOf } from '../../../core/plan/set.js';
import { resolveStage, type Stage } from '../../../core/stage/stage.js';
import { assignmentsForView } from '../../../core/materials/assignments.js';
import { cameraOf, panoramaSize, type View } from '../../../core/camera/view.js';
import { resizeFrame } from '../../../core/camera/resizeFrame.js';
import { ViewPlan } from './ViewPlan.js';
import { get } from '../../state/api.js';
import { useCommands } from '../../app/commands.js';
import { useWorkspace } from '../../app/workspace.js';
import { useKeys } from '../../app/keys.js';
import { Button, EmptyState, Select, PageHeader } from '../../ui/controls.js';
import { drawingThumbnailUrl } from '../../ui/Thumbnail.js';
import { usePreview } from '../../preview/usePreview.js';
import { Viewport } from '../../viewport/Viewport.js';
import { AngleSetMenu } from './AngleSetMenu.js';
import { ImportedCameras } from './ImportedCameras.js';
import { FrameMenu } from './FrameMenu.js';
import { RebaseNotice } from './RebaseNotice.js';
import { SectionFields } from './SectionFields.js';
import { useViewEditor } from './useViewEditor.js';
import { ViewFields } from './ViewFields.js';
import { ViewList } from './ViewList.js';
import { ViewOverrides } from './ViewOverrides.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { toastProblem } from '../../state/toastProblem.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** No id is written like this. */
const NONE = '-';

/** Name the views: orbit to one, or set it by numbers; the frame shows exactly what renders. */
export default function ViewsStep(): ReactNode {
  const { project, setId, revision, plan } = useWorkspace();
  const navigate = useNavigate();
  const { file, version } = plan!;
  const { sheet, views } = file;
  const editor = useViewEditor();
  const { selected, shown, bounds, loose, framing, picking, setPicking, move, choose, change, saveAsNew, fit } = editor;
  const [other, setOther] = useState<number | null>(null);
  const [beside, setBeside] = useState<string | null>(null);
  const { data: theirs } = useSWR<SetReply, Error>(other === null ? null : `/sets/${other}`, get);
  useKeys({ f: fit, 'ctrl+Enter': saveAsNew });
  useCommands([
    { name: LABELS.saveAsNewView, keys: 'Ctrl Enter', run: saveAsNew },
    { name: LABELS.fitView, keys: 'F', run: fit },
    ...views.map((v) => ({ name: LABELS.lookFrom(v.name), run: () => choose(v.id) })),
  ]);
  const live = usePreview(shown);

  if (!revision || !shown || !bounds) {
    return (
      <>
        <PageHeader title={LABELS.views} />
        <EmptyState title={HELP.aViewNeedsA}>
          <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/model`)}>
            {LABELS.importModel}
          </Button>
        </EmptyState>
      </>
    );
  }
  const compared = views.find((v) => v.id === beside && v.id !== selected?.id);
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
    <>
      <PageHeader title={LABELS.views} facts={views.length > 0 ? pluralize(views.length, LABELS.viewCount) : MESSAGES.dragToOrbitShift}>
        {live.controls}
        <Button onClick={fit} title="f">
          {LABELS.fit}
        </Button>
        <Button onClick={editor.fitTurn} title={HELP.movesTheViewBack}>
          {LABELS.fitFullTurn}
        </Button>
        <FrameMenu other={other} onOther={setOther} />
        <AngleSetMenu onMake={editor.addAngles} />
        {loose && selected && <Button onClick={() => toastProblem(change({}))}>{LABELS.update(selected.name)}</Button>}
        <Button primary onClick={saveAsNew} title={LABELS.ctrlEnter}>
          {LABELS.saveAsNewView}
        </Button>
      </PageHeader>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_252px] grid-rows-[minmax(0,1fr)_auto]">
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
        <aside className="row-span-2 flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk px-4 py-3">
          <ViewFields
            view={shown}
            kept={selected !== undefined}
            size={sheet.size}
            pixelAspect={sheet.pixelAspect}
            onChange={change}
            picking={picking === 'focus'}
            onPickFocus={() => setPicking(picking === 'focus' ? null : 'focus')}
          />
          {selected && views.length > 1 && (
            <Select
              label={LABELS.matchScaleOf}
              help={HELP.matchScaleOf}
              value=""
              options={views.filter((v) => v.id !== selected.id && v.kind !== 'panorama').map((v) => ({ value: v.id, label: v.name }))}
              onValue={editor.matchScaleOf}
            />
          )}
          {selected && views.length > 1 && (
            <Select
              label={LABELS.compareWith}
              help={HELP.compareWith}
              value={beside ?? ''}
              options={[
                ...(beside ? [{ value: NONE, label: LABELS.nothing }] : []),
                ...views.filter((v) => v.id !== selected.id && v.kind !== 'panorama').map((v) => ({ value: v.id, label: v.name })),
              ]}
              onValue={(id) => setBeside(id === NONE ? null : id)}
            />
          )}
          {selected && (
            <ViewOverrides
              view={shown}
              onChange={change}
              picking={picking === 'without'}
              onPick={() => setPicking(picking === 'without' ? null : 'without')}
            />
          )}
          <SectionFields bounds={bounds} eye={shown.eye} left={editor.left} onPick={editor.pickPoints} />
          <RebaseNotice bounds={transformedBounds(file.transform, revision.bounds)} />
          <ImportedCameras cameras={revision.cameras} onTake={editor.importCameras} />
          {live.asked}
          {selected && (
            <Button className="mt-auto self-start" onClick={() => editor.remove()}>
              {LABELS.deleteView}
            </Button>
          )}
        </aside>
        <div className="grid h-[236px] grid-cols-[236px_minmax(0,1fr)] border-t border-ink">
          <ViewPlan
            picture={drawingThumbnailUrl(setId, revision.id, version, 'plan')}
            bounds={withPlinth(file.transform, bounds)}
            views={views}
            chosen={shown}
            size={sheet.size}
            pixelAspect={sheet.pixelAspect}
            {...(file.stage.site && { north: file.stage.site.north })}
            onChoose={choose}
            onMove={(pose, done) => {
              if (done && selected) change(pose);
              else move(pose);
            }}
          />
          <ViewList
            setId={setId}
            setName={file.name}
            revision={revision.id}
            version={version}
            views={views}
            chosen={selected}
            size={sheet.size}
            pixelAspect={sheet.pixelAspect}
            onChoose={choose}
            editor={editor}
          />
        </div>
      </div>
    </>
  );
}
