/** The working places of the application, in working order. */
import { lazy, type ReactNode, Suspense } from 'react';
import { loadCode } from '../state/loadCode.js';
import type { Workspace } from './workspace.js';
import { LABELS, MESSAGES } from './words.js';

const picks = new Map<string, () => Promise<unknown>>();

/** Fetches the code of all steps, one after the other, so that the next one opens at once. */
export async function fetchSteps(): Promise<void> {
  // One that cannot be fetched says so when it is opened.
  for (const pick of picks.values()) await pick().catch(() => undefined);
}

/** Fetches the code of one step before it is shown. */
export async function fetchStep(id: string): Promise<void> {
  await picks
    .get(id)?.()
    .catch(() => undefined);
}

const load = (id: string, pick: () => Promise<{ default: () => ReactNode }>): { id: string; element: () => ReactNode } => {
  picks.set(id, pick);
  const Lazy = lazy(() => loadCode(pick));
  const element = (): ReactNode => (
    <Suspense fallback={<p className="p-6 text-graphite">{MESSAGES.loading}</p>}>
      <Lazy />
    </Suspense>
  );
  return { id, element };
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
    ...load('model', () => import('../features/model/ModelStep.js')),
    label: LABELS.model,
    count: (d) => String(d.revision?.partCount ?? ''),
  },
  { ...load('stage', () => import('../features/stage/StageStep.js')), label: LABELS.stage, count: () => '' },
  {
    ...load('views', () => import('../features/views/ViewsStep.js')),
    label: LABELS.views,
    count: (d) => String(d.plan?.file.views.length || ''),
  },
  {
    ...load('shots', () => import('../features/shots/ShotsStep.js')),
    label: LABELS.shots,
    count: (d) => String(d.plan?.file.shots.length || ''),
  },
  {
    ...load('preflight', () => import('../features/preflight/PreflightStep.js')),
    label: LABELS.preflight,
    count: ({ preflight: { report } }) => {
      const open = report?.findings.filter((f) => f.severity !== 'note' && f.waived === undefined).length ?? 0;
      return open > 0 ? String(open) : '';
    },
  },
  {
    ...load('batch', () => import('../features/batch/BatchStep.js')),
    label: LABELS.batch,
    count: (d) => {
      const running = d.batches.find((b) => b.state === 'running' || b.state === 'paused' || b.state === 'held');
      return running ? `${Math.floor((100 * running.done) / running.total)}%` : String(d.batches.length || '');
    },
  },
  {
    ...load('review', () => import('../features/review/ReviewStep.js')),
    label: LABELS.review,
    count: (d) => String(d.batches.reduce((n, b) => n + b.done, 0) || ''),
  },
  {
    ...load('hand-over', () => import('../features/handover/HandoverStep.js')),
    label: LABELS.handover,
    count: () => '',
  },
];
