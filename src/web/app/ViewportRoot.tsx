/** Keeps the viewports' contexts alive beside the routes; nothing of it is loaded before a viewport is shown. */
import { lazy, type ReactNode, Suspense } from 'react';
import { useHosts } from '../viewport/hosts.js';
import { loadCode } from '../state/loadCode.js';

const CanvasHosts = lazy(() => loadCode(() => import('../viewport/CanvasHosts.js')));

/** Holds all viewports' contexts; loads their code with the first one. */
export function ViewportRoot(): ReactNode {
  if (useHosts().length === 0) return null;
  return (
    <Suspense>
      <CanvasHosts />
    </Suspense>
  );
}
