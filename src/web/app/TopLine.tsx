/** Where one is and what is going on: project, set, revision, variant, whether all is saved, and the batch that runs. */
import { type ReactNode, useEffect } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import type { BatchReply } from '../../contract/batches.js';
import type { ProjectReply, RevisionReply } from '../../contract/contract.js';
import type { SetFile } from '../../core/plan/set.js';
import { useConnected } from '../state/events.js';
import { deleteProject, deleteSet, duplicateProject, duplicateSet, renameProject } from '../state/places.js';
import type { PlanStore } from '../state/planSession.js';
import { useProjects } from '../state/queries.js';
import { toastProblem } from '../state/toastProblem.js';
import { formatEta } from './format.js';
import { Logo } from './Logo.js';
import { PLACE_LABEL, PlaceMenu } from './PlaceMenu.js';
import { STEPS } from './steps.js';
import { LABELS, MESSAGES } from './words.js';

interface TopLineProps {
  project: ProjectReply;
  set: { id: number; file: SetFile };
  edit: PlanStore['edit'];
  saving: boolean;
  revision: RevisionReply | undefined;
  onRevision: (id: number) => void;
  batches: BatchReply[];
}

/** The window's title: how far the batch is, the step, the project. */
function useTitle(project: string, batch: BatchReply | undefined): void {
  const { pathname } = useLocation();
  const step = STEPS.find((s) => pathname.endsWith(`/${s.id}`))?.label;
  useEffect(() => {
    const progress = batch ? [`${batch.done}/${batch.total}`] : [];
    document.title = [...progress, ...(step ? [step] : []), project, LABELS.appName].join(' · ');
  }, [batch, step, project]);
  useEffect(
    () => () => {
      document.title = LABELS.appName;
    },
    [],
  );
}

function BatchLine({ batch, to }: { batch: BatchReply | undefined; to: string }): ReactNode {
  if (!batch) return null;
  const share = batch.total > 0 ? batch.done / batch.total : 0;
  const state = batch.state === 'running' ? (batch.remaining === null ? 'measuring' : `done ${formatEta(batch.remaining)}`) : batch.state;
  return (
    <Link to={to} className="ml-auto flex w-72 min-w-32 flex-col justify-center gap-1 px-4" data-testid="batch-line">
      <span className="num flex justify-between gap-2 overflow-hidden text-sm whitespace-nowrap">
        <span>{LABELS.frames(batch.done, batch.total)}</span>
        <span className="text-graphite">{state}</span>
      </span>
      <span className="block h-[3px] bg-rule">
        <span className="block h-full bg-ink" style={{ width: `${share * 100}%` }} />
      </span>
    </Link>
  );
}

/** A value that is chosen among a few. */
function PlaceSelect({
  label,
  name,
  value,
  options,
  onValue,
}: {
  label: string;
  name: string;
  value: string | number;
  options: { value: string | number; label: string }[];
  onValue: (value: string) => void;
}): ReactNode {
  return (
    <label className="flex min-w-0 items-center gap-2 border-l border-rule px-3">
      <span className={PLACE_LABEL}>{label}</span>
      <select aria-label={name} className="min-w-9 max-w-40 bg-transparent" value={value} onChange={(e) => onValue(e.target.value)}>
        {options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Whether the plan is on the server. */
function SaveState({ saving }: { saving: boolean }): ReactNode {
  const connected = useConnected();
  return (
    <span className="flex shrink-0 items-center border-l border-rule px-3 text-sm text-graphite" aria-live="polite" data-testid="save-state">
      {!connected ? MESSAGES.offline : saving ? MESSAGES.saving : MESSAGES.saved}
    </span>
  );
}

/** Project, set, revision, whether all is saved, and the batch that runs. */
export function TopLine({ project, set, edit, saving, revision, onRevision, batches }: TopLineProps): ReactNode {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const { data: projects = [] } = useProjects();
  const active = batches.find((b) => b.state === 'running') ?? batches.find((b) => ['queued', 'paused', 'held'].includes(b.state));
  useTitle(project.name, active);
  const step = pathname.split('/').at(-1)!;
  const openSet = (id: number): void => void navigate(`/p/${project.id}/s/${id}/${step}`);
  const { file } = set;
  const variants = file.materials?.variants ?? [];
  return (
    <header className="col-span-2 flex min-w-0 border-b border-rule bg-chalk">
      <Link to="/" className="flex w-[150px] shrink-0 items-center gap-2 pl-4 font-semibold max-[1180px]:w-12" title={LABELS.allProjects}>
        <Logo /> <span className="max-[1180px]:sr-only">{LABELS.appName}</span>
      </Link>
      <PlaceMenu
        label={LABELS.project}
        current={project.id}
        name={project.name}
        choices={projects.map(({ id, name }) => ({ id, name }))}
        onChoose={(id) => void navigate(`/p/${id}`)}
        rename={(name) => {
          if (name === '') return MESSAGES.giveAName;
          renameProject(project.id, name).catch((e: Error) => toastProblem(e.message));
          return null;
        }}
        duplicate={async () => void navigate(`/p/${(await duplicateProject(project.id)).id}`)}
        remove={async () => {
          await deleteProject(project);
          await navigate('/');
        }}
      />
      <PlaceMenu
        label={LABELS.set}
        current={set.id}
        name={file.name}
        choices={project.sets.map((s) => ({ id: s.id, name: s.id === set.id ? file.name : s.name, note: LABELS.frameCount(s.frames) }))}
        onChoose={openSet}
        rename={(name) => (name === '' ? MESSAGES.giveAName : edit((f) => ({ ...f, name })))}
        duplicate={async () => openSet(await duplicateSet(project.id, file))}
        remove={async () => {
          await deleteSet(project.id, { id: set.id, name: file.name });
          openSet(project.sets.find((s) => s.id !== set.id)!.id);
        }}
      />
      {project.revisions.length < 2 ? (
        <span className="flex items-center gap-2 border-l border-rule px-3">
          <span className={PLACE_LABEL}>{LABELS.revision}</span>
          <span className="whitespace-nowrap">{revision?.letter ?? LABELS.noneYet}</span>
        </span>
      ) : (
        <PlaceSelect
          label={LABELS.revision}
          name={LABELS.revision}
          value={revision!.id}
          options={project.revisions.map((r) => ({ value: r.id, label: r.letter }))}
          onValue={(id) => onRevision(Number(id))}
        />
      )}
      {variants.length > 0 && (
        <PlaceSelect
          label={LABELS.variant}
          name={LABELS.activeVariant}
          value={file.materials!.variant ?? ''}
          options={[{ value: '', label: LABELS.asPlanned }, ...variants.map((v) => ({ value: v.id, label: v.name }))]}
          onValue={(variant) => toastProblem(edit((f) => ({ ...f, materials: { ...f.materials!, variant: variant || undefined } })))}
        />
      )}
      <SaveState saving={saving} />
      <BatchLine batch={active} to={`/p/${project.id}/s/${set.id}/batch${active ? `?batch=${active.id}` : ''}`} />
    </header>
  );
}
