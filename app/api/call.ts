import type { Endpoint, Names } from './endpoint';

/** What an endpoint is asked. */
export type Ask<P extends string, Q extends string, B> = ([Names<P>] extends [never]
  ? { params?: undefined }
  : { params: Record<Names<P>, string> }) &
  ([B] extends [never] ? { body?: undefined } : { body: B }) & {
    query?: Partial<Record<Q, string | number | undefined>>;
    /** It may outlive the page. */
    keepalive?: boolean;
    signal?: AbortSignal;
    cache?: RequestCache;
  };

/** What came of a call: a value, or why there is none, in whole sentences that can be shown. */
export type Outcome<A> =
  | { ok: true; value: A; headers: Headers }
  | { ok: false; status: number | null; why: string };

const TRIES = 3;
const PAUSE_MS = 700;
const MAX_SHOWN = 500;

/** Why something was not done, in whole sentences that can be shown. */
export async function whyNot(response: Response | null): Promise<string> {
  if (!response) return 'The server does not answer.';
  // whatever stands between here and there answers in pages of its own
  const plain = /^text\/plain/.test(response.headers.get('Content-Type') ?? 'text/plain');
  const text = plain ? (await response.text().catch(() => '')).trim() : '';
  return text ? text.slice(0, MAX_SHOWN) : `The server returned error ${response.status}.`;
}

/** The address of an endpoint. */
export function addressOf<P extends string, Q extends string>(
  { path }: Pick<Endpoint<P, Q>, 'path'>,
  params: Partial<Record<string, string>> = {},
  query: Partial<Record<string, string | number | undefined>> = {},
): string {
  const filled = path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
  const asked = new URLSearchParams(
    Object.entries(query).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]])),
  )
    .toString()
    // lists are shorter so, and as good
    .replaceAll('%2C', ',');
  return asked ? `${filled}?${asked}` : filled;
}

function bodyOf(body: unknown): BodyInit {
  if (body instanceof Blob || body instanceof Uint8Array || body instanceof FormData) return body as BodyInit;
  return JSON.stringify(body);
}

/** Sends a request and gives the response as it comes. @throws Error when none comes */
export function send<P extends string, Q extends string, B, A>(
  endpoint: Endpoint<P, Q, B, A>,
  { params, query, body, ...how }: Ask<P, Q, B>,
  get: typeof fetch = (...args) => fetch(...args),
): Promise<Response> {
  const type = endpoint.body?.types[0];
  const init = { ...how } as RequestInit;
  if (endpoint.method !== 'GET') init.method = endpoint.method;
  if (body !== undefined) init.body = bodyOf(body);
  // the browser names the parts of a form by itself
  if (type && !(body instanceof FormData)) init.headers = { 'Content-Type': type };
  return get(addressOf(endpoint, params, query), init);
}

/** Asks something of the server, again where that does no harm and no answer comes. */
export async function call<P extends string, Q extends string, B, A>(
  endpoint: Endpoint<P, Q, B, A>,
  ask: Ask<P, Q, B>,
  get?: typeof fetch,
): Promise<Outcome<A>> {
  let response: Response | null = null;
  for (let left = endpoint.again ? TRIES : 1; left > 0; left--) {
    response = await send(endpoint, ask, get).catch(() => null);
    if (response && response.status < 500) break;
    if (left > 1) await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
  }
  if (!response?.ok) return { ok: false, status: response?.status ?? null, why: await whyNot(response) };
  try {
    return { ok: true, value: (await readAnswer(endpoint, response)) as A, headers: response.headers };
  } catch {
    // it broke off on its way
    return { ok: false, status: null, why: 'The answer of the server arrived incomplete.' };
  }
}

function readAnswer({ answer }: Pick<Endpoint, 'answer'>, response: Response): Promise<unknown> {
  if (answer === 'json') return response.json();
  if (answer === 'text') return response.text();
  if (answer === 'raw') return response.blob();
  return Promise.resolve(null);
}

/** The value of a call. @throws Error that says why there is none */
export async function valueFrom<A>(outcome: Outcome<A> | Promise<Outcome<A>>): Promise<A> {
  const came = await outcome;
  if (!came.ok) throw new Error(came.why);
  return came.value;
}
