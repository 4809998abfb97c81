import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { ServerBuild } from 'react-router';
import { makeApp } from './http/app.ts';
import { readSettings } from './http/settings.ts';

/** Whoever is so slow to send is given up, so that nobody can hold connections open for nothing. */
const HEADERS_MS = 15_000;
const REQUEST_MS = 120_000;
const IDLE_MS = 10_000;
const MOST_CONNECTIONS = 1000;

/**
 * Serves the application.
 *
 * @param client the folder of what the build made for the browser
 * @throws SettingsError when the environment does not allow it
 */
export async function serve(client: string): Promise<{ server: Server; url: string }> {
  const settings = readSettings();
  const build: ServerBuild = await import('virtual:react-router/server-build');
  const app = makeApp(settings, build, client);
  const server = createServer(
    {
      headersTimeout: HEADERS_MS,
      requestTimeout: REQUEST_MS,
      keepAliveTimeout: IDLE_MS,
      connectionsCheckingInterval: 5000,
    },
    app,
  );
  server.maxConnections = MOST_CONNECTIONS;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(settings.port, settings.host.replace(/^\[|\]$/g, ''), resolve);
  });
  const { port } = server.address() as AddressInfo;
  const name =
    settings.host.includes(':') && !settings.host.startsWith('[') ? `[${settings.host}]` : settings.host;
  return { server, url: `http://${name}:${port}` };
}
