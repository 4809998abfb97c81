import pino from 'pino';

/** Lines of the server's log: JSON with a level, a time and a message. `PAPILLON_LOG` sets the least level that is written. */
export const log = pino({
  level: process.env.PAPILLON_LOG || 'info',
  base: null,
  timestamp: pino.stdTimeFunctions.isoTime,
  formatters: { level: (label) => ({ level: label }) },
  serializers: { error: describe },
});

interface Described {
  name: string;
  codes: string[];
  message: string;
  at: string[];
}

const MAX_MESSAGE = 200;
const MAX_FRAMES = 12;

/**
 * What the log says of an error: nothing that users have sent. The messages of a query that failed, and of JSON that is none, have
 * that in them.
 */
export function describe(error: unknown): Described {
  const names: string[] = [];
  const codes: string[] = [];
  let message = '';
  let at: string[] = [];
  let e = error as { name?: unknown; code?: unknown; message?: unknown; stack?: unknown; cause?: unknown };
  for (let deep = 0; e && typeof e === 'object' && deep < 8; deep++) {
    if (typeof e.name === 'string') names.push(e.name);
    if (typeof e.code === 'string') codes.push(e.code);
    const quotes = e.name === 'SyntaxError' || /^Failed query/.test(String(e.message));
    if (!quotes && typeof e.message === 'string') message = e.message.split('\n')[0]!.slice(0, MAX_MESSAGE);
    if (typeof e.stack === 'string') at = e.stack.split('\n').filter((line) => /^\s+at /.test(line));
    e = e.cause as typeof e;
  }
  return {
    name: names.join(' < '),
    codes,
    message,
    at: at.slice(0, MAX_FRAMES).map((line) => line.trim()),
  };
}

/** An address without what only those know who have it: ids become `:id`, and what is asked for in it is left out. */
export const pathOf = (url: string): string =>
  url
    .split('?')[0]!
    .split('/')
    .map((part) => (/^(?=.*[\dA-Z])[\w-]{8,}$/.test(part.replace(/\.\w+$/, '')) ? ':id' : part))
    .join('/')
    .slice(0, MAX_MESSAGE);
