import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { ServerBuild } from 'react-router';
import { makeApp } from './http/app.ts';
import { endLibraryEvents } from './http/library-events.ts';
import { endLinkEvents } from './http/link-events.ts';
import { readSettings } from './http/settings.ts';
import { keepBackups, keepBin } from './jobs.ts';
import { log } from './log.ts';
import { closeDown } from './open.ts';

/** Whoever is so slow to send is given up, so that nobody can hold connections open for nothing. */
const HEADERS_MS = 15_000;
const REQUEST_MS = 120_000;
const IDLE_MS = 10_000;
const MAX_CONNECTIONS = 1000;
/** So long what has been asked may take when the server is to end. */
const ENDING_MS = 20_000;

/** What is wrong with a request that is none, by Node's code. */
const NOT_HTTP: Record<string, [status: string, why: string]> = {
  HPE_HEADER_OVERFLOW: ['431 Request Header Fields Too Large', 'The headers of the request are too large.'],
  ERR_HTTP_REQUEST_TIMEOUT: ['408 Request Timeout', 'The request did not come to its end in time.'],
};

/**
 * Serves the application.
 *
 * @param client the folder of what the build made for the browser
 * @throws SettingsError when the environment does not allow it
 */
export async function serve(client: string): Promise<{ server: Server; url: string; stop(): Promise<void> }> {
  const settings = readSettings();
  const build = (await import('virtual:react-router/server-build')) as ServerBuild;
  let ending = false;
  const app = makeApp(settings, build, client, () => ending);
  const server = createServer(
    {
      headersTimeout: HEADERS_MS,
      requestTimeout: REQUEST_MS,
      keepAliveTimeout: IDLE_MS,
      connectionsCheckingInterval: 5000,
    },
    app,
  );
  server.on('clientError', (error: NodeJS.ErrnoException, socket) => {
    if (error.code === 'ECONNRESET' || !socket.writable) return;
    const [status, why] = NOT_HTTP[error.code ?? ''] ?? [
      '400 Bad Request',
      'What was sent is not a request.',
    ];
    socket.end(
      `HTTP/1.1 ${status}\r\nContent-Type: text/plain; charset=utf-8\r\nConnection: close\r\n\r\n${why}`,
    );
  });
  server.maxConnections = MAX_CONNECTIONS;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(settings.port, settings.host.replace(/^\[|\]$/g, ''), resolve);
  });
  const { port } = server.address() as AddressInfo;
  const name =
    settings.host.includes(':') && !settings.host.startsWith('[') ? `[${settings.host}]` : settings.host;
  const url = `http://${name}:${port}`;
  log.info({ port }, 'Started');
  const endBackups = keepBackups();
  const endBin = keepBin();
  return {
    server,
    url,
    /** Answers what has been asked, writes what is held, and ends. */
    async stop() {
      ending = true;
      log.info('Ending');
      endBackups();
      endBin();
      endLinkEvents();
      endLibraryEvents();
      const closed = new Promise((done) => server.close(done));
      server.closeIdleConnections();
      const idle = setInterval(() => server.closeIdleConnections(), 100);
      await Promise.race([closed, new Promise((done) => setTimeout(done, ENDING_MS))]);
      clearInterval(idle);
      server.closeAllConnections();
      await closeDown();
      log.info('Ended');
    },
  };
}
