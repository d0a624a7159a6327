import { type ReactNode, useEffect, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { transformedBounds, resolveTransform, withPlinth } from '../../../core/model/modelTransform.js';
import { withTransform } from '../../../core/edit/editSet.js';
import { resolveStage } from '../../../core/stage/stage.js';
import { useDroppedModel } from '../../state/droppedModel.js';
import { useParts } from '../../state/queries.js';
import { useWorkspace } from '../../app/workspace.js';
import { metres } from '../../app/format.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { Button, PageHeader } from '../../ui/controls.js';
import { usePreview } from '../../preview/usePreview.js';
import { lazily } from '../../ui/lazily.js';
import { Viewport } from '../../viewport/Viewport.js';
import { type ModelList, modelList } from './ListSwitch.js';
import { ModelSide } from './ModelSide.js';
import { useModelLook } from './useModelLook.js';
import { useMaterials } from './useMaterials.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const ImportPanel = lazily(() => import('./ImportPanel.js').then((m) => m.ImportPanel));

/** Bring in the design and see whether it came over whole. */
export default function ModelStep(): ReactNode {
  const { project, setId, revision, plan, importing } = useWorkspace();
  const navigate = useNavigate();
  const { data: parts } = useParts(revision?.id);
  const [over, setOver] = useState(false);
  const [alone, setAlone] = useState(false);
  const [replacing, setReplacing] = useState(false);
  const held = useDroppedModel(project.id);
  useEffect(() => {
    if (held) setReplacing(true);
  }, [held]);
  const [query] = useSearchParams();
  const [shown, setShown] = useState<ModelList>('parts');
  // A link on another step, or this one's own notice, may ask for a list.
  const wanted = modelList(query.get('list'));
  useEffect(() => {
    if (wanted) setShown(wanted);
  }, [wanted, query]);
  const at = project.revisions.findIndex((r) => r.id === revision?.id);
  const later = at > 0;
  const desk = useMaterials(plan!, parts);
  const { selected } = desk;
  const { sheet, stage, section, materials: assignments, transform: place } = plan!.file;
  const { box, view, camera, move, fit } = useModelLook(plan!.file, revision, parts, selected);
  const placed = revision && transformedBounds(place, revision.bounds);
  // The first revision has nothing to be compared with.
  const list = shown === 'changes' && !later ? 'parts' : shown;
  // Alone are the parts that were selected then; taking the selection away brings the others back.
  const only = alone && selected.size > 0 ? selected : undefined;
  useCommands([
    { name: LABELS.fit, keys: 'F', run: fit },
    { name: LABELS.isolate, keys: 'I', run: () => setAlone(selected.size > 0 && !alone) },
  ]);
  useKeys({ f: fit, Escape: () => desk.select(new Set()), i: () => setAlone(selected.size > 0 && !alone) });
  const live = usePreview(view);
  if (!revision || !camera) {
    return (
      <>
        <PageHeader title={LABELS.model} />
        <ImportPanel
          project={project}
          importing={importing}
          // Whoever dropped a model on the projects page wants to see it; whoever chose it here, whether it came over whole.
          onDone={(dropped) => void (dropped && navigate(`/p/${project.id}/s/${setId}/views?preview`))}
        />
      </>
    );
  }
  return (
    <>
      <PageHeader title={LABELS.model} facts={MESSAGES.partsTriangles(revision.partCount, revision.triangles.toLocaleString('en'), metres(placed!))}>
        {selected.size > 0 && !replacing && (
          <Button aria-pressed={alone} onClick={() => setAlone(!alone)} title={HELP.showsOnlyTheSelection}>
            {alone ? LABELS.showAll : LABELS.isolate}
          </Button>
        )}
        {!replacing && live.controls}
        <Button onClick={fit} title={HELP.fitsTheSelectionOr}>
          {LABELS.fit}
        </Button>
        <Button onClick={() => setReplacing(!replacing)}>{replacing ? LABELS.backToModel : LABELS.importRevision}</Button>
        <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/views`)}>
          {LABELS.setViews}
        </Button>
      </PageHeader>
      {replacing ? (
        <ImportPanel
          project={project}
          importing={importing}
          facesApart={revision.facesApart === true}
          onDone={() => {
            // Paths that the plan names may have followed their parts.
            plan!.reload();
            setShown('changes');
            setReplacing(false);
            move(null);
          }}
        />
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_400px]">
          <Viewport
            model={revision.hash}
            camera={camera}
            size={sheet.size}
            pixelAspect={sheet.pixelAspect}
            stage={resolveStage(stage, withPlinth(place, placed!))}
            section={section}
            materials={assignments}
            place={resolveTransform(place, revision.bounds)}
            grade={plan!.file.grade}
            working
            selected={only ? undefined : selected}
            only={only}
            {...(over && later && list === 'changes' && { over: project.revisions[at - 1]!.hash })}
            onPick={desk.pick}
            {...(desk.face !== null && { group: desk.face })}
            onDropFinish={desk.drop}
            onMove={move}
            picture={live.picture}
          >
            {live.caption}
          </Viewport>
          <ModelSide
            revision={revision}
            later={later}
            parts={parts}
            desk={desk}
            box={box}
            list={list}
            onList={setShown}
            over={over}
            onOver={setOver}
            onTransform={(next) => {
              move(null);
              return plan!.edit((f) => withTransform(f, next, revision.bounds));
            }}
          />
        </div>
      )}
    </>
  );
}
