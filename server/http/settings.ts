import { isIP } from 'node:net';
import { hostname, networkInterfaces } from 'node:os';

/** How the server is to be reached, from the environment. */
export interface Settings {
  host: string;
  port: number;
  /** Names under which it may be asked for, in lower case, without a port. */
  hosts: ReadonlySet<string>;
  /** `host` or `host:port` of the pages that may write besides its own, for a proxy that tells another name on. */
  pages: ReadonlySet<string>;
  password: string | null;
  /** Addresses of proxies that may say whom a request is from, and that it came encrypted; none when nobody is trusted. */
  proxies: string[];
}

/** What stands in the way of starting; the message says what to do. */
export class SettingsError extends Error {
  override name = 'SettingsError';
}

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/** An address as it stands in a URL. */
const inUrl = (address: string) =>
  address.includes(':') && !address.startsWith('[') ? `[${address}]` : address;

export const isLoopback = (host: string): boolean =>
  /^(localhost|127(\.\d{1,3}){3}|\[?::1\]?)$/i.test(host.trim());

const everywhere = (host: string) => ['0.0.0.0', '::', '[::]', ''].includes(host);

/** The name in a `Host` header or an origin, without the port. */
export const nameOf = (host: string): string =>
  host.trim().toLowerCase().replace(/:\d*$/, '').replace(/\.$/, '');

function isAddress(text: string): boolean {
  const [address, bits, ...more] = text.split('/');
  const version = isIP(address!);
  const most = version === 4 ? 32 : 128;
  return (
    version !== 0 && more.length === 0 && (bits === undefined || (/^\d+$/.test(bits) && Number(bits) <= most))
  );
}

/** @throws SettingsError */
export function readSettings(env: NodeJS.ProcessEnv = process.env): Settings {
  const host = (env.HOST || '127.0.0.1').trim();
  const port = Number(env.PORT || 3000);
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new SettingsError(`PORT is “${env.PORT}”; it must be a whole number from 0 to 65535.`);
  const password = env.PAPILLON_PASSWORD || null;
  if (!isLoopback(host) && !password)
    throw new SettingsError(
      `Papillon does not start: HOST=${host} lets others on the network reach it, and no password is set. ` +
        'Set PAPILLON_PASSWORD to what they are to sign in with, or leave HOST out to work on this machine alone.',
    );
  const pages = new Set(
    (env.PAPILLON_HOSTS ?? '')
      .split(/[\s,]+/)
      .filter(Boolean)
      .map((name) => name.toLowerCase()),
  );
  const own = everywhere(host)
    ? [
        hostname(),
        `${hostname()}.local`,
        ...Object.values(networkInterfaces()).flatMap((list) => (list ?? []).map((i) => i.address)),
      ]
    : [host];
  const hosts = new Set(
    [...LOOPBACK, ...own.map(inUrl), ...[...pages].map(nameOf)].map((h) => h.toLowerCase()),
  );
  const proxies = (env.PAPILLON_PROXY ?? '').split(/[\s,]+/).filter(Boolean);
  for (const proxy of proxies)
    if (!isAddress(proxy))
      throw new SettingsError(
        `PAPILLON_PROXY is “${env.PAPILLON_PROXY}”; it must name addresses or networks, such as 127.0.0.1 or 10.0.0.0/8, with commas between.`,
      );
  return { host, port, hosts, pages, password, proxies };
}
