import 'reflect-metadata';
import '@fontsource-variable/bricolage-grotesque/wght.css';
import '@fontsource/atkinson-hyperlegible-next/400.css';
import '@fontsource/atkinson-hyperlegible-next/600.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router/dom';
import { ServerError } from './app/server';
import { router } from './frame/router';
import { followGround } from './look/ground';
import './frame/planning.scss';

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      // What the server has refused, it will refuse again; only silence is worth another try.
      retry: (failures, error) => !(error instanceof ServerError && error.status > 0) && failures < 3,
    },
  },
});

followGround();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
