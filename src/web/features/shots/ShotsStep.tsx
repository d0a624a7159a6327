/** Plan the set: the shot list under one format sheet, and the editor of the selected shot. */
import { type ReactNode, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { pluralize } from '../../../core/base/pluralize.js';
import { moveItem, newShot, withShot } from '../../../core/edit/editSet.js';
import type { Frame } from '../../../core/frame/frame.js';
import { withPlinth } from '../../../core/model/modelTransform.js';
import { ALL_FRAMES, formatSelections, NO_FRAMES } from '../../../core/plan/selection.js';
import type { SetFile } from '../../../core/plan/set.js';
import { subjectBounds } from '../../../core/planning/planFrames.js';
import { kindOf, type Shot, SHOT_KINDS } from '../../../core/shots/kinds.js';
import { frameTime, parseRate } from '../../../core/units/rate.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button, EmptyState, PageHeader, PLAIN_BUTTON } from '../../ui/controls.js';
import { ForecastContext } from '../forecast/useForecastState.js';
import { useForecastOf } from '../forecast/useForecastOf.js';
import { BulkEditBar } from './BulkEditBar.js';
import { FormatSheetBar } from './FormatSheetBar.js';
import { OddSizesNotice } from './OddSizesNotice.js';
import { NewSetMenu } from './NewSetMenu.js';
import { ReelMenu } from './ReelMenu.js';
import { RenderSelectionContext } from './renderSelection.js';
import { RenderFramesField } from './RenderFramesField.js';
import { SetFileMenu } from './SetFileMenu.js';
import { SeveralBatchesMenu } from './SeveralBatchesMenu.js';
import { ShotBar } from './ShotBar.js';
import { ShotEditor } from './ShotEditor.js';
import { ShotTable } from './ShotTable.js';
import { type EditShots, shotActions } from './shotActions.js';
import { ChangesSummary, useFrameChanges } from './FrameChanges.js';
import { PLAIN_START } from './startOptions.js';
import { StartOptionsMenu } from './StartOptionsMenu.js';
import { LABELS as START_LABELS } from './startWords.js';
import { type ShotSelection, useShotSelection } from './useShotSelection.js';
import { useStartBatch } from './useStartBatch.js';
import { toastProblem } from '../../state/toastProblem.js';
import { toast } from '../../state/toast.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Adds a shot of a kind and edits it; where it lacks a site, the way there is offered. */
function useAddShot(edit: (id: string) => void): (kind: Shot['kind']) => void {
  const { project, setId, revision, plan } = useWorkspace();
  const [query] = useSearchParams();
  const navigate = useNavigate();
  const { file } = plan!;
  return (kind) => {
    const shot = newShot(file, kind, query.get('view') ?? file.views[0]!.id, subjectBounds(file, revision!.bounds));
    const problem = plan!.edit((f) => withShot(f, shot));
    if (problem && kindOf(shot).siteReason?.(shot) && !file.stage.site)
      toast.error(MESSAGES.aSunStudyNeeds, {
        action: { label: LABELS.setSite, onClick: () => void navigate(`/p/${project.id}/s/${setId}/stage`) },
      });
    else if (problem) toast.error(problem);
    else edit(shot.id);
  };
}

/** Frames of each shot's own size, by the shot. */
function groupFrames(file: SetFile, frames: Frame[]): Map<string, Frame[]> {
  const map = new Map<string, Frame[]>(file.shots.map((s) => [s.id, []]));
  for (const f of frames) map.get(f.shot)?.push(f);
  return map;
}

/** How many shots and frames there are, and how long the moving ones last. */
function planFacts(file: SetFile, frames: Frame[], framesOf: Map<string, Frame[]>): string {
  const rate = parseRate(file.sheet.rate);
  const moving = file.shots.filter((s) => kindOf(s).moving).reduce((n, s) => n + (framesOf.get(s.id)?.length ?? 0), 0);
  return MESSAGES.planFacts(
    pluralize(file.shots.length, LABELS.shotCount),
    pluralize(frames.length, LABELS.frame),
    Number(frameTime(moving, rate).toFixed(2)),
  );
}

/** Edits the list of shots, and selects what is to be selected then. */
function useEditShots(selection: ShotSelection): EditShots {
  const { edit } = useWorkspace().plan!;
  return (change, next) => {
    const problem = edit((f) => ({ ...f, shots: change(f.shots) }));
    if (problem) toast.error(problem);
    else if (next) selection.edit(next);
  };
}

/** The bars above the shot list: adding and finding shots, and changing several together. */
function ShotBars({ selection, onAdd }: { selection: ShotSelection; onAdd: (kind: Shot['kind']) => void }): ReactNode {
  const { plan } = useWorkspace();
  const { file, edit } = plan!;
  const { together, marked } = selection;
  const onEdit = useEditShots(selection);
  return (
    <>
      <ShotBar
        shots={file.shots}
        selected={selection.selected}
        filter={selection.filter}
        onFilter={selection.setFilter}
        onAdd={onAdd}
        onEdit={onEdit}
      />
      {together.length > 1 && (
        <BulkEditBar
          marked={together}
          onEach={(change) => toastProblem(edit((f) => ({ ...f, shots: f.shots.map((s) => (marked.has(s.id) ? change(s) : s)) })))}
          onDelete={() => {
            toastProblem(edit((f) => ({ ...f, shots: f.shots.filter((s) => !marked.has(s.id)) })));
            selection.clear();
          }}
          onDone={selection.clear}
        />
      )}
    </>
  );
}

/** The shot list and the editor of the selected shot. */
function ShotList({ selection, framesOf }: { selection: ShotSelection; framesOf: Map<string, Frame[]> }): ReactNode {
  const { setId, revision, plan } = useWorkspace();
  const { file, version, edit } = plan!;
  const { listed, selected } = selection;
  const onEdit = useEditShots(selection);
  const move = (id: string, to: string): void => {
    const at = (x: string): number => file.shots.findIndex((s) => s.id === x);
    toastProblem(edit((f) => ({ ...f, shots: moveItem(f.shots, at(id), at(to) - at(id)) })));
  };
  return (
    <>
      <div className="flex max-h-[45%] min-h-24 shrink-0 flex-col">
        <ShotTable
          shots={listed}
          framesOf={framesOf}
          sheet={file.sheet}
          views={file.views}
          site={file.stage.site}
          setId={setId}
          revision={revision!.id}
          version={version}
          selected={selected?.id}
          marked={selection.marked}
          onSelect={selection.select}
          actionsOf={(shot) => Object.values(shotActions(file.shots, shot, onEdit))}
          {...(listed.length === file.shots.length && { onMove: move })}
        />
      </div>
      {selected && (framesOf.get(selected.id)?.length ?? 0) > 0 && (
        <ShotEditor
          key={selected.id}
          shot={selected}
          frames={framesOf.get(selected.id)!}
          revision={revision!.id}
          model={revision!.hash}
          bounds={withPlinth(file.transform, subjectBounds(file, revision!.bounds))}
        />
      )}
    </>
  );
}

/** The step in which shots are planned and batches started. */
export default function ShotsStep(): ReactNode {
  const { project, setId, revision, plan, frames, planProblem } = useWorkspace();
  const navigate = useNavigate();
  const { file } = plan!;
  const [wanted, setWanted] = useState(ALL_FRAMES);
  const selection = useShotSelection(file.shots);
  const add = useAddShot(selection.edit);
  const [options, setOptions] = useState(PLAIN_START);
  const { starting, start, question } = useStartBatch(wanted, options);
  const changes = useFrameChanges(options);
  const framesOf = useMemo(() => groupFrames(file, frames), [file, frames]);
  const forecast = useForecastOf(wanted, setWanted);
  const ready = revision !== undefined && file.views.length > 0;
  useKeys({ 'ctrl+Enter': () => void start() });
  useCommands([
    { name: START_LABELS.startBatch, keys: 'Ctrl Enter', run: () => void start() },
    ...(ready ? Object.values(SHOT_KINDS).map((k) => ({ name: LABELS.addShot(k.label), run: () => add(k.kind as Shot['kind']) })) : []),
  ]);
  if (!ready) {
    return (
      <>
        <PageHeader title={LABELS.shots} />
        <EmptyState title={revision ? HELP.aShotNeedsA : HELP.shotsNeedAModel}>
          <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/${revision ? 'views' : 'model'}`)}>
            {revision ? LABELS.addView : LABELS.importModel}
          </Button>
        </EmptyState>
      </>
    );
  }
  const openSet = (id: number): void => void navigate(`/p/${project.id}/s/${id}/shots`);
  return (
    <ForecastContext value={forecast}>
      <PageHeader title={LABELS.shots} facts={planFacts(file, frames, framesOf)}>
        <div className="w-48">
          <RenderFramesField shots={file.shots} frames={frames} value={wanted} onValue={setWanted} changes={changes} />
        </div>
        <ReelMenu className={PLAIN_BUTTON} />
        <NewSetMenu className={PLAIN_BUTTON} onMade={openSet} />
        <SeveralBatchesMenu className={PLAIN_BUTTON} select={wanted === ALL_FRAMES ? undefined : wanted} />
        <SetFileMenu setId={setId} project={project} revision={revision.id} onImported={openSet} />
        <StartOptionsMenu options={options} onOptions={setOptions} />
        <Button primary disabled={starting || frames.length === 0} onClick={() => void start()} title={LABELS.ctrlEnter}>
          {starting ? START_LABELS.checking : options.draft ? START_LABELS.startDraft : START_LABELS.startBatch}
        </Button>
        {question}
      </PageHeader>
      {changes && changes.takenOver + changes.toDevelop > 0 && (
        <div className="shrink-0 border-b border-rule px-[18px] py-1" data-testid="changes">
          <ChangesSummary changes={changes} />
        </div>
      )}
      <FormatSheetBar />
      <ShotBars selection={selection} onAdd={add} />
      {planProblem && (
        <p role="alert" className="shrink-0 border-b border-rule px-[18px] py-2 text-ochre">
          {planProblem}
        </p>
      )}
      <OddSizesNotice />
      {file.shots.length === 0 ? (
        <EmptyState title={HELP.noShotsYet}>
          <p>{MESSAGES.aStillRendersEach}</p>
          <div className="flex gap-3">
            <Button onClick={() => add('still')}>{LABELS.addStill}</Button>
            <Button onClick={() => add('turntable')}>{LABELS.addTurntable}</Button>
          </div>
        </EmptyState>
      ) : (
        <RenderSelectionContext
          value={(shot, chosen) => {
            setWanted(formatSelections({ others: NO_FRAMES, shots: new Map([[shot, chosen]]) }));
            toast(MESSAGES.nextBatchRenders(chosen));
          }}
        >
          <ShotList selection={selection} framesOf={framesOf} />
        </RenderSelectionContext>
      )}
    </ForecastContext>
  );
}
