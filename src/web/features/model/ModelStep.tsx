import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { NO_ASSIGNMENTS } from '../../../core/materials/editAssignments.js';
import { transformedBounds, resolveTransform, transformMatrix, withPlinth } from '../../../core/model/modelTransform.js';
import { withTransform } from '../../../core/edit/editSet.js';
import { transformBounds } from '../../../core/math/bounds.js';
import { EXT_WITH_FACES } from '../../../core/model/fileExtensions.js';
import { resolveStage } from '../../../core/stage/stage.js';
import { cameraOf, fitView, type View } from '../../../core/camera/view.js';
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
import { partBounds } from '../../state/partBox.js';
import { endsIn } from './endsIn.js';
import { useMaterials } from './useMaterials.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const ImportReport = lazily(() => import('./ImportReport.js').then((m) => m.ImportReport));
const ImportPanel = lazily(() => import('./ImportPanel.js').then((m) => m.ImportPanel));
const MaterialPanel = lazily(() => import('./MaterialPanel.js').then((m) => m.MaterialPanel));
// Its rows wait for the parts of the model anyway.
const PartTree = lazily(() => import('./PartTree.js').then((m) => m.PartTree));
const RulesBar = lazily(() => import('./RulesBar.js').then((m) => m.RulesBar));
const VariantBar = lazily(() => import('./VariantBar.js').then((m) => m.VariantBar));
const TransformPanel = lazily(() => import('./TransformPanel.js').then((m) => m.TransformPanel));
const RemapLost = lazily(() => import('./RevisionPanel.js').then((m) => m.RemapLost));
const RevisionPanel = lazily(() => import('./RevisionPanel.js').then((m) => m.RevisionPanel));
const Schedule = lazily(() => import('./Schedule.js').then((m) => m.Schedule));

const LISTS = [
  ['parts', LABELS.parts],
  ['place', LABELS.position],
  ['schedule', LABELS.materialSchedule],
  ['changes', LABELS.changes],
] as const;

/** Where the model is looked at from, before anybody moves. */
const VIEWPORT_LABEL: View = {
  id: 'desk',
  name: 'desk',
  kind: 'perspective',
  eye: [0.8, 0.45, 1],
  target: [0, 0, 0],
  focalLength: 50,
  keepVerticals: false,
};

/** Bring in the design and see whether it came over whole. */
export default function ModelStep(): ReactNode {
  const { project, setId, revision, plan, importing } = useWorkspace();
  const navigate = useNavigate();
  const { data: parts } = useParts(revision?.id);
  const [pose, setPose] = useState<{ eye: [number, number, number]; target: [number, number, number] } | null>(null);
  const [over, setOver] = useState(false);
  const [openRules, setOpenRules] = useState(false);
  const [alone, setAlone] = useState(false);
  const [replacing, setReplacing] = useState(false);
  const held = useDroppedModel(project.id);
  useEffect(() => {
    if (held) setReplacing(true);
  }, [held]);
  const [query] = useSearchParams();
  const [shown, setShown] = useState<(typeof LISTS)[number][0]>('parts');
  // A link on another step, or this one's own notice, may ask for a list.
  const wanted = LISTS.find(([id]) => id === query.get('list'))?.[0];
  useEffect(() => {
    if (wanted) setShown(wanted);
  }, [wanted, query]);
  const at = project.revisions.findIndex((r) => r.id === revision?.id);
  const later = at > 0;
  const desk = useMaterials(plan!, parts);
  const { selected, resolved, change, lone } = desk;
  const { sheet, stage, section, materials: assignments, transform: place } = plan!.file;
  const names = useMemo(() => parts?.map((p) => p.name) ?? [], [parts]);
  const lines = parts?.filter((p) => p.lines !== undefined).length ?? 0;
  const stood = revision && transformedBounds(place, revision.bounds);
  // The first revision has nothing to be compared with.
  const list = shown === 'changes' && !later ? 'parts' : shown;
  const box = useMemo(() => {
    const own = partBounds(parts ?? [], selected);
    return own && revision && place ? transformBounds(own, transformMatrix(place, revision.bounds)) : own;
  }, [parts, selected, revision, place]);
  // Alone are the parts that were selected then; taking the selection away brings the others back.
  const only = alone && selected.size > 0 ? selected : undefined;
  const fit = (): void => setPose(box ? fitView({ ...VIEWPORT_LABEL, ...pose }, box, sheet.size, sheet.pixelAspect, 0.1) : null);
  useCommands([
    { name: LABELS.fit, keys: 'F', run: fit },
    { name: LABELS.isolate, keys: 'I', run: () => setAlone(selected.size > 0 && !alone) },
  ]);
  useKeys({ f: fit, Escape: () => desk.select(new Set()), i: () => setAlone(selected.size > 0 && !alone) });
  const seen = useMemo((): View | null => {
    if (!revision) return null;
    if (pose) return { ...VIEWPORT_LABEL, ...pose };
    return fitView(VIEWPORT_LABEL, transformedBounds(place, revision.bounds), sheet.size, sheet.pixelAspect, 0.1);
  }, [revision, pose, sheet, place]);
  const camera = useMemo(() => seen && cameraOf(seen, sheet.size, sheet.pixelAspect), [seen, sheet]);
  const live = usePreview(seen);
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
      <PageHeader title={LABELS.model} facts={MESSAGES.partsTriangles(revision.partCount, revision.triangles.toLocaleString('en'), metres(stood!))}>
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
            setPose(null);
          }}
        />
      ) : (
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_400px]">
          <Viewport
            model={revision.hash}
            camera={camera}
            size={sheet.size}
            pixelAspect={sheet.pixelAspect}
            stage={resolveStage(stage, withPlinth(place, stood!))}
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
            onMove={setPose}
            picture={live.picture}
          >
            {live.caption}
          </Viewport>
          <aside className="flex min-h-0 flex-col border-l border-rule bg-chalk">
            <ImportReport project={project} revision={revision} lines={lines} />
            <div className="flex gap-4 border-b border-rule px-4 text-sm" role="group" aria-label={LABELS.list}>
              {LISTS.filter(([id]) => id !== 'changes' || later).map(([id, label]) => (
                <button
                  key={id}
                  type="button"
                  aria-pressed={list === id}
                  className={`border-b-2 py-1.5 ${list === id ? 'border-madder font-semibold' : 'border-transparent text-graphite'}`}
                  onClick={() => setShown(id)}
                >
                  {label}
                </button>
              ))}
            </div>
            <details className="border-b border-rule px-4 py-2 text-sm" open={openRules} onToggle={(e) => setOpenRules(e.currentTarget.open)}>
              <summary className="cursor-default font-head text-xs font-medium text-graphite">
                {LABELS.variantsAndRules}
                <span className="num">
                  {' '}
                  {(assignments?.variants.length ?? 0) + (assignments?.swaps.length ?? 0) + (assignments?.rules.length ?? 0) || ''}
                </span>
              </summary>
              {openRules && <VariantBar materials={assignments} onChange={(next) => change(() => next)} />}
              {openRules && parts && (
                <RulesBar
                  materials={assignments ?? NO_ASSIGNMENTS}
                  names={names}
                  model={revision.materials}
                  onChange={(rules) => change((d) => ({ ...d, rules }))}
                />
              )}
            </details>
            {parts && !later && <RemapLost parts={parts} />}
            {list === 'place' && (
              <TransformPanel
                place={place}
                bounds={revision.bounds}
                onChange={(next) => {
                  setPose(null);
                  return plan!.edit((f) => withTransform(f, next, revision.bounds));
                }}
              />
            )}
            {parts && list === 'changes' && (
              <RevisionPanel
                parts={parts}
                over={over}
                onOver={setOver}
                onSelect={(path) => {
                  desk.select(new Set([path]));
                  setShown('parts');
                }}
              />
            )}
            {parts && resolved && list === 'schedule' && (
              <Schedule
                parts={parts}
                resolved={resolved}
                name={project.name}
                onPick={(material) => {
                  desk.pickWearing(material);
                  setShown('parts');
                }}
              />
            )}
            {parts && resolved && list === 'parts' && (
              <PartTree
                parts={parts}
                resolved={resolved}
                selected={selected}
                onSelect={desk.select}
                onSwitch={desk.turn}
                onDrop={(path, material) => desk.drop(material, { path, group: 1, point: [0, 0, 0] }, false)}
              />
            )}
            {parts && resolved && selected.size > 0 && list === 'parts' && (
              <MaterialPanel
                count={selected.size}
                box={box}
                inUse={desk.inUse}
                materials={assignments ?? NO_ASSIGNMENTS}
                model={revision.materials}
                faces={desk.faces}
                undivided={lone !== null && lone.areas?.length === 1 && revision.facesApart !== true && endsIn(revision.fileName, EXT_WITH_FACES)}
                face={desk.face}
                onFace={desk.setFace}
                onAssign={desk.assign}
                onSwap={desk.swap}
                onOwn={desk.own}
                onSelectWearing={desk.pickWearing}
                role={desk.role}
                onRole={(role) => desk.setRole(role, revision.bounds)}
              />
            )}
          </aside>
        </div>
      )}
    </>
  );
}
