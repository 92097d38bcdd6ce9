import { createBrowserRouter, Navigate } from 'react-router';
import { RoundPage } from '../round/index.ts';
import { Frame } from './frame.tsx';
import { Lost } from './lost.tsx';

/** Round is in the first bundle; the other rooms come when they are opened. */
export const router = createBrowserRouter([
  // Before the phone is let in, and without the rooms about it.
  {
    path: 'trust',
    errorElement: <Lost />,
    lazy: async () => ({ Component: (await import('./trust-page.tsx')).TrustPage }),
  },
  {
    element: <Frame />,
    errorElement: <Lost />,
    hydrateFallbackElement: <div className="empty">Opening …</div>,
    children: [
      { index: true, element: <Navigate to="/round" replace /> },
      { path: 'round', element: <RoundPage /> },
      {
        path: 'round/print',
        lazy: async () => ({ Component: (await import('../round/print-page.tsx')).PrintRoundPage }),
      },
      {
        path: 'round/type-in',
        lazy: async () => ({ Component: (await import('../round/type-in-page.tsx')).TypeInPage }),
      },
      { path: 'bench', lazy: async () => ({ Component: (await import('../bench/index.ts')).BenchPage }) },
      { path: 'bench/new', lazy: async () => ({ Component: (await import('../bench/index.ts')).StartBatchPage }) },
      { path: 'bench/recipes', lazy: async () => ({ Component: (await import('../bench/index.ts')).RecipesPage }) },
      {
        path: 'bench/recipes/:recipeId',
        lazy: async () => ({ Component: (await import('../bench/index.ts')).RecipePage }),
      },
      {
        path: 'bench/practice',
        lazy: async () => ({ Component: (await import('../bench/practice/practice-page.tsx')).PracticePage }),
      },
      { path: 'bench/:batchId/card', lazy: async () => ({ Component: (await import('../bench/index.ts')).CardPage }) },
      { path: 'bench/:batchId', lazy: async () => ({ Component: (await import('../bench/index.ts')).BatchPage }) },
      { path: 'pots', lazy: async () => ({ Component: (await import('../pots/index.ts')).PotsPage }) },
      { path: 'pots/list', lazy: async () => ({ Component: (await import('../pots/index.ts')).ListPage }) },
      { path: 'pots/measure', lazy: async () => ({ Component: (await import('../pots/index.ts')).MeasurePage }) },
      { path: 'pots/labels', lazy: async () => ({ Component: (await import('../pots/index.ts')).LabelsPage }) },
      { path: 'pots/places', lazy: async () => ({ Component: (await import('../pots/index.ts')).PlacesPage }) },
      { path: 'pots/advice', lazy: async () => ({ Component: (await import('../pots/index.ts')).AdvicePage }) },
      { path: 'pots/:potId/report', lazy: async () => ({ Component: (await import('../pots/index.ts')).ReportPage }) },
      { path: 'pots/:potId/check', lazy: async () => ({ Component: (await import('../pots/index.ts')).CheckPage }) },
      { path: 'pots/rules', lazy: async () => ({ Component: (await import('../pots/index.ts')).RulesPage }) },
      { path: 'pots/regimens/new', lazy: async () => ({ Component: (await import('../pots/index.ts')).RegimenPage }) },
      {
        path: 'pots/regimens/:regimenId',
        lazy: async () => ({ Component: (await import('../pots/index.ts')).RegimenPage }),
      },
      { path: 'pots/:potId', lazy: async () => ({ Component: (await import('../pots/index.ts')).PotPage }) },
      { path: 'clay', lazy: async () => ({ Component: (await import('../clay/index.ts')).ClayPage }) },
      { path: 'clay/pot-up', lazy: async () => ({ Component: (await import('../clay/index.ts')).PotUpPage }) },
      { path: 'drift', lazy: async () => ({ Component: (await import('../drift/index.ts')).DriftPage }) },
      { path: 'drift/all', lazy: async () => ({ Component: (await import('../drift/index.ts')).AllPotsPage }) },
      { path: 'season', lazy: async () => ({ Component: (await import('../season/index.ts')).SeasonPage }) },
      { path: 'season/year', lazy: async () => ({ Component: (await import('../season/index.ts')).YearPage }) },
      { path: 'season/back', lazy: async () => ({ Component: (await import('../season/index.ts')).LookBackPage }) },
      { path: 'season/print', lazy: async () => ({ Component: (await import('../season/index.ts')).PrintWeeksPage }) },
      {
        path: 'season/sitter/:awayId',
        lazy: async () => ({ Component: (await import('../season/index.ts')).SitterPage }),
      },
      { path: 'shelf/mix', lazy: async () => ({ Component: (await import('../shelf/index.ts')).MixPage }) },
      { path: 'shelf/compare', lazy: async () => ({ Component: (await import('../shelf/index.ts')).ComparePage }) },
      { path: 'shelf', lazy: async () => ({ Component: (await import('../shelf/index.ts')).ShelfPage }) },
      { path: 'words', lazy: async () => ({ Component: (await import('./words-page.tsx')).WordsPage }) },
      { path: 'start', lazy: async () => ({ Component: (await import('../start/index.ts')).StartPage }) },
      { path: 'enter', element: <Navigate to="/round" replace /> },
      { path: 'book', lazy: async () => ({ Component: (await import('../book/index.ts')).BookPage }) },
      { path: 'book/trials', lazy: async () => ({ Component: (await import('../book/index.ts')).TrialsPage }) },
      { path: 'book/trials/new', lazy: async () => ({ Component: (await import('../book/index.ts')).StartTrialPage }) },
      {
        path: 'book/instruments',
        lazy: async () => ({ Component: (await import('../book/index.ts')).InstrumentsPage }),
      },
      { path: 'book/turns', lazy: async () => ({ Component: (await import('../book/index.ts')).TurnsPage }) },
      { path: 'book/schools', lazy: async () => ({ Component: (await import('../book/index.ts')).SchoolsPage }) },
      { path: 'book/forecasts', lazy: async () => ({ Component: (await import('../book/index.ts')).ForecastsPage }) },
      { path: 'book/settings', lazy: async () => ({ Component: (await import('../book/index.ts')).SettingsPage }) },
      { path: 'book/out', lazy: async () => ({ Component: (await import('../book/index.ts')).OutPage }) },
      { path: 'book/old-records', lazy: async () => ({ Component: (await import('../book/index.ts')).SheetPage }) },
      { path: 'book/backups', lazy: async () => ({ Component: (await import('../book/index.ts')).BackupsPage }) },
      { path: 'book/phone', lazy: async () => ({ Component: (await import('../book/index.ts')).PhonePage }) },
      {
        path: 'drawings',
        lazy: async () => ({ Component: (await import('../drawing/drawings-page.tsx')).DrawingsPage }),
      },
      { path: '*', element: <Lost /> },
    ],
  },
]);
