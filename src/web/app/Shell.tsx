/** Top line, step index, and the step between them. */
import { type ReactNode, useCallback, useEffect, useMemo, useState } from 'react';
import { Moon, Sun } from 'lucide-react';
import { Link, Navigate, NavLink, Outlet, useLocation, useNavigate, useParams } from 'react-router';
import type { BatchReply } from '../../contract/contract.js';
import type { Frame } from '../../core/frame/frame.js';
import { PlanCache } from '../../core/planning/planCache.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { type ImportProgress, useBatches, useEvents, useProject } from '../state/queries.js';
import { usePlanStore } from '../state/planStore.js';
import { EmptyState } from '../ui/controls.js';
import { type Workspace, WorkspaceContext } from './workspace.js';
import { formatEta } from './format.js';
import { useCommands } from './commands.js';
import { ConnectionBanner } from './ConnectionBanner.js';
import { useKeys } from './keys.js';
import { KeysDialog } from './KeysDialog.js';
import { CommandPalette } from './CommandPalette.js';
import { setPreferences, usePreferences } from './preferences.js';
import { fetchSteps, STEPS } from './steps.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** An easel with a sheet on it: the product's own mark. */
export function Logo(): ReactNode {
  return (
    <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.6" aria-hidden>
      <path d="M4 3h12v8H4zM2 13h16M6 13l-2 6M14 13l2 6M10 13v4" />
    </svg>
  );
}

/** Opens a project at its set: at the model where there is none yet, else at the shots. */
export function ProjectHome(): ReactNode {
  const { project: id } = useParams();
  const { data, error } = useProject(Number(id));
  if (error) return <EmptyState title={HELP.thisProjectCannotBe}>{error.message}</EmptyState>;
  if (!data) return null;
  return <Navigate to={`/p/${id}/s/${data.sets[0]!.id}/${data.revisions.length > 0 ? 'shots' : 'model'}`} replace />;
}

function BatchLine({ batch, to }: { batch: BatchReply | undefined; to: string }): ReactNode {
  useEffect(() => {
    document.title = batch ? LABELS.coldEasel(batch.done, batch.total) : LABELS.appName;
  }, [batch]);
  if (!batch) return null;
  const share = batch.total > 0 ? batch.done / batch.total : 0;
  const state = batch.state === 'running' ? (batch.remaining === null ? 'measuring' : `done ${formatEta(batch.remaining)}`) : batch.state;
  return (
    <Link to={to} className="ml-auto flex w-72 flex-col justify-center gap-1 px-4" data-testid="batch-line">
      <span className="num flex justify-between text-sm">
        <span>{LABELS.frames(batch.done, batch.total)}</span>
        <span className="text-graphite">{state}</span>
      </span>
      <span className="block h-[3px] bg-rule">
        <span className="block h-full bg-ink" style={{ width: `${share * 100}%` }} />
      </span>
    </Link>
  );
}

function Place({ label, value }: { label: string; value: string }): ReactNode {
  return (
    <span className="flex items-center gap-2 border-l border-rule px-3">
      <span className="font-head text-xs font-medium text-graphite">{label}</span>
      <span className="max-w-60 truncate">{value}</span>
    </span>
  );
}

export function Shell(): ReactNode {
  const { project: projectParam, set: setParam } = useParams();
  const projectId = Number(projectParam);
  const setId = Number(setParam);
  const navigate = useNavigate();
  const location = useLocation();
  const { data: project, error } = useProject(projectId);
  const { data: batches = [] } = useBatches(projectId);
  const planned = usePlanStore(setId, projectId);
  const plan = planned && 'problem' in planned ? null : planned;
  const [importing, setImporting] = useState<ImportProgress | null>(null);
  const onImport = useCallback(
    (id: number, progress: ImportProgress) => setImporting(id === projectId && progress.share < 0.97 ? progress : null),
    [projectId],
  );
  useEvents(projectId, onImport);
  // The newest, unless an older one was chosen; the choice lives as long as the tab.
  const [chosen, setChosen] = useState<number | null>(() => Number(sessionStorage.getItem(`revision of ${projectId}`)) || null);
  const newest = project?.revisions.at(-1);
  const revision = project?.revisions.find((r) => r.id === chosen) ?? newest;
  const file = plan?.file;
  // While the set is edited, most of its shots stay as they were.
  const [planCache] = useState(() => new PlanCache());
  const { frames, problem } = useMemo((): { frames: Frame[]; problem: string | null } => {
    if (!file || !revision || !project) return { frames: [], problem: null };
    try {
      const context = {
        bounds: revision.bounds,
        scene: revision.hash,
        project: project.name,
        model: revision.fileName.replace(/\.[^.]+$/, ''),
        revision: revision.letter,
      };
      return { frames: planFrames(file, context, planCache), problem: null };
    } catch (e) {
      return { frames: [], problem: (e as Error).message };
    }
  }, [file, revision, project]);
  const base = `/p/${projectId}/s/${setId}`;
  useEffect(() => {
    // When what was opened has come.
    const later = setTimeout(() => void fetchSteps(), 3000);
    return () => clearTimeout(later);
  }, []);
  useKeys({
    ...Object.fromEntries(STEPS.map((s, i) => [String(i + 1), () => void navigate(`${base}/${s.id}`)])),
    'ctrl+z': plan?.undo,
    'ctrl+Z': plan?.redo,
    'ctrl+y': plan?.redo,
  });
  const { theme, singleKeys } = usePreferences();
  useCommands([
    ...STEPS.map((s, i) => ({ name: LABELS.goTo(s.label), keys: String(i + 1), run: () => void navigate(`${base}/${s.id}`) })),
    { name: LABELS.goToProjects, run: () => void navigate('/') },
    { name: LABELS.undo, keys: 'Ctrl Z', run: () => plan?.undo() },
    { name: LABELS.redo, keys: 'Ctrl Y', run: () => plan?.redo() },
    { name: theme === 'day' ? LABELS.nightTheme : LABELS.dayTheme, run: () => setPreferences({ theme: theme === 'day' ? 'night' : 'day' }) },
    { name: LABELS.switchSingleKeyShortcuts(singleKeys ? 'off' : 'on'), run: () => setPreferences({ singleKeys: !singleKeys }) },
  ]);
  if (error) {
    return (
      <EmptyState title={HELP.thisProjectCannotBe}>
        <p>{error.message}</p>
        <Link to="/" className="text-cobalt underline">
          {LABELS.goToProjects}
        </Link>
      </EmptyState>
    );
  }
  if (planned && 'problem' in planned) {
    return (
      <EmptyState title={HELP.thisSetCannotBe}>
        <p className="max-w-xl whitespace-pre-line text-left">{planned.problem}</p>
        <p className="flex gap-4">
          <a className="text-cobalt underline" href={`/api/sets/${setId}/export`} download>
            {LABELS.exportAsItIs}
          </a>
          <Link to="/" className="text-cobalt underline">
            {LABELS.goToProjects}
          </Link>
        </p>
      </EmptyState>
    );
  }
  if (!project || !plan) return <p className="p-6 text-graphite">{MESSAGES.loading}</p>;
  if (!STEPS.some((s) => location.pathname.startsWith(`${base}/${s.id}`))) return <Navigate to={`${base}/shots`} replace />;
  // What is made from the set is made on a model too.
  const stamped = { ...plan, version: `${plan.version}-${revision?.hash.slice(0, 16) ?? ''}` };
  const desk: Workspace = { project, setId, revision, plan: stamped, frames, planProblem: problem, batches, importing };
  const variants = plan.file.materials?.variants ?? [];
  const active = batches.find((b) => b.state === 'running') ?? batches.find((b) => ['queued', 'paused', 'held'].includes(b.state));
  return (
    <WorkspaceContext.Provider value={desk}>
      <div className="grid h-full grid-cols-[150px_minmax(0,1fr)] grid-rows-[44px_minmax(0,1fr)]">
        <header className="col-span-2 flex border-b border-rule bg-chalk">
          <Link to="/" className="flex w-[150px] items-center gap-2 pl-4 font-semibold" title={LABELS.allProjects}>
            <Logo /> {LABELS.appName}
          </Link>
          <Place label={LABELS.project} value={project.name} />
          <Place label={LABELS.set} value={plan.file.name} />
          {project.revisions.length < 2 ? (
            <Place label={LABELS.revision} value={revision?.letter ?? 'none yet'} />
          ) : (
            <label className="flex items-center gap-2 border-l border-rule px-3">
              <span className="font-head text-xs font-medium text-graphite">{LABELS.revision}</span>
              <select
                aria-label={LABELS.revision}
                className="bg-transparent"
                value={revision!.id}
                onChange={(e) => {
                  const id = Number(e.target.value);
                  const next = id === newest!.id ? null : id;
                  setChosen(next);
                  sessionStorage.setItem(`revision of ${projectId}`, String(next ?? ''));
                }}
              >
                {project.revisions.map((r) => (
                  <option key={r.id} value={r.id}>
                    {r.letter}
                  </option>
                ))}
              </select>
            </label>
          )}
          {variants.length > 0 && (
            <label className="flex items-center gap-2 border-l border-rule px-3">
              <span className="font-head text-xs font-medium text-graphite">{LABELS.variant}</span>
              <select
                aria-label={LABELS.activeVariant}
                className="max-w-40 bg-transparent"
                value={plan.file.materials!.variant ?? ''}
                onChange={(e) => {
                  const variant = e.target.value || undefined;
                  plan.edit((f) => ({ ...f, materials: { ...f.materials!, variant } }));
                }}
              >
                <option value="">{LABELS.asPlanned}</option>
                {variants.map((v) => (
                  <option key={v.id} value={v.id}>
                    {v.name}
                  </option>
                ))}
              </select>
            </label>
          )}
          <span className="flex items-center border-l border-rule px-3 text-sm text-graphite" aria-live="polite">
            {plan.saving ? MESSAGES.saving : ''}
          </span>
          <BatchLine batch={active} to={`${base}/batch${active ? `?batch=${active.id}` : ''}`} />
        </header>
        <nav aria-label={LABELS.steps} className="flex flex-col border-r border-rule bg-chalk pt-3">
          {STEPS.map((step, i) => (
            <NavLink
              key={step.id}
              to={`${base}/${step.id}`}
              className={({ isActive }) =>
                `flex h-[33px] items-center gap-3 border-l-[3px] pl-3 pr-3 ${isActive ? 'border-madder bg-paper font-semibold text-ink' : 'border-transparent text-graphite'}`
              }
            >
              <span className="num w-3 text-sm">{i + 1}</span>
              <span>{step.label}</span>
              <span className="num ml-auto text-sm">{step.count(desk)}</span>
            </NavLink>
          ))}
          <button
            type="button"
            className="mt-auto flex h-9 items-center gap-2 pl-4 text-sm text-graphite"
            onClick={() => setPreferences({ theme: theme === 'day' ? 'night' : 'day' })}
          >
            {theme === 'day' ? <Moon size={15} aria-hidden /> : <Sun size={15} aria-hidden />}
            {theme === 'day' ? LABELS.nightTheme : LABELS.dayTheme}
          </button>
          <p className="num pb-2 pl-4 text-xs text-graphite">{LABELS.commandsCtrlK}</p>
        </nav>
        <CommandPalette />
        <KeysDialog />
        <main className="flex min-h-0 min-w-0 flex-col">
          <ConnectionBanner />
          <Outlet />
        </main>
      </div>
    </WorkspaceContext.Provider>
  );
}
