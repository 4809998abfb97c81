import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { allSwatches, emptyBoard, type Library } from '../../core/swatch/index.ts';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// Links, by the hand that makes them and the hand that opens them.

let harness: Harness;
let owner: Screen;
let visitor: Screen;
let id = '';
let address = '';
const library: Library = libraryOf('Harbour', {
  Sky: [
    ['Slate', '#455a66'],
    ['Night', '#263a46'],
  ],
  Hull: [['Red', '#b3262b']],
});
library.items = [
  emptyBoard(
    'board',
    'On one page',
    allSwatches(library).map((s, i) => ({
      id: `o${i}`,
      of: 'swatch',
      refs: [s.id],
      name: s.name,
      weight: 2,
    })),
  ),
];

beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(library);
  owner = await harness.page(`/libraries/${id}/arrange`);
  await owner.page
    .browserContext()
    .overridePermissions(harness.url, ['clipboard-read', 'clipboard-write', 'clipboard-sanitized-write']);
});
afterAll(() => harness?.stop());

const copied = async () => {
  await owner.page.bringToFront();
  return owner.page.evaluate(() => navigator.clipboard.readText());
};
const field = async (selector: string, text: string) => {
  const input = (await owner.page.waitForSelector(selector))!;
  await input.click({ count: 3 });
  await input.type(text);
  await owner.page.keyboard.press('Tab');
};
const path = () => address.replace(harness.url, '');

describe('a link', () => {
  it('is made, named and copied', async () => {
    await owner.button('Share');
    await owner.button('New link');
    await field('[role=dialog] input:not([readonly])', 'Printer');
    await owner.button('Copy the address of Printer');
    await owner.text(/The address of “Printer” was copied/);
    address = await copied();
    expect(address).toMatch(/\/s\/[\w-]{22}$/);
  });

  it('opens the library in another browser, to read and copy from, and nothing else', async () => {
    visitor = await harness.elsewhere(path());
    await visitor.text(/Harbour/);
    expect(await visitor.page.title()).toBe('Harbour · Papillon');
    await visitor.button('Red');
    await visitor.text(/#B3262B/);
    await visitor.button('Dark surround');
    expect(await visitor.page.$eval('html', (e) => e.dataset.surround)).toBe('dark');
    await visitor.reload();
    expect(await visitor.page.$eval('html', (e) => e.dataset.surround)).toBe('dark');
    // no steps, no libraries, no way to either
    expect(await visitor.page.$$eval('a', (all) => all.map((a) => new URL(a.href).pathname))).toEqual([
      expect.stringMatching(/^\/s\/[\w-]{22}\/files\//),
    ]);
  });

  it('shows a change of the owner as it happens', async () => {
    await owner.button('Done');
    await owner.choose('Red');
    await owner.fill('Name', 'Boot-top red');
    await owner.page.keyboard.press('Enter');
    await visitor.text(/Boot-top red/);
  });

  it('says that it is without a connection, and shows what it has', async () => {
    await visitor.page.setOfflineMode(true);
    await visitor.text(/The server cannot be reached/);
    await visitor.text(/Boot-top red/);
    await visitor.page.setOfflineMode(false);
    await visitor.page.waitForFunction(() => !document.body.textContent?.includes('cannot be reached'));
  });

  it('shows a board instead, whose colours are read where they stand, and allows what is ticked', async () => {
    await owner.button('Share');
    await owner.page.select('[aria-label="What Printer shows"]', await boardOf());
    await owner.button('all formats');
    await owner.button('some');
    await owner.page.keyboard.press('Escape');
    await owner.text(/ASE, PDF sheet/);
    await visitor.text(/from Harbour/);
    await visitor.page.waitForSelector('[role=img] svg');
    await visitor.button('Night');
    await visitor.text(/#263A46/);
    await visitor.page.click('rect[fill="#455a66"]');
    await visitor.text(/#455A66/);
    const files = () => visitor.page.$$eval('footer a', (all) => all.map((a) => a.textContent));
    await expect.poll(files).toEqual(['ASE', 'PDF sheet']);
  });

  it('fits a phone of 360 px', async () => {
    await visitor.page.setViewport({ width: 360, height: 720, isMobile: true, hasTouch: true });
    const wide = await visitor.page.evaluate(() => document.documentElement.scrollWidth);
    expect(wide).toBeLessThanOrEqual(360);
    const small = await visitor.page.$$eval('main button, footer a', (all) =>
      all.filter((e) => e.getBoundingClientRect().height < 40).map((e) => e.textContent),
    );
    expect(small).toEqual([]);
  });

  it('ends the open page when it is revoked', async () => {
    await owner.button('More for Printer');
    await owner.click('menuitem', 'Revoke');
    await visitor.text(/This link has ended/);
    await visitor.page.reload();
    await visitor.text(/This link has ended/);
    expect(visitor.errors).toEqual([]);
  });
});

describe('behind a proxy that lets no events through', () => {
  it('pages ask by themselves, and say neither that they are away nor that they are alone', async () => {
    const hull = await harness.keep(libraryOf('Proxied', { Hull: [['Red', '#b3262b']] }));
    const asked = { is: 'page', name: 'Link', access: 'view', board: null, formats: [], expires: null };
    const made = await fetch(`${harness.url}/libraries/${hull}/links`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(asked),
    });
    const { token } = (await made.json()) as { token: string };
    const open = async (to: string) => {
      const screen = await harness.empty();
      await screen.page.setBypassServiceWorker(true);
      await screen.page.setRequestInterception(true);
      screen.page.on('request', (request) =>
        /\/events/.test(request.url()) ? request.respond({ status: 502 }) : request.continue(),
      );
      await screen.go(to);
      return screen;
    };
    const [editor, viewer] = [await open(`/libraries/${hull}/arrange`), await open(`/s/${token}`)];
    await editor.text(/Red/);
    await viewer.text(/Red/);
    const { library: now } = (await (await fetch(`${harness.url}/libraries/${hull}/changes`)).json()) as {
      library: Library;
    };
    const op = { op: 'set', of: 'swatch', id: now.groups[0]!.swatches[0]!.id, fields: { name: 'Boot-top' } };
    const change = { id: 'change-through-a-proxy', by: 'somebody', label: 'rename', ops: [op] };
    const sent = await fetch(`${harness.url}/libraries/${hull}/changes`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ by: 'somebody', seen: 0, changes: [change] }),
    });
    expect(sent.status).toBe(200);
    for (const screen of [editor, viewer]) {
      await screen.page.bringToFront();
      await screen.text(/Boot-top/);
      expect(await screen.page.$eval('body', (body) => body.textContent)).not.toMatch(/cannot be reached/);
      await screen.page.close();
    }
  });
});

/** The board as the server calls it. */
async function boardOf(): Promise<string> {
  const reply = await fetch(`${harness.url}/libraries/${id}/changes`);
  return ((await reply.json()) as { library: Library }).library.items![0]!.id;
}

describe('a file link', () => {
  it('is made of a group, and is always as the library is', async () => {
    await owner.button('New file link…');
    await owner.button('Make the file link');
    await owner.button('Copy the address of CSS');
    await owner.text(/The address of “CSS” was copied/);
    const file = await copied();
    expect(file).toMatch(/\/f\/[\w-]{22}\/harbour\.css$/);
    const css = async () => (await fetch(file)).text();
    expect(await css()).toContain('#b3262b');
    await owner.button('Done');
    await owner.choose('Night');
    await owner.fill('Name', 'Night water');
    await owner.page.keyboard.press('Enter');
    await expect.poll(css).toContain('night-water');
    expect(owner.errors).toEqual([]);
  });
});

describe('a link to comment', () => {
  it('asks for a name once, and what is written is seen by the owner as it happens', async () => {
    await owner.page.keyboard.press('Escape');
    await owner.go(`/libraries/${id}/arrange`);
    const made = await owner.page.evaluate(
      `fetch('/libraries/${id}/links', { method: 'POST', headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ is: 'page', name: 'Printer', access: 'comment', board: null, formats: [], expires: null }) }).then((r) => r.json())`,
    );
    visitor = await harness.elsewhere(`/s/${(made as { token: string }).token}`);
    await visitor.press('Boot-top red');
    await visitor.fill('Comment on Boot-top red', 'Is it within reach on uncoated?');
    await visitor.page.keyboard.press('Tab');
    await visitor.fill('Your name', 'Printer Hansen');
    await visitor.button('Comment');
    await visitor.text(/1 open/);
    await visitor.text(/here as ?Printer Hansen/);
    await owner.text(/open comments?/);
    await owner.click('option', 'Boot-top red');
    await owner.text(/Is it within reach on uncoated\?/);
    await owner.button('Reply');
    await owner.fill('Reply to Printer Hansen', 'No, use North route.');
    await owner.fill('Your name', 'Marit');
    await owner.page.keyboard.press('Enter');
    await visitor.text(/No, use North route\./);
    await owner.button('Resolve');
    await visitor.text(/Show 1 resolved/);
  });

  it('keeps what is written through a reload, and when it cannot be sent', async () => {
    await visitor.fill('Comment on Boot-top red', 'A second thought');
    await visitor.reload();
    await visitor.press('Boot-top red');
    await visitor.text(/Comment on Boot-top red/);
    expect(await visitor.page.$eval('textarea', (t) => t.value)).toBe('A second thought');
    await visitor.page.setOfflineMode(true);
    await visitor.button('Comment');
    await visitor.text(/The server does not answer/);
    expect(await visitor.page.$eval('textarea', (t) => t.value)).toBe('A second thought');
    await visitor.page.setOfflineMode(false);
    await visitor.button('Comment');
    await owner.text(/A second thought/);
  });

  it('says when a swatch is deleted that its comments went with it, and undo brings both back', async () => {
    await owner.page.keyboard.press('Escape');
    await owner.click('option', 'Boot-top red');
    await owner.button('Delete');
    await owner.text(/comments on what was deleted went with it/);
    await owner.button('Undo');
    await owner.click('option', 'Boot-top red');
    await owner.text(/A second thought/);
  });
});
