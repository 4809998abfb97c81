import { randomBytes } from 'node:crypto';
import { type Fault, faultOf } from './faults.ts';
import { log } from './log.ts';

/** What went wrong, in words; what nobody foresaw goes to the log under a mark that the words name. */
export function tell(error: unknown): Fault {
  const fault = faultOf(error);
  if (fault) return fault;
  const mark = randomBytes(3).toString('hex');
  log.error({ mark, error }, 'An answer failed');
  return {
    status: 500,
    text: `Something went wrong. Your saved work is safe. Error ${mark} is in the server log.`,
  };
}

const RETRY_S = 2;

function respond({ status, text }: Fault, headers: Record<string, string> = {}): Response {
  return new Response(text, {
    status,
    headers: {
      ...headers,
      'Content-Type': 'text/plain; charset=utf-8',
      'Cache-Control': 'no-store',
      ...(status === 503 ? { 'Retry-After': String(RETRY_S) } : {}),
    },
  });
}

/**
 * Answers a request; what is wrong with it, or stands in its way, in words.
 *
 * @param headers of such an answer
 */
export async function answered(
  run: () => Promise<Response>,
  headers?: () => Promise<Record<string, string>>,
): Promise<Response> {
  try {
    return await run();
  } catch (error) {
    if (error instanceof Response) throw error;
    return respond(tell(error), await headers?.().catch(() => ({})));
  }
}

/** The same for what a page is made from: the page shows the words. */
export async function loaded<T>(run: () => Promise<T>): Promise<T> {
  try {
    return await run();
  } catch (error) {
    if (error instanceof Response) throw error;
    throw respond(tell(error));
  }
}
