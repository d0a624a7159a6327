import { type ReactNode, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { mutate } from 'swr';
import { type BatchReply } from '../../../contract/contract.js';
import { type Bounds } from '../../../core/math/bounds.js';
import { withPlinth } from '../../../core/model/modelTransform.js';
import { moveItem, newShot, withShot } from '../../../core/edit/editSet.js';
import { type Frame } from '../../../core/frame/frame.js';
import { subjectBounds } from '../../../core/planning/planFrames.js';
import { selectPlannedFrames } from '../../../core/plan/selection.js';
import { stageOf } from '../../../core/plan/set.js';
import { effectiveSettings } from '../../../core/plan/formatSheet.js';
import { type Corner } from '../../../core/frame/legend.js';
import { kindOf, type Shot, SHOT_KINDS, shotName } from '../../../core/shots/kinds.js';
import { frameTime, parseRate } from '../../../core/units/rate.js';
import { timecode } from '../../../core/units/timecode.js';
import { send } from '../../state/api.js';
import { SHOT_EDITORS } from './shotEditors.js';
import { usePreviewFrame } from '../../preview/usePreview.js';
import { useCommands } from '../../app/commands.js';
import { useWorkspace } from '../../app/workspace.js';
import { useKeys } from '../../app/keys.js';
import { Button, EmptyState, PLAIN_BUTTON, PageHeader, TextField } from '../../ui/controls.js';
import { Timeline, usePlay, useStepping } from '../../ui/Timeline.js';
import { drawingThumbnailUrl } from '../../ui/Thumbnail.js';
import { Viewport } from '../../viewport/Viewport.js';
import { BulkEditBar } from './BulkEditBar.js';
import { NewSetMenu } from './NewSetMenu.js';
import { ReelMenu } from './ReelMenu.js';
import { ShotTable } from './ShotTable.js';
import { FormatSheetBar } from './FormatSheetBar.js';
import { SetFileMenu } from './SetFileMenu.js';
import { ShotBar } from './ShotBar.js';
import { ShotFields } from './ShotFields.js';
import { pluralize } from '../../../core/base/pluralize.js';

const LEGEND_MARKS: Record<Corner, string> = {
  'top left': 'mark-tl',
  'top right': 'mark-tr',
  'bottom left': 'mark-bl',
  'bottom right': 'mark-br',
};

/** Whether a word stands in a shot's name, kind or group. */
function matches(shot: Shot, filter: string): boolean {
  const words = [shotName(shot), kindOf(shot).label, shot.group ?? '', shot.off ? 'off' : ''].join(' ').toLowerCase();
  return words.includes(filter.toLowerCase());
}

/** Frames that a selection chooses; none where the plan has changed under it. */
function countOf(frames: Frame[], select: string): number {
  try {
    return selectPlannedFrames(frames, select).length;
  } catch {
    return 0;
  }
}

interface ShotEditorProps {
  shot: Shot;
  frames: Frame[];
  revision: number;
  /** Content hash of the model. */
  model: string;
  bounds: Bounds;
}

function ShotEditor({ shot, frames, revision, model, bounds }: ShotEditorProps): ReactNode {
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
              grade={plan!.file.grade}
              {...(frame.turn && { turn: frame.turn })}
              picture={live.picture}
            >
              {live.caption}
              {frame.legend && (
                <p className={`num mark ${LEGEND_MARKS[frame.legend.corner]} pointer-events-none whitespace-pre text-sm`}>{frame.legend.text}</p>
              )}
            </Viewport>
          </div>
          <div className="flex shrink-0 flex-wrap items-center gap-2 border-t border-rule px-3 py-1.5">{live.controls}</div>
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

/** Plan the set: the register under one format sheet, and the selected shot's instrument. */
export default function ShotsStep(): ReactNode {
  const { project, setId, revision, plan, frames, planProblem } = useWorkspace();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const [starting, setStarting] = useState(false);
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const [filter, setFilter] = useState('');
  const [wanted, setWanted] = useState('all');
  const { file, version, edit } = plan!;
  const byShot = useMemo(() => {
    const map = new Map<string, Frame[]>(file.shots.map((s) => [s.id, []]));
    for (const f of frames) map.get(f.shot)?.push(f);
    return map;
  }, [frames, file.shots]);
  const rate = parseRate(file.sheet.rate);
  const selected = file.shots.find((s) => s.id === query.get('shot')) ?? file.shots[0];
  const base = `/p/${project.id}/s/${setId}`;
  const add = (kind: Shot['kind']): void => {
    const shot = newShot(file, kind, query.get('view') ?? file.views[0]!.id, subjectBounds(file, revision!.bounds));
    const problem = edit((f) => withShot(f, shot));
    if (problem && kindOf(shot).siteReason?.(shot) && !file.stage.site)
      toast.error('A sun study goes by the sun of a place, and the set has none yet.', {
        action: { label: 'Set the site', onClick: () => void navigate(`${base}/stage`) },
      });
    else if (problem) toast.error(problem);
    else setQuery({ shot: shot.id });
  };
  const start = async (): Promise<void> => {
    if (!revision || starting || file.shots.length === 0) return;
    setStarting(true);
    try {
      // The last edit must be on the server before it is frozen.
      for (let i = 0; i < 40 && plan!.saving; i++) await new Promise((r) => setTimeout(r, 100));
      const batch = await send<BatchReply>('POST', `/sets/${setId}/batches`, { revision: revision.id, ...(wanted !== 'all' && { select: wanted }) });
      await mutate(`/batches?project=${project.id}`);
      await navigate(`${base}/batch?batch=${batch.id}`);
    } catch (e) {
      toast.error((e as Error).message);
    } finally {
      setStarting(false);
    }
  };
  useKeys({ 'ctrl+Enter': () => void start() });
  useCommands([
    { name: 'Start the batch', keys: 'Ctrl Enter', run: () => void start() },
    ...(revision && file.views.length > 0
      ? Object.values(SHOT_KINDS).map((k) => ({ name: `Add a ${k.label}`, run: () => add(k.kind as Shot['kind']) }))
      : []),
  ]);
  if (!revision || file.views.length === 0) {
    return (
      <>
        <PageHeader title="Shots" />
        <EmptyState title={revision ? 'A shot is seen from a view, and there is none yet.' : 'Shots are made from a model, and there is none yet.'}>
          <Button primary onClick={() => void navigate(`${base}/${revision ? 'views' : 'model'}`)}>
            {revision ? 'Set a view' : 'Bring in a model'}
          </Button>
        </EmptyState>
      </>
    );
  }
  const said = (problem: string | null): void => {
    if (problem) toast.error(problem);
  };
  const together = file.shots.filter((s) => marked.has(s.id));
  const listed = file.shots.filter((s) => filter === '' || matches(s, filter));
  const select = (id: string, how: 'alone' | 'more' | 'range'): void => {
    const [from, to] = [selected?.id, id].map((x) => listed.findIndex((s) => s.id === x)).sort((a, b) => a - b) as [number, number];
    if (how === 'alone') setMarked(new Set());
    else if (how === 'range') setMarked(new Set([...marked, ...listed.slice(Math.max(0, from), to + 1).map((s) => s.id)]));
    else {
      const next = new Set(marked.size === 0 && selected ? [selected.id] : marked);
      if (!next.delete(id)) next.add(id);
      setMarked(next);
    }
    if (how !== 'range') setQuery({ shot: id });
  };
  const carry = (id: string, to: string): void => {
    const at = (x: string): number => file.shots.findIndex((s) => s.id === x);
    said(edit((f) => ({ ...f, shots: moveItem(f.shots, at(id), at(to) - at(id)) })));
  };
  const moving = file.shots.filter((s) => kindOf(s).moving).reduce((n, s) => n + (byShot.get(s.id)?.length ?? 0), 0);
  return (
    <>
      <PageHeader
        title="Shots"
        facts={`${pluralize(file.shots.length, 'shot')} · ${pluralize(frames.length, 'frame')} · ${timecode(moving, rate)} moving, ${Number(frameTime(moving, rate).toFixed(2))} s`}
      >
        <div className="w-40">
          <TextField
            label={wanted === 'all' ? 'Render frames' : `Render frames: ${countOf(frames, wanted)} of ${frames.length}`}
            help="Which of each shot's frames the next batch renders: all, 1-20, 35, first every 5, last. A movie of every n-th keeps its pace."
            mono
            value={wanted}
            onValue={(text) => {
              const next = text.trim() || 'all';
              try {
                selectPlannedFrames(frames, next);
              } catch (e) {
                return (e as Error).message;
              }
              setWanted(next);
              return null;
            }}
          />
        </div>
        <ReelMenu className={PLAIN_BUTTON} />
        <NewSetMenu className={PLAIN_BUTTON} onMade={(id) => void navigate(`/p/${project.id}/s/${id}/shots`)} />
        <SetFileMenu setId={setId} project={project} revision={revision.id} onImported={(id) => void navigate(`/p/${project.id}/s/${id}/shots`)} />
        <Button primary disabled={starting || frames.length === 0} onClick={() => void start()} title="Ctrl+Enter">
          Start the batch
        </Button>
      </PageHeader>
      <FormatSheetBar />
      <ShotBar
        shots={file.shots}
        selected={selected}
        filter={filter}
        onFilter={setFilter}
        onAdd={add}
        onEdit={(change, next) => {
          const problem = edit((f) => ({ ...f, shots: change(f.shots) }));
          if (problem) toast.error(problem);
          else if (next) setQuery({ shot: next });
        }}
      />
      {together.length > 1 && (
        <BulkEditBar
          marked={together}
          onEach={(change) => said(edit((f) => ({ ...f, shots: f.shots.map((s) => (marked.has(s.id) ? change(s) : s)) })))}
          onTakeOut={() => {
            said(edit((f) => ({ ...f, shots: f.shots.filter((s) => !marked.has(s.id)) })));
            setMarked(new Set());
          }}
          onDone={() => setMarked(new Set())}
        />
      )}
      {planProblem && (
        <p role="alert" className="shrink-0 border-b border-rule px-[18px] py-2 text-ochre">
          {planProblem}
        </p>
      )}
      {file.shots.length === 0 ? (
        <EmptyState title="No shot yet.">
          <p>A still is one picture a view; a turntable shows the subject all round; a sun study, a walk or a moving section show it in time.</p>
          <div className="flex gap-3">
            <Button onClick={() => add('still')}>Add a still</Button>
            <Button onClick={() => add('turntable')}>Add a turntable</Button>
          </div>
        </EmptyState>
      ) : (
        <>
          <div className="flex max-h-[45%] min-h-24 shrink-0 flex-col">
            <ShotTable
              shots={listed}
              framesOf={byShot}
              sheet={file.sheet}
              views={file.views}
              site={file.stage.site}
              setId={setId}
              revision={revision.id}
              version={version}
              selected={selected?.id}
              marked={marked}
              onSelect={select}
              {...(listed.length === file.shots.length && { onMove: carry })}
            />
          </div>
          {selected && (byShot.get(selected.id)?.length ?? 0) > 0 && (
            <ShotEditor
              key={selected.id}
              shot={selected}
              frames={byShot.get(selected.id)!}
              revision={revision.id}
              model={revision.hash}
              bounds={withPlinth(file.transform, subjectBounds(file, revision.bounds))}
            />
          )}
        </>
      )}
    </>
  );
}
