import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Tooltip } from 'radix-ui';
import { Toaster } from 'sonner';
import { SWRConfig } from 'swr';
import { ProjectHome, Shell } from './app/Shell.js';
import { STEPS } from './app/steps.js';
import { AccessPage } from './features/access/AccessPage.js';
import { SessionGate } from './features/access/SessionGate.js';
import { ProjectsPage } from './features/projects/ProjectsPage.js';
import { startPreferences } from './app/preferences.js';
import { styleNonce } from './ui/styleNonce.js';
import 'sonner/dist/styles.css';
import './styles.css';

const PreviewWindow = lazy(() => import('./preview/PreviewWindow.js'));

const router = createBrowserRouter([
  { path: '/', element: <ProjectsPage /> },
  { path: '/access', element: <AccessPage /> },
  { path: '/p/:project', element: <ProjectHome /> },
  { path: '/p/:project/s/:set', element: <Shell />, children: STEPS.map(({ id, element: Step }) => ({ path: id, element: <Step /> })) },
  {
    path: '/p/:project/s/:set/live',
    element: (
      <Suspense>
        <PreviewWindow />
      </Suspense>
    ),
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
        </SessionGate>
        <Toaster position="bottom-left" toastOptions={{ style: { borderRadius: 2, fontFamily: 'Barlow', fontSize: 14 } }} />
      </Tooltip.Provider>
    </SWRConfig>
  </StrictMode>,
);
