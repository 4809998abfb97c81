import type { LoaderFunctionArgs } from 'react-router';
import { answered } from '#server/answers';
import type { Db } from '#server/db';
import { readBytes, readForm, readJson } from '#server/http/bodies';
import { linkOf } from '#server/http/link';
import type { OpenLink, PageLink } from '#server/links';
import { database, databaseHeaders } from '#server/open';
import type { Visitor } from '#server/people';
import type { Body, Endpoint, Names } from './endpoint';

/** A body as the route gets it: read within its limit, and held against its check. */
type Received<B> = [B] extends [never]
  ? null
  : B extends FormData
    ? FormData
    : B extends Blob | Uint8Array
      ? Uint8Array<ArrayBuffer>
      : B;

interface Asked<P extends string, Q extends string, B> {
  params: Record<Names<P>, string>;
  query: Partial<Record<Q, string>>;
  body: Received<B>;
  request: Request;
  /** Where the token of a link is in the path: what it opens. */
  link: OpenLink<PageLink>;
  /** Who came by a link to edit, and may ask this; null for owners. */
  visitor: Visitor | null;
  /** Missing where the endpoint does not use it. */
  db: Db;
}

export interface Handler {
  endpoint: Pick<Endpoint, 'method' | 'path'>;
  answer(args: LoaderFunctionArgs): Promise<Response>;
}

async function bodyOf(request: Request, { types, maxBytes, check }: Body<unknown>): Promise<unknown> {
  if (check) return (await check())(await readJson(request, maxBytes));
  if (types.includes('multipart/form-data')) return readForm(request, maxBytes);
  return readBytes(request, maxBytes);
}

function responseOf({ answer, status }: Pick<Endpoint, 'answer' | 'status'>, value: unknown): Response {
  if (value instanceof Response) return value;
  if (answer === 'json') return Response.json(value, { status });
  return new Response(answer === 'text' ? String(value) : null, { status });
}

/** The link in the path, which has to allow what is asked. @throws Response */
const linkFor = async ({ access }: Pick<Endpoint, 'access'>, token: string | undefined) =>
  token === undefined ? (null as never) : linkOf(token, access === 'owner' ? 'edit' : access);

/** What a route does when an endpoint is asked. @param run may answer with a response of its own */
export function on<P extends string, Q extends string, B, A>(
  endpoint: Endpoint<P, Q, B, A>,
  run: (asked: Asked<P, Q, B>) => Promise<A | Response | undefined>,
): Handler {
  const { query, body, namesDatabase, usesDatabase } = endpoint;
  return {
    endpoint,
    answer: ({ request, params, context }) =>
      answered(
        async () => {
          const { searchParams } = new URL(request.url);
          // who may not ask is not heard
          const link = await linkFor(endpoint, params.token);
          const asked = {
            link,
            params: params as Record<Names<P>, string>,
            query: Object.fromEntries(
              query.flatMap((name) => {
                const value = searchParams.get(name);
                return value === null ? [] : [[name, value]];
              }),
            ) as Partial<Record<Q, string>>,
            body: (body ? await bodyOf(request, body as Body<unknown>) : null) as Received<B>,
            request,
            visitor: context.visitor,
            db: usesDatabase ? await database() : (null as never),
          };
          return responseOf(endpoint, await run(asked));
        },
        namesDatabase ? databaseHeaders : undefined,
      ),
  };
}

/** A route's loader, or its action: what each method does. */
export const answers = (...handlers: Handler[]) =>
  Object.assign(
    async (args: LoaderFunctionArgs): Promise<Response> => {
      const method = args.request.method === 'HEAD' ? 'GET' : args.request.method;
      const handler = handlers.find((h) => h.endpoint.method === method);
      if (handler) return handler.answer(args);
      return new Response(`Nothing here answers to ${method}.`, {
        status: 405,
        headers: { Allow: handlers.map((h) => h.endpoint.method).join(', ') },
      });
    },
    { endpoints: handlers.map((h) => h.endpoint) },
  );
