/** The working places of the application, in working order. */
import { lazy, type ReactNode, Suspense } from 'react';
import { loadCode } from '../state/loadCode.js';
import type { Workspace } from './workspace.js';
import { LABELS, MESSAGES } from './words.js';

const picks: (() => Promise<unknown>)[] = [];

/** Fetches the code of all steps, one after the other, so that the next one opens at once. */
export async function fetchSteps(): Promise<void> {
  // One that cannot be fetched says so when it is opened.
  for (const pick of picks) await pick().catch(() => undefined);
}

const load = (pick: () => Promise<{ default: () => ReactNode }>): (() => ReactNode) => {
  picks.push(pick);
  const Lazy = lazy(() => loadCode(pick));
  return () => (
    <Suspense fallback={<p className="p-6 text-graphite">{MESSAGES.loading}</p>}>
      <Lazy />
    </Suspense>
  );
};

/** One step of the job. */
export interface Step {
  id: string;
  label: string;
  element: () => ReactNode;
  /** Its count or state in the step index. */
  count: (desk: Workspace) => string;
}

/** The steps in their order. */
export const STEPS: Step[] = [
  {
    id: 'model',
    label: LABELS.model,
    element: load(() => import('../features/model/ModelStep.js')),
    count: (d) => String(d.revision?.partCount ?? ''),
  },
  { id: 'stage', label: LABELS.stage, element: load(() => import('../features/stage/StageStep.js')), count: () => '' },
  {
    id: 'views',
    label: LABELS.views,
    element: load(() => import('../features/views/ViewsStep.js')),
    count: (d) => String(d.plan?.file.views.length || ''),
  },
  {
    id: 'shots',
    label: LABELS.shots,
    element: load(() => import('../features/shots/ShotsStep.js')),
    count: (d) => String(d.plan?.file.shots.length || ''),
  },
  {
    id: 'preflight',
    label: LABELS.preflight,
    element: load(() => import('../features/preflight/PreflightStep.js')),
    count: ({ preflight: { report } }) => {
      const open = report?.findings.filter((f) => f.severity !== 'note' && f.waived === undefined).length ?? 0;
      return open > 0 ? String(open) : '';
    },
  },
  {
    id: 'batch',
    label: LABELS.batch,
    element: load(() => import('../features/batch/BatchStep.js')),
    count: (d) => {
      const running = d.batches.find((b) => b.state === 'running' || b.state === 'paused' || b.state === 'held');
      return running ? `${Math.floor((100 * running.done) / running.total)}%` : String(d.batches.length || '');
    },
  },
  {
    id: 'review',
    label: LABELS.review,
    element: load(() => import('../features/review/ReviewStep.js')),
    count: (d) => String(d.batches.reduce((n, b) => n + b.done, 0) || ''),
  },
  {
    id: 'hand-over',
    label: LABELS.handover,
    element: load(() => import('../features/handover/HandoverStep.js')),
    count: () => '',
  },
];
