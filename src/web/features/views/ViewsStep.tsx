import { type ReactNode, useState } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { SetReply } from '../../../contract/contract.js';
import { withPlinth } from '../../../core/model/modelTransform.js';
import { ViewPlan } from './ViewPlan.js';
import { get } from '../../state/api.js';
import { useCommands } from '../../app/commands.js';
import { useWorkspace } from '../../app/workspace.js';
import { useKeys } from '../../app/keys.js';
import { Button, EmptyState, PageHeader } from '../../ui/controls.js';
import { drawingThumbnailUrl } from '../../ui/Thumbnail.js';
import { usePreview } from '../../preview/usePreview.js';
import { AngleSetMenu } from './AngleSetMenu.js';
import { FrameMenu } from './FrameMenu.js';
import { useViewEditor } from './useViewEditor.js';
import { ViewDesk } from './ViewDesk.js';
import { ViewList } from './ViewList.js';
import { ViewSide } from './ViewSide.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { toastProblem } from '../../state/toastProblem.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Name the views: orbit to one, or set it by numbers; the frame shows exactly what renders. */
export default function ViewsStep(): ReactNode {
  const { project, setId, revision, plan } = useWorkspace();
  const navigate = useNavigate();
  const { file, version } = plan!;
  const { sheet, views } = file;
  const editor = useViewEditor();
  const { selected, shown, bounds, loose, move, choose, change, saveAsNew, fit } = editor;
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
        <ViewDesk file={file} revision={revision} editor={editor} shown={shown} bounds={bounds} compared={compared} theirs={theirs} live={live} />
        <ViewSide
          file={file}
          revision={revision}
          editor={editor}
          shown={shown}
          bounds={bounds}
          beside={beside}
          onBeside={setBeside}
          asked={live.asked}
        />
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
