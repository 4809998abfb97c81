import { ProfileError } from '../core/color/profile.ts';
import { ShapeError } from '../core/shape.ts';
import { LaterVersionError } from '../core/stored.ts';
import { OtherDatabaseError, RefusedError } from './changes.ts';
import { EncodeError } from './encode.ts';
import { BodyError } from './http/bodies.ts';

/** An answer for something that went wrong: its HTTP status, and what the page shows. */
export interface Fault {
  status: number;
  text: string;
}

/** What the place where the data are can suffer; by the code of SQLite's or the system's error. */
const PLACES: [code: RegExp, status: number, text: string][] = [
  [
    /^(SQLITE_FULL|ENOSPC|EDQUOT|EFBIG)/,
    503,
    'The disk that holds Papillon’s data is full. Make room on it and try again; nothing that was saved is lost.',
  ],
  [
    /^(SQLITE_READONLY|SQLITE_PERM|EROFS|EACCES|EPERM)/,
    503,
    'Papillon may not write where its data are. Allow it to write there and try again.',
  ],
  [
    /^(SQLITE_BUSY|SQLITE_LOCKED|SQLITE_PROTOCOL)/,
    503,
    'Another program holds Papillon’s data just now. Try again in a moment.',
  ],
  [
    /^(SQLITE_CANTOPEN|ENOENT|EEXIST|EISDIR|ENOTDIR|EMFILE|ENFILE)/,
    503,
    'Papillon’s data cannot be opened where DATABASE_URL or PAPILLON_DATA says they are.',
  ],
  [
    /^(SQLITE_CORRUPT|SQLITE_NOTADB)/,
    503,
    'The file with Papillon’s data is damaged. Restore a backup of it: npm run restore.',
  ],
  [
    /^(SQLITE_IOERR|EIO)/,
    503,
    'The disk with Papillon’s data cannot be read or written. See that it is connected and sound.',
  ],
  [
    /^(SQLITE_NOMEM|SQLITE_TOOBIG|ERR_STRING_TOO_LONG|ERR_BUFFER_TOO_LARGE)/,
    413,
    'This is more than Papillon can hold at once. Send it in parts.',
  ],
  [
    /^(HRANA_|SERVER_ERROR|TRANSACTION_CLOSED|ECONN|ENOTFOUND|EAI_AGAIN|ETIMEDOUT|UND_ERR|EPIPE|STREAM_)/,
    503,
    'The server with Papillon’s data does not answer. Try again in a moment.',
  ],
];

/** What an error means to whoever asked; null when nobody foresaw it. */
export function faultOf(error: unknown): Fault | null {
  if (error instanceof EncodeError) return { status: error.status, text: error.message };
  if (error instanceof BodyError) return { status: error.status, text: error.message };
  if (error instanceof RefusedError)
    return {
      status: error.library === 'never' ? 404 : error.library === 'deleted' ? 410 : 409,
      text: error.message,
    };
  if (error instanceof OtherDatabaseError) return { status: 412, text: error.message };
  if (error instanceof ProfileError) return { status: 400, text: error.message };
  if (error instanceof ShapeError) return { status: 400, text: error.message };
  if (error instanceof LaterVersionError) return { status: 503, text: error.message };
  const codes = codesOf(error);
  for (const [code, status, text] of PLACES) if (codes.some((c) => code.test(c))) return { status, text };
  if (
    error instanceof RangeError &&
    /call stack|string length|array (buffer )?(length|allocation)/i.test(error.message)
  )
    return { status: 413, text: 'This is more than Papillon can hold at once. Send it in parts.' };
  return null;
}

function codesOf(error: unknown): string[] {
  const codes: string[] = [];
  let e = error as { code?: unknown; extendedCode?: unknown; message?: unknown; cause?: unknown } | undefined;
  for (let deep = 0; e && typeof e === 'object' && deep < 8; deep++) {
    for (const code of [e.code, e.extendedCode]) if (typeof code === 'string') codes.push(code);
    if (e instanceof TypeError && e.message === 'fetch failed') codes.push('ECONN');
    e = e.cause as typeof e;
  }
  return codes;
}
