import { createBrowserRouter, Navigate } from 'react-router';
import { RoundPage } from '../round/index.ts';
import { Frame } from './frame.tsx';
import { Lost } from './lost.tsx';

/** Round is in the first bundle; the other rooms come when they are opened. */
export const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <Lost />,
    hydrateFallbackElement: <div className="empty">Opening …</div>,
    children: [
      { index: true, element: <Navigate to="/round" replace /> },
      { path: 'round', element: <RoundPage /> },
      { path: 'bench', lazy: async () => ({ Component: (await import('../bench/index.ts')).BenchPage }) },
      { path: 'bench/new', lazy: async () => ({ Component: (await import('../bench/index.ts')).StartBatchPage }) },
      { path: 'bench/:batchId', lazy: async () => ({ Component: (await import('../bench/index.ts')).BatchPage }) },
      { path: 'pots', lazy: async () => ({ Component: (await import('../pots/index.ts')).PotsPage }) },
      { path: 'pots/:potId', lazy: async () => ({ Component: (await import('../pots/index.ts')).PotPage }) },
      { path: 'book', lazy: async () => ({ Component: (await import('../book/index.ts')).BookPage }) },
      { path: 'drawings', lazy: async () => ({ Component: (await import('../drawing/drawings-page.tsx')).DrawingsPage }) },
      { path: '*', element: <Lost /> },
    ],
  },
]);
