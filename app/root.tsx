import { Failure } from '~/features/shared/frame/Failure';
import '@fontsource-variable/hanken-grotesk';
import '@fontsource/spline-sans-mono/400.css';
import '@fontsource/spline-sans-mono/500.css';
import './theme/base.css';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import Button from '@mui/material/Button';
import CssBaseline from '@mui/material/CssBaseline';
import GlobalStyles from '@mui/material/GlobalStyles';
import { ThemeProvider } from '@mui/material/styles';
import { lazy, type ReactNode, Suspense, useContext, useEffect, useState } from 'react';
import {
  isRouteErrorResponse,
  Link,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useMatches,
  useRouteLoaderData,
} from 'react-router';
import { samplePictures } from '#server/samples';
import { NearestProvider } from '~/features/shared/match/nearest';
import { OpenFiles } from '~/features/shared/open/OpenFiles';
import { type RootData, useVisitor } from '~/state/root-data';
import type { Route } from './+types/root';
import { useStore } from './state/store';
import { Stores, StoresContext, useStores } from './state/stores';
import { readSurround } from './theme/cookie';
import { SurroundContext } from './theme/surround-context';
import { properties, themeProps } from './theme/theme';
import { type Surround, surrounds } from './theme/tokens';
import { NonceContext } from './ui/nonce';
import { count } from './ui/swatch';
import { Toasts, useToast, useTold } from './ui/toast';

const UnsavedDialog = lazy(() =>
  import('./features/unsaved/UnsavedDialog').then((m) => ({ default: m.UnsavedDialog })),
);

export const meta: Route.MetaFunction = () => [
  { title: 'Papillon' },
  { name: 'description', content: 'Swatch libraries: gathered, arranged, handed over.' },
];

export async function loader({ request, context: { visitor } }: Route.LoaderArgs) {
  return {
    surround: readSurround(request),
    samples: await samplePictures(),
    /** Whether one is asked for. */
    password: Boolean(process.env.PAPILLON_PASSWORD),
    visitor: visitor && { id: visitor.id, name: visitor.name, library: visitor.link.library.id },
  } satisfies RootData & Record<string, unknown>;
}

// the surround is kept by the page itself from the first load on
export const shouldRevalidate = () => false;

export function Layout({ children }: { children: ReactNode }) {
  const data = useRouteLoaderData<typeof loader>('root');
  const [surround, setSurround] = useState<Surround>(data?.surround ?? 'light');
  const nonce = useContext(NonceContext);
  // the page of a link brings its own, and has no need of the application
  const hasOwnScript = useMatches().some((m) => (m.handle as { ownScript?: boolean } | undefined)?.ownScript);
  const [styles] = useState(() => createCache({ key: 'css', ...(nonce ? { nonce } : {}) }));
  return (
    <html lang="en-GB" data-surround={surround}>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <link rel="icon" href="/favicon.svg" type="image/svg+xml" />
        <link rel="apple-touch-icon" href="/icons/192.png" />
        <link rel="manifest" href="/manifest.webmanifest" crossOrigin="use-credentials" />
        <meta name="theme-color" content={surrounds[surround].bar} />
        <Meta />
        <Links />
      </head>
      <body>
        <CacheProvider value={styles}>
          <SurroundContext value={{ surround, setSurround }}>
            <ThemeProvider {...themeProps}>
              <GlobalStyles styles={properties} />
              <CssBaseline />
              {children}
            </ThemeProvider>
          </SurroundContext>
        </CacheProvider>
        {!hasOwnScript && (
          <>
            <ScrollRestoration nonce={nonce} />
            <Scripts nonce={nonce} />
          </>
        )}
      </body>
    </html>
  );
}

export default function App() {
  const visitor = useVisitor();
  const [stores] = useState(() => new Stores(visitor ? { by: visitor.id } : {}, visitor?.name ?? null));
  useEffect(() => {
    void stores.restore();
    const leave = () => stores.leave();
    window.addEventListener('pagehide', leave);
    return () => window.removeEventListener('pagehide', leave);
  }, [stores]);
  useEffect(() => {
    // without it everything works but for the page that says the server is away, and for what is shared
    if (import.meta.env.PROD) void navigator.serviceWorker?.register('/sw.js').catch(() => undefined);
  }, []);
  return (
    <StoresContext value={stores}>
      <Toasts>
        <Outgoing />
        <OpenFiles>
          <NearestProvider>
            <Outlet />
          </NearestProvider>
        </OpenFiles>
      </Toasts>
    </StoresContext>
  );
}

const ONLY_HERE = 'This browser has no room to keep your changes: leave this page open until they are saved.';

/** Asks before a page goes that has something unsent, and says when it is stuck. */
function Outgoing() {
  const { outbox } = useStores();
  const { waiting, stranded, unkept, away, said } = useStore(outbox);
  const toast = useToast();
  const [choosing, setChoosing] = useState(false);
  useEffect(() => {
    window.addEventListener('online', outbox.wake);
    return () => window.removeEventListener('online', outbox.wake);
  }, [outbox]);
  useEffect(() => {
    if (waiting === 0 && !unkept) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [waiting, unkept]);
  useEffect(() => {
    if (away)
      toast({
        text: unkept
          ? `Not saved yet. ${away} ${ONLY_HERE}`
          : `Not saved yet; your changes wait here. ${away}`,
        stays: true,
        matter: {
          subscribe: outbox.subscribe,
          stands: () => outbox.snapshot().away === away && outbox.snapshot().unkept === unkept,
        },
      });
  }, [away, unkept, toast, outbox]);
  useEffect(() => {
    if (stranded.length === 0) return;
    const changes = stranded.reduce((n, s) => n + s.changes, 0);
    toast({
      text: `${count(changes, 'change')} not saved: the server now has different data. ${unkept ? ONLY_HERE : changes === 1 ? 'It is kept in this browser.' : 'They are kept in this browser.'}`,
      stays: true,
      action: { label: 'Choose what to do', run: () => setChoosing(true) },
      matter: {
        subscribe: outbox.subscribe,
        stands: () => outbox.snapshot().stranded === stranded && outbox.snapshot().unkept === unkept,
      },
    });
  }, [stranded, unkept, toast, outbox]);
  useTold(said, outbox.dismiss);
  return <Suspense>{choosing && <UnsavedDialog onClose={() => setChoosing(false)} />}</Suspense>;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  const answer = isRouteErrorResponse(error) ? error : null;
  const text = typeof answer?.data === 'string' ? answer.data : '';
  const [title, detail] =
    answer?.status === 404
      ? [
          'Not found',
          // the router's own words are for developers
          text && !text.startsWith('Error:') ? text : 'This page does not exist.',
        ]
      : answer?.status === 401
        ? ['You are signed out', text]
        : answer?.status === 503
          ? ['Busy', text]
          : ['Something went wrong', text || (error instanceof Error ? error.message : '')];
  return (
    <Failure title={title} detail={detail} search={answer?.status === 404}>
      <Button variant="contained" onClick={() => location.reload()}>
        Try again
      </Button>
      <Button component={Link} to="/" reloadDocument>
        Go to the libraries
      </Button>
    </Failure>
  );
}
