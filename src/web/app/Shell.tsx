/** Top line, step index, and the step between them. */
import { fileStem } from '../../core/model/fileExtensions.js';
import { type ReactNode, useCallback, useEffect, useMemo, useState } from 'react';
import { Link, Navigate, Outlet, useLocation, useNavigate, useParams } from 'react-router';
import type { Frame } from '../../core/frame/frame.js';
import { PlanCache } from '../../core/planning/planCache.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { handOver } from '../state/droppedModel.js';
import { type ImportProgress, useEvents } from '../state/projectEvents.js';
import { useBatches, useProject } from '../state/queries.js';
import { usePlanStore } from '../state/planStore.js';
import { usePreflight } from '../state/preflight.js';
import { EmptyState } from '../ui/controls.js';
import { lazily } from '../ui/lazily.js';
import { type Workspace, WorkspaceContext } from './workspace.js';
import { useCommands } from './commands.js';
import { ConnectionBanner } from './ConnectionBanner.js';
import { useKeys } from './keys.js';
import { KeysDialog } from './KeysDialog.js';
import { ModelDrop } from './ModelDrop.js';
import { CommandPalette } from './CommandPalette.js';
import { setPreferences, usePreferences } from './preferences.js';
import { fetchSteps, STEPS } from './steps.js';
import { StepIndex } from './StepIndex.js';
import { TopLine } from './TopLine.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const BatchNotices = lazily(() => import('./BatchNotices.js').then((m) => m.BatchNotices));

const LostParts = lazily(async () => (await import('./LostParts.js')).LostParts);
const ClashDialog = lazily(async () => (await import('./ClashDialog.js')).ClashDialog);

/** A project's frame about its steps: top line, step index, and what all steps share. */
export default function Shell(): ReactNode {
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
        model: fileStem(revision.fileName),
        revision: revision.letter,
      };
      return { frames: planFrames(file, context, planCache), problem: null };
    } catch (e) {
      return { frames: [], problem: (e as Error).message };
    }
  }, [file, revision, project]);
  const base = `/p/${projectId}/s/${setId}`;
  const preflight = usePreflight(setId, revision?.id, plan?.version ?? '', location.pathname.startsWith(`${base}/preflight`));
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
    { name: LABELS.goToQueue, run: () => void navigate('/queue') },
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
  const desk: Workspace = { project, setId, revision, plan: stamped, frames, planProblem: problem, preflight, batches, importing };
  return (
    <WorkspaceContext.Provider value={desk}>
      <div className="grid h-full grid-cols-[150px_minmax(0,1fr)] grid-rows-[44px_minmax(0,1fr)] max-[1180px]:grid-cols-[48px_minmax(0,1fr)]">
        <TopLine
          project={project}
          set={{ id: setId, file: plan.file }}
          edit={plan.edit}
          saving={plan.saving}
          revision={revision}
          onRevision={(id) => {
            const next = id === newest!.id ? null : id;
            setChosen(next);
            sessionStorage.setItem(`revision of ${projectId}`, String(next ?? ''));
          }}
          batches={batches}
        />
        <StepIndex base={base} workspace={desk} />
        <ModelDrop
          says={MESSAGES.dropMakesRevision(project.name)}
          onModel={(files) => {
            handOver(projectId, files);
            void navigate(`${base}/model`);
          }}
        />
        {batches.length > 0 && <BatchNotices batches={batches} />}
        {plan.clashes.length > 0 && <ClashDialog plan={plan} />}
        <CommandPalette />
        <KeysDialog />
        <main className="flex min-h-0 min-w-0 flex-col">
          <ConnectionBanner />
          <LostParts />
          <Outlet />
        </main>
      </div>
    </WorkspaceContext.Provider>
  );
}
