import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { CssBaseline, GlobalStyles, ThemeProvider } from '@mui/material';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode, useMemo, useSyncExternalStore } from 'react';
import { createRoot } from 'react-dom/client';
import { createBrowserRouter, RouterProvider } from 'react-router';
import '@fontsource-variable/archivo/standard.css';
import '@fontsource-variable/source-sans-3/index.css';
import { Refused } from './api/client';
import { App } from './App';
import { currentMode, watchMode } from './theme/mode';
import { themeOf, variablesOf } from './theme/theme';

const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? '';
const cache = createCache({ key: 'yb', nonce });
// what the server refuses it refuses again; a broken line is tried once more
const retry = (times: number, error: Error) =>
  times < 1 && !(error instanceof Refused && error.status >= 400 && error.status < 500);
const client = new QueryClient({ defaultOptions: { queries: { retry, staleTime: 2000, refetchOnWindowFocus: false } } });
// a data router, so that leaving what is not saved can ask first
const router = createBrowserRouter([{ path: '*', element: <App /> }]);

function Themed() {
  const mode = useSyncExternalStore(watchMode, currentMode);
  const theme = useMemo(() => themeOf(mode), [mode]);
  const variables = useMemo(() => variablesOf(mode), [mode]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <GlobalStyles styles={variables} />
      <RouterProvider router={router} />
    </ThemeProvider>
  );
}

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={cache}>
        <QueryClientProvider client={client}>
          <Themed />
        </QueryClientProvider>
      </CacheProvider>
    </StrictMode>,
  );
}
