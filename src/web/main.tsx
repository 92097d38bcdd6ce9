import '@fontsource-variable/atkinson-hyperlegible-next/index.css';
import '@fontsource-variable/bricolage-grotesque/wght.css';
import './shell/theme.scss';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { roundQuery } from './round/index.ts';
import { ActsProvider } from './shell/acts.tsx';
import { keepOnPhone } from './shell/last-known.ts';
import { router } from './shell/routes.tsx';
import { shellQuery } from './shell/use-shell.ts';

const client = new QueryClient({
  defaultOptions: {
    queries: { retry: false, staleTime: 5_000, refetchOnWindowFocus: true, networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
});

// The first screen's figures are asked for before anything is drawn, and together.
void client.prefetchQuery(shellQuery);
if (/^\/(round)?$/.test(location.pathname)) void client.prefetchQuery(roundQuery);

keepOnPhone();

const root = document.getElementById('root');
if (!root) throw new Error('The page has no root to draw in.');
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <ActsProvider>
        <RouterProvider router={router} />
      </ActsProvider>
    </QueryClientProvider>
  </StrictMode>,
);
