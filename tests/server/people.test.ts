import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { endpoints } from '../../app/api/index.ts';
import { LEVELS, type Level } from '../../core/level.ts';
import { emptyBoard, type Library, type Reply, type Sent } from '../../core/swatch/index.ts';
import { libraryOf } from '../../core/testing.ts';
import type { PageLink } from '../../server/links.ts';
import type { SharedView } from '../../server/shared.ts';
import { Running } from './running.ts';

// People who come by links, from outside: what each level lets through, and that nobody acts for another.

const PASSWORD = 'a long way to Tipperary';
let server: Running;
let owner = '';
let id = '';
let other = '';
let swatch = '';

interface Guest {
  link: string;
  token: string;
  cookie: string;
}

const ask = (
  path: string,
  { cookie = '', method = 'GET', body }: { cookie?: string; method?: string; body?: unknown },
) =>
  fetch(`${server.url}${path}`, {
    method,
    redirect: 'manual',
    headers: { Cookie: cookie, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
const make = async (access: Level, more: Partial<PageLink> = {}, library = id) => {
  const data = { is: 'page', name: 'Link', access, board: null, formats: [], expires: null, ...more };
  const reply = await ask(`/libraries/${library}/links`, { cookie: owner, method: 'POST', body: data });
  expect(reply.status).toBe(201);
  const { link, token } = (await reply.json()) as { link: { id: string }; token: string };
  return { link: link.id, token, data };
};
const name = (token: string, called: string, cookie = '') =>
  ask(`/s/${token}/person`, { method: 'POST', body: { name: called }, cookie });
const join = async (token: string, called: string): Promise<string> => {
  const reply = await name(token, called);
  expect(reply.status).toBe(200);
  return reply.headers.getSetCookie()[0]!.split(';')[0]!;
};
const come = async (
  access: Level,
  called: string,
  more: Partial<PageLink> = {},
  library = id,
): Promise<Guest> => {
  const { link, token } = await make(access, more, library);
  return { link, token, cookie: access === 'view' ? '' : await join(token, called) };
};
const say = ({ token, cookie }: Guest, more: object = {}) =>
  ask(`/s/${token}/comments`, {
    method: 'POST',
    cookie,
    body: {
      id: `c${Math.random().toString(36).slice(2, 12)}`,
      on: swatch,
      text: 'Why so red?',
      thread: null,
      mark: null,
      ...more,
    },
  });
const view = async ({ token }: Guest) => (await (await ask(`/s/${token}/view`, {})).json()) as SharedView;
const read = async (cookie: string, library = id) => {
  const reply = await ask(`/libraries/${library}/changes`, { cookie });
  return (await reply.json()) as { library: Library; revision: number };
};
const change = async (cookie: string, sent: Partial<Sent> & Pick<Sent, 'changes'>, library = id) =>
  ask(`/libraries/${library}/changes`, {
    cookie,
    method: 'POST',
    body: { by: 'somebody', seen: 0, ...sent },
  });
let n = 0;
const rename = (to: string, by = 'somebody') => ({
  id: `change-${++n}-${Math.random().toString(36).slice(2, 8)}`,
  by,
  label: 'rename',
  ops: [{ op: 'set' as const, of: 'swatch' as const, id: swatch, fields: { name: to } }],
});

beforeAll(async () => {
  server = await Running.start({ PAPILLON_PASSWORD: PASSWORD });
  const body = new URLSearchParams({ password: PASSWORD, to: '/' });
  const signed = await fetch(`${server.url}/sign-in`, { method: 'POST', body, redirect: 'manual' });
  owner = signed.headers.getSetCookie()[0]!.split(';')[0]!;
  const keep = async (library: Library) =>
    (await ask('/libraries', { cookie: owner, method: 'POST', body: library })).text();
  id = await keep(
    libraryOf('Hull', {
      Deck: [
        ['Teak', '#6d4a2c'],
        ['Red', '#b3262b'],
      ],
    }),
  );
  other = await keep(libraryOf('Secret', { All: [['Hidden', '#123456']] }));
  swatch = (await read(owner)).library.groups[0]!.swatches[1]!.id;
});
afterAll(() => server?.stop());

describe('what each level lets through', () => {
  it('is what each route declares, for every route, method and level', async () => {
    const guests = new Map<Level, Guest>();
    for (const level of LEVELS) guests.set(level, await come(level, level));
    for (const { method, path, access, body } of endpoints) {
      // signing out is everybody’s
      if (path === '/sign-out') continue;
      for (const [level, { token, link, cookie }] of guests) {
        const filled = (library: string) =>
          path
            .replace(':token', token)
            .replace(':id', library)
            .replace(':link', link)
            .replace(/:\w+/g, 'nothing-there');
        const send = async (library: string) =>
          (
            await fetch(`${server.url}${filled(library)}`, {
              method,
              headers: { Cookie: cookie, 'Content-Type': body?.types[0] ?? 'application/json' },
              ...(method === 'GET' ? {} : { body: '{}' }),
            })
          ).status;
        const isShut = (status: number) => status === 401 || status === 403;
        const mayAsk =
          access !== 'owner' &&
          LEVELS.indexOf(level) >= LEVELS.indexOf(access) &&
          (path.startsWith('/s/') || level === 'edit');
        expect([method, path, level, isShut(await send(id))]).toEqual([method, path, level, !mayAsk]);
        // and of no other library
        if (path.startsWith('/libraries/:id'))
          expect([method, path, level, 'elsewhere', isShut(await send(other))]).toEqual([
            method,
            path,
            level,
            'elsewhere',
            true,
          ]);
      }
    }
  });

  it('is the screens of the library for those who edit, and none of the others', async () => {
    const { cookie } = await come('edit', 'Marit');
    const open = async (path: string) => (await ask(path, { cookie })).status;
    for (const step of ['gather', 'arrange', 'apply', 'check', 'hand-over', 'history'])
      expect([step, await open(`/libraries/${id}/${step}`)]).toEqual([step, 200]);
    for (const path of [
      `/libraries/${other}/arrange`,
      `/libraries/${other}/arrange.data`,
      `/libraries/${id}/../${other}/arrange`,
      `/libraries/${id}/%2e%2e/${other}/rows`,
      `/libraries/${id}%2f..%2f${other}/rows`,
      `/libraries/${id}/./rows/../../${other}/rows`,
      `//libraries/${other}/rows`,
      '/_root.data',
      '/books',
      '/books.data',
      '/backups',
      '/profiles',
      `/books/${other}`,
      `/libraries/tray/rows`,
      `/libraries/tray-nobody12345/rows`,
    ])
      expect([path, (await server.raw({ path, headers: { Cookie: cookie } })).status]).not.toEqual([
        path,
        200,
      ]);
    const home = await fetch(`${server.url}/`, {
      headers: { Cookie: cookie, Accept: 'text/html' },
      redirect: 'manual',
    });
    expect([home.status, home.headers.get('Location')]).toEqual([303, `/libraries/${id}/arrange`]);
    // what is asked in passing says nothing of others
    const text = async (path: string) => (await ask(path, { cookie })).text();
    expect(await text('/libraries')).not.toContain('Secret');
    expect([await text('/books/kept'), await text('/profiles/kept')]).toEqual(['[]', '[]']);
  });

  it('ends at once when the link is revoked, renewed, or allows less', async () => {
    const still = async ({ cookie }: Guest) => (await ask(`/libraries/${id}/rows`, { cookie })).status;
    const [gone, renewed, less] = [await come('edit', 'A'), await come('edit', 'B'), await come('edit', 'C')];
    expect([await still(gone), await still(renewed), await still(less)]).toEqual([200, 200, 200]);
    const events = await ask(`/libraries/${id}/events?page=a-page-of-A&by=whoever12`, gone);
    const reader = events.body!.getReader();
    await ask(`/libraries/${id}/links/${gone.link}`, { cookie: owner, method: 'DELETE' });
    await ask(`/libraries/${id}/links/${renewed.link}`, { cookie: owner, method: 'POST', body: {} });
    const data = { is: 'page', name: 'Link', access: 'comment', board: null, formats: [], expires: null };
    await ask(`/libraries/${id}/links/${less.link}`, { cookie: owner, method: 'PUT', body: data });
    expect([await still(gone), await still(renewed), await still(less)]).toEqual([401, 401, 401]);
    let heard = '';
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      heard += new TextDecoder().decode(value);
    }
    expect(heard).toMatch(/event: gone/);
  });
});

describe('what visitors do', () => {
  it('bears their name, whatever they say they are', async () => {
    const marit = await come('edit', 'Marit');
    const reply = await change(marit.cookie, { by: 'the-owner', changes: [rename('Ochre', 'the-owner')] });
    expect(reply.status).toBe(200);
    const history = await ask(`/libraries/${id}/changes/history`, { cookie: owner });
    const [last] = ((await history.json()) as { entries: { by: string; name: string }[] }).entries;
    expect([last!.by === 'the-owner', last!.name]).toEqual([false, 'Marit']);
    // nor under another name in a comment
    const put = (fields: object) => ({
      id: `comment-${++n}-aaaa`,
      by: 'x',
      label: 'comment',
      ops: [
        {
          op: 'put' as const,
          of: 'item' as const,
          id: `talk${n}`,
          fields: { order: 'a5', name: '', ...fields },
        },
      ],
    });
    const data = { by: 'the-owner', author: 'The owner', at: 5, text: 'I agree', thread: null };
    await change(marit.cookie, { changes: [put({ kind: 'comment', refs: [swatch], data })] });
    const said = (await read(owner)).library.items!.find((i) => i.id === `talk${n}`)!;
    expect(said.data).toMatchObject({ author: 'Marit', text: 'I agree' });
    const reworded = await change(marit.cookie, {
      changes: [
        {
          id: `reword-${++n}-bbbb`,
          by: 'x',
          label: 'x',
          ops: [{ op: 'set', of: 'item', id: said.id, fields: { data: { ...data, text: 'Never' } } }],
        },
      ],
    });
    expect(reworded.status).toBe(409);
    expect(JSON.stringify((await read(owner)).library.items)).not.toContain('Never');
  });

  it('is taken back by themselves alone', async () => {
    const [a, b] = [await come('edit', 'A'), await come('edit', 'B')];
    const mine = rename('By A');
    const first = (await (await change(a.cookie, { changes: [mine] })).json()) as Reply;
    const news = async (cookie: string) => {
      const reply = await ask(`/libraries/${id}/changes?after=${first.seq}&by=somebody`, { cookie });
      return (await reply.json()) as { steps: { undo: { id: string }[] } };
    };
    expect((await news(a.cookie)).steps.undo.map((s) => s.id)).toContain(mine.id);
    expect((await news(b.cookie)).steps.undo.map((s) => s.id)).not.toContain(mine.id);
  });

  it('leaves the owner’s tray as it is: each has one of their own', async () => {
    const { cookie } = await come('edit', 'Marit');
    expect((await ask('/libraries/tray/rows', { cookie })).status).toBe(403);
    const page = await (await ask(`/libraries/${id}/arrange`, { cookie })).text();
    const own = /"visitor",\{[^}]*\}|visitor/.test(page);
    expect(own).toBe(true);
    await ask('/libraries/tray/rows', { cookie: owner });
    const names = await (await ask('/libraries', { cookie: owner })).text();
    expect(names).not.toContain('Tray');
  });
});

describe('comments', () => {
  it('are written under a name, answered, resolved and reopened, and seen by those who may comment', async () => {
    const printer = await come('comment', 'Printer');
    const client = await come('view', '');
    const first = { id: 'first-comment' };
    expect((await say(printer, { ...first, text: 'Is it within reach?' })).status).toBe(204);
    // the answer was lost, and it is sent again
    expect((await say(printer, { ...first, text: 'Is it within reach?' })).status).toBe(204);
    await say(printer, { thread: first.id, text: 'On 90 g.' });
    await say(printer, { thread: first.id, text: '', mark: 'resolved' });
    const thread = (await view(printer)).threads!.find((t) => t.id === first.id)!;
    expect([thread.author, thread.text, thread.isResolved]).toEqual(['Printer', 'Is it within reach?', true]);
    expect(thread.answers.map((a) => a.mark ?? a.text)).toEqual(['On 90 g.', 'resolved']);
    await say(printer, { thread: first.id, text: '', mark: 'reopened' });
    expect((await view(printer)).threads!.find((t) => t.id === first.id)!.isResolved).toBe(false);
    expect((await view(client)).threads).toBeNull();
    // nobody's id is given away, by which changes could be made in their name
    const { library } = await read(owner);
    const by = (library.items!.find((i) => i.id === first.id)!.data as { by: string }).by;
    expect(JSON.stringify(await view(printer))).not.toContain(by);
  });

  it('are refused without a name, on what a link does not show, empty, too long, and to viewers', async () => {
    const printer = await come('comment', 'Printer');
    const status = async (reply: Promise<Response>) => (await reply).status;
    expect(await status(say({ ...printer, cookie: '' }))).toBe(401);
    expect(await status(say({ ...printer, cookie: printer.cookie.replace(/.$/, '~') }))).toBe(401);
    const hidden = (await read(owner, other)).library.groups[0]!.swatches[0]!.id;
    expect(await status(say(printer, { on: hidden }))).toBe(409);
    expect(await status(say(printer, { text: '   ' }))).toBe(409);
    expect(await status(say(printer, { text: 'x'.repeat(10_001) }))).toBe(400);
    expect(await status(say(printer, { text: 'x'.repeat(10_000) }))).toBe(204);
    expect(await status(say(printer, { thread: 'never-was' }))).toBe(409);
    expect(await status(say(await come('view', '')))).toBe(403);
    // a card of one link is none of another
    const second = await come('comment', 'Second');
    expect(await status(say({ ...second, cookie: printer.cookie }))).toBe(401);
    for (const bad of ['', '   ', 'x'.repeat(81), 'a\u202eb', 'a\nb', 'a\u0000b'])
      expect([bad, (await name(printer.token, bad)).status]).toEqual([bad, 400]);
  });

  it('are deleted by those who wrote them', async () => {
    const [a, b] = [await come('comment', 'A'), await come('comment', 'B')];
    await say(a, { id: 'mine-alone' });
    const drop = ({ token, cookie }: Guest) =>
      ask(`/s/${token}/comments/mine-alone`, { method: 'DELETE', cookie });
    expect((await drop(b)).status).toBe(409);
    expect((await view(a)).threads!.some((t) => t.id === 'mine-alone')).toBe(true);
    expect((await drop(a)).status).toBe(204);
    expect((await drop(a)).status).toBe(204);
    expect((await view(a)).threads!.some((t) => t.id === 'mine-alone')).toBe(false);
  });

  it('run nothing, whatever they and their authors’ names hold', async () => {
    const evil = '</script><script>alert(1)</script><img src=x onerror=alert(1)>';
    const guest = await come('comment', evil);
    await say(guest, { text: evil });
    const html = await (await ask(`/s/${guest.token}`, {})).text();
    expect(html).toContain('\\u003cimg src=x');
    expect(html).not.toContain('<img src=x');
    expect(html).not.toContain('</script><script>alert');
  });
});

describe('a choice', () => {
  it('is picked from by those who may comment, once each, while it is asked and open', async () => {
    const [teak] = (await read(owner)).library.groups[0]!.swatches;
    const put = (fields: object) =>
      change(owner, {
        changes: [{ id: `choice-${++n}-cccc`, by: 'the-owner', label: 'ask', ops: [{ ...fields } as never] }],
      });
    const data = { by: 'the-owner', author: 'Owner', at: 1 };
    await put({
      op: 'put',
      of: 'item',
      id: 'the-choice',
      fields: { kind: 'choice', name: 'Which one?', refs: [teak!.id, swatch], order: 'a8', data },
    });
    const [a, b] = [await come('comment', 'A'), await come('comment', 'B')];
    const pick = async ({ token, cookie }: Guest, option: string) =>
      (
        await ask(`/s/${token}/picks`, {
          method: 'POST',
          cookie,
          body: { id: `p${Math.random().toString(36).slice(2, 12)}`, choice: 'the-choice', option, text: '' },
        })
      ).status;
    expect([await pick(a, swatch), await pick(b, swatch), await pick(b, teak!.id)]).toEqual([204, 204, 204]);
    expect([await pick(a, 'another'), await pick({ ...a, cookie: '' }, swatch)]).toEqual([409, 401]);
    const [shown] = (await view(a)).choices;
    expect(shown!.options.map((o) => o.name)).toEqual(['Teak', expect.any(String)]);
    expect(shown!.picks.map((x) => x.option)).toEqual([swatch, teak!.id]);
    // who only looks is not asked
    expect((await view(await come('view', ''))).choices).toEqual([]);
    await put({ op: 'set', of: 'item', id: 'the-choice', fields: { data: { ...data, closed: true } } });
    expect(await pick(a, teak!.id)).toBe(409);
    const history = await (await ask(`/libraries/${id}/changes/history`, { cookie: owner })).text();
    expect(history).toMatch(/"name":"B","label":"pick “Teak”"/);
  });
});

describe('what a choice shows', () => {
  it('is its colourways and the works on its boards, and no other colourway of them', async () => {
    const svg = new TextEncoder().encode(
      '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><path fill="#8a1c24" d="M0 0h9v9z"/></svg>',
    );
    const asset = createHash('sha256').update(svg).digest('hex');
    await fetch(`${server.url}/artworks/${asset}`, {
      method: 'PUT',
      headers: { Cookie: owner, 'Content-Type': 'application/octet-stream' },
      body: svg,
    });
    const colors = [{ hex: '#8a1c24', name: 'Red', parts: 1, fills: 1 }];
    const facts = { asset, form: 'drawing', parts: 1, colors, count: 1, width: 9, height: 9, unit: 'mm' };
    const board = (id: string) =>
      emptyBoard(id, id, [{ id: 'o', of: 'work', refs: ['hull', 'ash'], name: 'Hull', weight: 1 }]);
    const library = libraryOf('Boats', { Deck: [['Teak', '#6d4a2c']] });
    library.items = [
      { id: 'hull', kind: 'artwork', name: 'Hull', refs: [], data: facts },
      ...['oak', 'elm', 'ash'].map((id) => ({
        ...{ id, kind: 'colorway', name: id, refs: [] },
        data: { artwork: 'hull', links: [] },
      })),
      board('one'),
      board('two'),
    ];
    const boats = await (await ask('/libraries', { cookie: owner, method: 'POST', body: library })).text();
    // a new library gives new ids
    const { items = [] } = (await read(owner, boats)).library;
    const idOf = (name: string) => items.find((item) => item.name === name)?.id ?? name;
    for (const refs of [
      ['oak', 'elm'],
      ['one', 'two'],
    ]) {
      const data = { by: 'the-owner', author: 'Owner', at: 1 };
      const fields = { kind: 'choice', name: 'Which?', refs: refs.map(idOf), order: 'a8', data };
      const op = { op: 'put' as const, of: 'item' as const, id: `asked-${refs[0]}`, fields };
      const asked = { id: `choice-${++n}-eeee`, by: 'the-owner', label: 'ask', ops: [op] };
      expect((await change(owner, { changes: [asked] }, boats)).status).toBe(200);
    }
    const shown = async (guest: Guest, colorway: string) =>
      (await ask(`/s/${guest.token}/works/${idOf('Hull')}?colorway=${idOf(colorway)}`, {})).status;
    const a = await come('comment', 'A', {}, boats);
    const status = async (guest: Guest) =>
      Promise.all(['oak', 'elm', 'ash', 'yew', ''].map((way) => shown(guest, way)));
    expect(await status(a)).toEqual([200, 200, 200, 404, 404]);
    // who only looks is not asked
    expect(await status(await come('view', '', {}, boats))).toEqual([404, 404, 404, 404, 404]);
    expect(await status(await come('view', '', { board: idOf('one') }, boats))).toEqual([
      404, 404, 200, 404, 404,
    ]);
  });

  it('stays as it was asked, whoever closes it', async () => {
    const marit = await come('edit', 'Marit');
    const put = (cookie: string, op: object) =>
      change(cookie, {
        changes: [{ id: `choice-${++n}-dddd`, by: 'the-owner', label: 'ask', ops: [op as never] }],
      });
    const data = { by: 'the-owner', author: 'Owner', at: 1 };
    const fields = { kind: 'choice', name: 'Which red?', refs: [swatch, 'another'], order: 'a9', data };
    await put(owner, { op: 'put', of: 'item', id: 'reds', fields });
    const set = (fields: object) => put(marit.cookie, { op: 'set', of: 'item', id: 'reds', fields });
    expect((await set({ name: 'Another question' })).status).toBe(409);
    expect((await set({ data: { by: 'x', author: 'Mallory', at: 2, closed: true } })).status).toBe(200);
    expect((await read(owner)).library.items?.find((i) => i.id === 'reds')).toMatchObject({
      name: 'Which red?',
      data: { ...data, closed: true },
    });
  });
});

describe('a visit', () => {
  it('is remembered by person: what others did since is told, one’s own is not', async () => {
    const [a, b] = [await come('edit', 'A'), await come('edit', 'B')];
    const visit = async ({ cookie }: Guest) =>
      (await (await ask(`/libraries/${id}/visit?by=whoever-asks`, { cookie })).json()) as {
        changes: number;
        names: string[];
      } | null;
    expect(await visit(a)).toBeNull();
    const { revision: seq } = await read(owner);
    await ask(`/libraries/${id}/visit`, {
      cookie: a.cookie,
      method: 'POST',
      body: { by: 'whoever-asks', seq },
    });
    await change(b.cookie, { changes: [rename('By B')] });
    await change(a.cookie, { changes: [rename('By A')] });
    expect(await visit(a)).toMatchObject({ changes: 1, names: ['B'] });
    expect(await visit(b)).toBeNull();
  });
});

describe('who is here', () => {
  it('is told to the others with what they have selected, and until they leave', async () => {
    const marit = await come('edit', 'Marit');
    const owners = await ask(`/libraries/${id}/events?page=the-owners-page&by=the-owner-12`, {
      cookie: owner,
    });
    const reader = owners.body!.getReader();
    let heard = '';
    const until = async (pattern: RegExp) => {
      const end = Date.now() + 5000;
      while (!pattern.test(heard) && Date.now() < end)
        heard += new TextDecoder().decode((await reader.read()).value);
      expect(heard).toMatch(pattern);
      heard = '';
    };
    await until(/event: seq/);
    const stop = new AbortController();
    await fetch(`${server.url}/libraries/${id}/events?page=the-visitors-page&by=the-owner-12`, {
      headers: { Cookie: marit.cookie },
      signal: stop.signal,
    });
    await until(/"name":"Marit","selection":\[\]/);
    await ask(`/libraries/${id}/present`, {
      cookie: marit.cookie,
      method: 'POST',
      body: { page: 'the-visitors-page', selection: [swatch] },
    });
    await until(new RegExp(`"name":"Marit","selection":\\["${swatch}"\\]`));
    // nobody points for another
    const theirs = { page: 'the-owners-page', selection: ['pointed-at'] };
    await ask(`/libraries/${id}/present`, { cookie: marit.cookie, method: 'POST', body: theirs });
    const third = await ask(`/libraries/${id}/events?page=the-third-page-1&by=the-owner-34`, {
      cookie: owner,
    });
    const arrived = third.body!.getReader();
    let seen = '';
    while (!/event: people/.test(seen)) seen += new TextDecoder().decode((await arrived.read()).value);
    expect(seen).toMatch(/the-owner|Owner/);
    expect(seen).not.toMatch(/pointed-at/);
    await arrived.cancel();
    const began = Date.now();
    await change(marit.cookie, { changes: [rename('Heard')] });
    await until(/event: news.*Heard/s);
    expect(Date.now() - began).toBeLessThan(2000);
    stop.abort();
    await until(/event: people\ndata: \[\]/);
    await reader.cancel();
  });
});
