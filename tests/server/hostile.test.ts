import { afterAll, beforeAll, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Running } from './running.ts';

let server: Running;
let id = '';
beforeAll(async () => {
  server = await Running.start();
  id = await (await server.post('/libraries', libraryOf('Hull', { Deck: [['Teak', '#6d4a2c']] }))).text();
});
afterAll(() => server?.stop());

const long = (unit: string, n: number) => unit.repeat(n);
const paths = () => [
  ...[
    '/',
    '/gather',
    '/libraries',
    '/samples/x.png',
    '/samples/..%2f..%2fetc%2fpasswd',
    '/convert',
    '/presets',
    '/surround',
  ],
  ...[
    '',
    '/arrange',
    '/gather',
    '/hand-over',
    '/history',
    '/changes',
    '/rows',
    '/changes/history',
    '/changes/history/1',
    '/changes/history/-1',
    '/kits',
    '/pictures/p',
    '/gather.data',
  ].flatMap((rest) => [`/libraries/${id}${rest}`, `/libraries/none${rest}`]),
  ...[
    '/nothing',
    '/sign-in',
    '/%',
    '/%E0%A4%A',
    '/%00',
    '/libraries/%00/arrange',
    '/libraries/%ff/arrange',
    '/libraries/%F0%9F%9A%A2/gather',
  ],
  ...[
    '/_root.data',
    '/gather.data',
    '/__manifest?p=/libraries/x&version=1',
    '//evil.example/',
    '/\\evil.example',
    '/assets/nothing.js',
  ],
  ...[
    '/assets/../../package.json',
    '/assets/..%2f..%2fpackage.json',
    '/favicon.svg/x',
    `/libraries/${long('a', 3000)}/arrange`,
  ],
  ...[`/${long('a/', 500)}`, `/${long('a/', 500)}.data`, `/${long('a', 9000)}`],
];
const queries = [
  ...[
    '',
    '?q=%ff',
    '?q=%00',
    "?q=';drop%20table%20libraries",
    '?q=%23ff0000',
    '?after=-1',
    '?after=1e99',
    '?after=0',
    '?before=1e300',
  ],
  ...[
    '?id=../x',
    '?_routes=nothing',
    '?_routes=root',
    '?index',
    `?q=${long('a', 5000)}`,
    `?q=${long('(', 500)}`,
    `?q=${long('%22', 300)}`,
    `?${long('a=b&', 2000)}`,
  ],
];
const change = (op: object) => ({
  by: 'x',
  seen: 0,
  changes: [{ id: `hostile-${n++}`, by: 'x', label: 'x', ops: [op] }],
});
let n = 0;
const bodies = () => [
  ...[
    '',
    '{',
    'null',
    '[]',
    '{}',
    '0',
    '"x"',
    'true',
    '\0',
    '{"__proto__":{"x":1}}',
    `${long('[', 500)}${long(']', 500)}`,
    `${long('{"a":', 60)}1${long('}', 60)}`,
  ],
  ...[
    { intent: 'delete', ids: ['tray'] },
    { intent: 'duplicate', id, copy: id },
    { intent: 'restore', ids: ['none'] },
    // what is not in the bin is not removed
    { intent: 'remove', ids: ['tray', id] },
    { intent: 'shelve', ids: [id], on: [long('a', 201)], off: [] },
    { intent: 'shelve', ids: [id], on: ['\0', '<b>'], off: ['__proto__'] },
    { intent: 'archive', ids: [id], on: 'yes' },
    { intent: 'rename shelf', shelf: '', name: 'x' },
    { intent: 'new', id: long('a', 100), name: 'Long' },
    { intent: 'new', id: 'fine', name: long('a', 1001) },
    { by: 'x', seen: 1e300, changes: [] },
    change({ op: 'set', of: 'library', id, fields: { name: '\ud800\0' } }),
    change({ op: 'put', of: 'item', id: 'i1', fields: { kind: 'k', name: '', data: {}, order: 'a0' } }),
    change({
      op: 'put',
      of: 'swatch',
      id: 's1',
      fields: {
        name: '',
        kind: 'spot',
        color: { space: 'rgb', components: [1e308, -1e308, 0] },
        group: 'nope',
        order: 'a0',
      },
    }),
    change({ op: 'drop', of: 'group', id: 'nope' }),
    {
      by: 'x',
      seen: 0,
      changes: [{ id: 'undo-0001', by: 'x', label: 'x', ops: [], undoes: 'nothing-at-all' }],
    },
    { upTo: 1e15 },
    { revision: 1e300, choices: { scope: { what: 'library' }, destinations: [] } },
    { keep: { name: '\0', destinations: [] } },
    { keep: { name: 'x', destinations: [{ id: 'nope', files: [] }] } },
    { forget: '\ud800' },
    { ...libraryOf('x', {}), name: '\ud800\0' },
    { id: 'a', name: 'b', groups: [1, 2].map(() => ({ id: 'g', name: 'g', swatches: [] })) },
  ].map((body) => JSON.stringify(body)),
];

it('is answered with words, and never with a mistake of the server’s own', async () => {
  const wrong: string[] = [];
  let sent = 0;
  const ask = async (method: string, path: string, body?: string, type = 'application/json') => {
    sent++;
    const length = Buffer.byteLength(body ?? '');
    const headers = body === undefined ? {} : { 'Content-Type': type, 'Content-Length': length };
    const answer = await server.raw({ method, path, headers: { Accept: 'text/html', ...headers } }, body);
    const called = `${answer.status} ${method} ${path.slice(0, 80)} ${type} ${(body ?? '').slice(0, 60)}: ${answer.text.slice(0, 80)}`;
    if (answer.status >= 500) wrong.push(called);
    // a page shows the words; what HEAD answers has no content
    if (answer.status >= 400 && method !== 'HEAD' && answer.text.trim().length < 10) wrong.push(called);
  };
  for (const path of paths()) {
    for (const query of queries) await ask('GET', path + query);
    for (const method of ['HEAD', 'OPTIONS', 'PUT', 'PATCH', 'DELETE', 'TRACE', 'PROPFIND'])
      await ask(method, path, method === 'HEAD' ? undefined : '{}');
    for (const body of bodies()) for (const method of ['POST', 'PUT']) await ask(method, path, body);
    for (const type of [
      'application/json; charset=utf-16',
      'multipart/form-data',
      'multipart/form-data; boundary=x',
      'image/png',
    ])
      await ask('PUT', path, '{}', type);
  }
  expect(wrong).toEqual([]);
  expect(sent).toBeGreaterThan(3000);
  // and it is all there still
  expect(
    (await (await fetch(`${server.url}/libraries/${id}/changes`)).json()).library.groups.length,
  ).toBeGreaterThan(0);
}, 300_000);

it('what is no request at all is reported so', async () => {
  const { connect } = await import('node:net');
  const said = (text: string) =>
    new Promise<string>((resolve, reject) => {
      const socket = connect(Number(new URL(server.url).port), '127.0.0.1');
      let heard = '';
      socket.on('data', (data) => {
        heard += data;
      });
      socket.on('close', () => resolve(heard));
      socket.on('error', reject);
      socket.write(text);
    });
  expect(await said('GARBAGE\r\n\r\n')).toMatch(/^HTTP\/1.1 400 .*is not a request/s);
  expect(await said(`GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX: ${long('x', 40_000)}\r\n\r\n`)).toMatch(
    /^HTTP\/1.1 431 .*too large/s,
  );
});
