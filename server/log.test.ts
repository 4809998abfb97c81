import { expect, it } from 'vitest';
import { describe as described, pathOf } from './log.ts';

it('what users have sent is not in the log: not in a failed query, nor in JSON that is none', () => {
  const query = Object.assign(new Error('Failed query: insert into swatches\nparams: my secret colour'), {
    cause: Object.assign(new Error('SQLITE_CONSTRAINT: UNIQUE constraint failed'), {
      code: 'SQLITE_CONSTRAINT',
    }),
  });
  const said = described(query);
  expect(JSON.stringify(said)).not.toContain('secret');
  expect(said).toMatchObject({ codes: ['SQLITE_CONSTRAINT'], message: expect.stringMatching(/UNIQUE/) });
  let syntax: unknown;
  try {
    JSON.parse('my secret colour');
  } catch (error) {
    syntax = error;
  }
  expect(JSON.stringify(described(syntax))).not.toMatch(/secret|my se/);
  expect(described(new TypeError('x is not a function'))).toMatchObject({
    name: 'TypeError',
    message: 'x is not a function',
  });
  expect(described('a text').message).toBe('');
});

it('an address in the log says which kind it is, and not whose', () => {
  expect(
    [
      '/libraries/V1StGXR8_Z5j/rows?by=me',
      '/share/AbCdEfGhIjKlMnOpQrStUvWxYz012345',
      '/artworks/0f3a0f3a0f3a0f3a0f3a0f3a0f3a0f3a',
      '/libraries/x/hand-over',
      '/manifest.webmanifest?x=1',
    ].map(pathOf),
  ).toEqual([
    '/libraries/:id/rows',
    '/share/:id',
    '/artworks/:id',
    '/libraries/x/hand-over',
    '/manifest.webmanifest',
  ]);
});
