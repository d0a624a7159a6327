import { lazy, StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { Tooltip } from 'radix-ui';
import { Toaster } from 'sonner';
import { SWRConfig } from 'swr';
import { ProjectHome, Shell } from './shell/Shell.js';
import { STEPS } from './shell/steps.js';
import { ProjectsPage } from './steps/projects/ProjectsPage.js';
import { startPreferences } from './shell/preferences.js';
import './styles.css';

const LiveWindow = lazy(() => import('./preview/LiveWindow.js'));

const router = createBrowserRouter([
  { path: '/', element: <ProjectsPage /> },
  { path: '/p/:project', element: <ProjectHome /> },
  { path: '/p/:project/s/:set', element: <Shell />, children: STEPS.map(({ id, element: Step }) => ({ path: id, element: <Step /> })) },
  {
    path: '/p/:project/s/:set/live',
    element: (
      <Suspense>
        <LiveWindow />
      </Suspense>
    ),
  },
  { path: '*', element: <Navigate to="/" replace /> },
]);

startPreferences();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <SWRConfig value={{ revalidateOnFocus: false }}>
      <Tooltip.Provider>
        <RouterProvider router={router} />
        <Toaster position="bottom-left" toastOptions={{ style: { borderRadius: 2, fontFamily: 'Barlow', fontSize: 14 } }} />
      </Tooltip.Provider>
    </SWRConfig>
  </StrictMode>,
);
