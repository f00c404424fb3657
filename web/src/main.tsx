import '@mantine/core/styles.css';
import '@mantine/notifications/styles.css';
import '@mantine/dropzone/styles.css';
import '@mantine/spotlight/styles.css';
import '@fontsource/barlow-semi-condensed/500.css';
import '@fontsource/barlow-semi-condensed/600.css';
import '@fontsource/source-sans-3/400.css';
import '@fontsource/source-sans-3/600.css';
import './desk.css';
import './controls/controls.css';
import './shell/shell.css';
import './projects/projects.css';
import './lines/lines.css';
import './model/model.css';
import './bill/bill.css';
import './catalogues/catalogues.css';
import './sheets/sheets.css';
import './buying/buying.css';
import './changes/changes.css';
import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { loadLettering } from './lettering.ts';
import { StationFailed } from './shell/StationFailed.tsx';
import { ProjectsPage } from './projects/ProjectsPage.tsx';
import { StartPage } from './projects/StartPage.tsx';
import { theme } from './theme.ts';

// What a place needs is loaded when one goes there: the start page has neither 3D nor lists in it.
const Shell = lazy(() => import('./shell/Shell.tsx').then((module) => ({ default: module.Shell })));
const ModelStation = lazy(() =>
  import('./model/ModelStation.tsx').then((module) => ({ default: module.ModelStation })),
);
const BillStation = lazy(() => import('./bill/BillStation.tsx').then((module) => ({ default: module.BillStation })));
const SheetsStation = lazy(() =>
  import('./sheets/SheetsStation.tsx').then((module) => ({ default: module.SheetsStation })),
);
const BuyingStation = lazy(() =>
  import('./buying/BuyingStation.tsx').then((module) => ({ default: module.BuyingStation })),
);
const ChangesStation = lazy(() =>
  import('./changes/ChangesStation.tsx').then((module) => ({ default: module.ChangesStation })),
);

const CataloguesPage = lazy(() =>
  import('./catalogues/CataloguesPage.tsx').then((module) => ({ default: module.CataloguesPage })),
);
const CataloguePage = lazy(() =>
  import('./catalogues/CataloguePage.tsx').then((module) => ({ default: module.CataloguePage })),
);

loadLettering();
const router = createBrowserRouter([
  { path: '/', Component: StartPage },
  { path: '/projects', Component: ProjectsPage },
  {
    path: '/projects/:id',
    Component: Shell,
    children: [
      { index: true, element: <Navigate to="sheets" replace /> },
      { path: 'model', Component: ModelStation, ErrorBoundary: StationFailed },
      { path: 'bill', Component: BillStation, ErrorBoundary: StationFailed },
      { path: 'sheets/:sheet?', Component: SheetsStation, ErrorBoundary: StationFailed },
      { path: 'buying', Component: BuyingStation, ErrorBoundary: StationFailed },
      { path: 'changes', Component: ChangesStation, ErrorBoundary: StationFailed },
    ],
  },
  { path: '/catalogues', Component: CataloguesPage },
  { path: '/catalogues/:id', Component: CataloguePage },
  { path: '*', element: <Navigate to="/projects" replace /> },
]);
const queries = new QueryClient({ defaultOptions: { queries: { retry: 1 } } });

createRoot(document.getElementById('root')!).render(
  <MantineProvider theme={theme} defaultColorScheme="auto">
    <Notifications position="bottom-center" />
    <QueryClientProvider client={queries}>
      <Suspense fallback={<div className="centre quiet">Opening …</div>}>
        <RouterProvider router={router} />
      </Suspense>
    </QueryClientProvider>
  </MantineProvider>,
);
