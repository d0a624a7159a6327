import { type ComponentType, lazy, type ReactNode, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Tooltip } from 'radix-ui';
import { SWRConfig } from 'swr';
import { ContextMenuHost } from './app/ContextMenuHost.js';
import { ViewportRoot } from './app/ViewportRoot.js';
import { fetchStep, STEPS } from './app/steps.js';
import { SessionGate } from './features/access/SessionGate.js';
import { ProjectsPage } from './features/projects/ProjectsPage.js';
import { startPreferences } from './app/preferences.js';
import { loadCode } from './state/loadCode.js';
import { lazily } from './ui/lazily.js';
import { styleNonce } from './ui/styleNonce.js';
import './styles.css';

const ToastHost = lazily(() => import('./app/ToastHost.js').then((m) => m.ToastHost));

/** Loaded when its address is opened: the projects page needs none of it. */
const page = (pick: () => Promise<{ default: ComponentType }>): ReactNode => {
  const Page = lazy(() => loadCode(pick));
  return (
    <Suspense>
      <Page />
    </Suspense>
  );
};

const shell = (): Promise<{ default: ComponentType }> => import('./app/Shell.js');

// The frame of a set's pages and the step in it are fetched together, not the one when the other is there.
const step = /^\/p\/\d+\/s\/\d+\/([\w-]+)/.exec(location.pathname)?.[1];
if (step) {
  // One that cannot be fetched is fetched again when it is shown.
  shell().catch(() => undefined);
  void fetchStep(step);
}

const router = createBrowserRouter([
  { path: '/', element: <ProjectsPage /> },
  { path: '/access', element: page(() => import('./features/access/AccessPage.js')) },
  { path: '/queue', element: page(() => import('./features/queue/QueuePage.js')) },
  { path: '/p/:project', element: page(() => import('./app/ProjectHome.js')) },
  {
    path: '/p/:project/s/:set',
    element: page(shell),
    children: STEPS.map(({ id, element: Step }) => ({ path: id, element: <Step /> })),
  },
  {
    path: '/p/:project/s/:set/live',
    element: page(() => import('./preview/PreviewWindow.js')),
  },
  { path: '*', element: <Navigate to="/" replace /> },
]);

// Libraries that make styles of their own mark them with what the server allows for this page.
Object.assign(globalThis, { __webpack_nonce__: styleNonce });
startPreferences();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <SWRConfig value={{ revalidateOnFocus: false }}>
      <Tooltip.Provider skipDelayDuration={0}>
        <SessionGate>
          <RouterProvider router={router} />
          <ViewportRoot />
          <ContextMenuHost />
        </SessionGate>
        <ToastHost />
      </Tooltip.Provider>
    </SWRConfig>
  </StrictMode>,
);
