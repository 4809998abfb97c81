import { describe, expect, it, vi } from 'vitest';
import { ShapeError } from '../core/shape.ts';
import { LaterVersionError } from '../core/stored.ts';
import { tell } from './answers.ts';
import { RefusedError } from './changes.ts';
import { faultOf } from './faults.ts';
import { BodyError } from './http/bodies.ts';
import { log } from './log.ts';

const coded = (code: string, cause?: unknown) => Object.assign(new Error(code, { cause }), { code });

describe('what goes wrong is reported', () => {
  // result codes: sqlite.org/rescode.html
  it.each([
    ['SQLITE_FULL', 503, /disk .* is full/],
    ['SQLITE_READONLY_DBMOVED', 503, /may not write/],
    ['SQLITE_BUSY_SNAPSHOT', 503, /Another program/],
    ['SQLITE_CANTOPEN_ISDIR', 503, /cannot be opened/],
    ['SQLITE_CORRUPT_INDEX', 503, /damaged.*backup/],
    ['SQLITE_NOTADB', 503, /damaged/],
    ['SQLITE_IOERR_WRITE', 503, /connected and sound/],
    ['SQLITE_TOOBIG', 413, /in parts/],
    ['ENOSPC', 503, /full/],
    ['EACCES', 503, /may not write/],
    ['ECONNREFUSED', 503, /does not answer/],
    ['HRANA_WEBSOCKET_ERROR', 503, /does not answer/],
  ])('%s', (code, status, text) => {
    // as it comes, and as the query builder wraps it
    for (const error of [coded(code), new Error('Failed query', { cause: coded(code) })])
      expect(faultOf(error)).toEqual({ status, text: expect.stringMatching(text) });
  });

  it('with the reason that whoever threw it gives', () => {
    expect(faultOf(new ShapeError('/name must be string.'))).toEqual({
      status: 400,
      text: '/name must be string.',
    });
    expect(faultOf(new BodyError(413, 'Too much.'))).toEqual({ status: 413, text: 'Too much.' });
    expect(faultOf(new LaterVersionError('Update Papillon.'))?.status).toBe(503);
    expect(faultOf(new RefusedError('Gone.', 'deleted'))?.status).toBe(410);
    expect(faultOf(new RefusedError('No such.', 'never'))?.status).toBe(404);
  });

  it('a mistake of our own goes to the log under a mark, and nothing of it to the page', () => {
    const logged = vi.spyOn(log, 'error');
    const error = new TypeError('secret is not a function');
    const { status, text } = tell(error);
    expect(status).toBe(500);
    expect(text).not.toContain('secret');
    const [, mark] = /Error ([0-9a-f]{6}) is in the server log/.exec(text) ?? [];
    expect(logged.mock.calls[0]).toEqual([{ mark, error }, expect.any(String)]);
    logged.mockRestore();
  });
});
