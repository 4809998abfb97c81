import type { HTTPRequest } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;
beforeAll(async () => {
  harness = await Harness.start();
  screen = await harness.page('/');
});
afterAll(() => harness?.stop());

const post = (path: string, body: unknown) =>
  fetch(harness.url + path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: typeof body === 'string' ? body : JSON.stringify(body),
  });
const hull = () =>
  libraryOf('Hull livery', {
    '': [['Paper', '#ffffff']],
    Hull: [
      ['Navy', '#14304a'],
      ['Boot-top red', '#b3262b'],
    ],
    Deck: [['Teak', '#6d4a2c']],
  });

describe('what the server answers', () => {
  let id = '';
  beforeAll(async () => {
    id = await (await post('/libraries', hull())).text();
  });

  it('a library that is none is refused with the place of what is wrong', async () => {
    const response = await post('/libraries', { id: 'x', name: 'x', groups: [{ id: 'g', name: 'g' }] });
    expect(response.status).toBe(400);
    expect(await response.text()).toMatch(/groups\/0.*swatches/);
    expect((await post('/libraries', '{"id":')).status).toBe(400);
  });

  it('a change that does not fit is refused with the reason, and changes nothing', async () => {
    const state = async () => (await fetch(`${harness.url}/libraries/${id}/changes`)).json();
    const before = await state();
    const change = (ops: unknown) => ({
      by: 'me',
      seen: before.revision,
      changes: [{ id: 'change-1', by: 'me', label: '', ops }],
    });
    const gone = [{ op: 'set', of: 'swatch', id: 'nobody', fields: { name: '' } }];
    const refused = await (await post(`/libraries/${id}/changes`, change(gone))).json();
    expect(refused.outcomes).toEqual([
      { id: 'change-1', seq: null, said: ['1 swatch is no longer in the library.'] },
    ]);
    const wrong = await post(`/libraries/${id}/changes`, change([{ op: 'explode' }]));
    expect(wrong.status).toBe(400);
    expect(await state()).toEqual(before);
  });

  it('kits and presets are checked before they are kept', async () => {
    const choices = { scope: { what: 'library' }, destinations: [{ id: 'cad', files: [{ format: 'dxf' }] }] };
    expect((await post(`/libraries/${id}/kits`, { revision: 0, choices })).status).toBe(201);
    expect((await post('/libraries/nowhere/kits', { revision: 0, choices })).status).toBe(404);
    const moon = { ...choices, destinations: [{ id: 'moon', files: [] }] };
    expect((await post(`/libraries/${id}/kits`, { revision: 0, choices: moon })).status).toBe(400);
    expect((await post('/presets', { keep: { name: 'x', destinations: [{ id: 'cad' }] } })).status).toBe(400);
    expect((await post('/presets', { keep: { name: 'x', destinations: choices.destinations } })).status).toBe(
      204,
    );
    expect((await post('/presets', { forget: 'x' })).status).toBe(204);
  });

  it('a library that is not there has a page that says so', async () => {
    const response = await fetch(`${harness.url}/libraries/nowhere/arrange`);
    expect(response.status).toBe(404);
    expect(await response.text()).toContain('Not found');
  });
});

describe('libraries', () => {
  const bands = () => screen.page.$$eval('.Home-name', (list) => list.map((a) => a.textContent));

  it('are renamed, duplicated, deleted and brought back', async () => {
    await screen.go('/');
    await screen.button('Duplicate Hull livery');
    await expect.poll(bands).toEqual(['Hull livery copy', 'Hull livery']);
    await screen.button('Rename Hull livery copy');
    await screen.fill('Name of the library', 'Winter livery');
    await screen.page.keyboard.press('Enter');
    await expect.poll(bands).toEqual(['Winter livery', 'Hull livery']);
    await screen.button('Delete Winter livery');
    await expect.poll(bands).toEqual(['Hull livery']);
    await screen.reload();
    await screen.click('link', 'Bin 1');
    await screen.button('Restore');
    await screen.text(/The bin is empty/);
    await screen.click('link', 'All 2');
    await expect.poll(bands).toEqual(['Winter livery', 'Hull livery']);
  });

  it('are found by what is in them, and a search that finds nothing says what it looked through', async () => {
    await screen.fill('Search the libraries', 'teak');
    await screen.text(/2 libraries with “teak”/);
    await screen.fill('Search the libraries', 'Winter');
    await expect.poll(bands).toEqual(['Winter livery']);
    await screen.fill('Search the libraries', 'nothing of the kind');
    await screen.text(/No matches/);
    await screen.button('Show all');
    await expect.poll(async () => (await bands()).length).toBe(2);
  });

  it('keep the surround that was chosen, after a reload too', async () => {
    const surround = () => screen.page.evaluate(() => getComputedStyle(document.body).backgroundColor);
    const light = await surround();
    await screen.button('Dark surround');
    await expect.poll(surround).not.toBe(light);
    const dark = await surround();
    await screen.reload();
    expect(await surround()).toBe(dark);
    await screen.button('Light surround');
    await expect.poll(surround).toBe(light);
    // before the server has heard of it, too
    const { page } = screen;
    await page.setRequestInterception(true);
    const hold = (request: HTTPRequest) =>
      void (request.url().includes('/surround') ? undefined : request.continue());
    page.on('request', hold);
    await screen.button('Dark surround');
    await screen.reload();
    expect(await surround()).toBe(dark);
    page.off('request', hold);
    await page.setRequestInterception(false);
    await screen.button('Light surround');
    await expect.poll(surround).toBe(light);
  });

  it('tell the keys on a question mark', async () => {
    await screen.page.keyboard.type('?');
    await screen.text(/move what is chosen/);
    await screen.dismissDialog();
  });
});

describe('arranging', () => {
  beforeAll(async () => {
    await screen.go('/');
    await screen.click('link', 'Hull livery');
    await screen.page.waitForSelector('[role=option]');
  });

  it('finds a swatch by its hex, and shows it in every notation', async () => {
    await screen.names();
    await screen.page.keyboard.press('/');
    await screen.page.keyboard.type('b3262b');
    await screen.page.keyboard.press('Enter');
    await screen.text(/179 38 43/);
    await screen.find('button', 'Hex #B3262B');
  });

  it('takes a typed colour in its own space, and refuses what is none with a reason', async () => {
    await screen.fill('Recolour', 'C 10 M 95 Y 80 K 5');
    await screen.page.keyboard.press('Enter');
    await screen.text(/10 95 80 5 %/);
    await screen.fill('Recolour', 'C 10 M 950 Y 80 K 5');
    await screen.page.keyboard.press('Enter');
    await screen.text(/M is 950; CMYK takes 0 to 100/);
    await screen.page.keyboard.press('Escape');
  });

  it('groups are made, renamed, moved and deleted, and all of it undone', async () => {
    const groups = () => screen.page.$$eval('.Outline-name .cut', (list) => list.map((g) => g.textContent));
    await screen.button('New group');
    await expect.poll(groups).toEqual(['No group', 'Hull', 'Deck', 'New group']);
    await screen.button('Group New group');
    await screen.click('menuitem', 'Move up');
    await expect.poll(groups).toEqual(['No group', 'Hull', 'New group', 'Deck']);
    await screen.button('Group Hull');
    await screen.click('menuitem', 'Delete with its 2 swatches');
    await expect.poll(groups).toEqual(['No group', 'New group', 'Deck']);
    for (let i = 0; i < 3; i++) await screen.button('Undo');
    await expect.poll(groups).toEqual(['No group', 'Hull', 'Deck']);
  });

  it('a library of nothing says how to begin', async () => {
    await screen.go('/');
    await screen.button('New library');
    await screen.fill('Name of the library', 'New library');
    await screen.button('Make library');
    await screen.text(/No swatches yet/);
    await screen.find('link', 'Gather from a picture');
  });
});

describe('handing over', () => {
  it('a sheet takes its columns and size from the user, and only in range', async () => {
    const id = await (await post('/libraries', hull())).text();
    await screen.go(`/libraries/${id}/hand-over`);
    await screen.button('Cutting and engraving SVG · PDF sheet');
    const columns = await screen.find('textbox', 'columns');
    await columns.click({ count: 3 });
    await columns.type('2');
    await screen.button('Download SVG only');
    const text = (await harness.downloaded('Hull livery.svg')).toString();
    expect(/width="(\d+)mm" height="(\d+)mm"/.exec(text)?.slice(1)).toEqual(['32', '32']);
    expect(text.match(/<rect /g)?.length).toBe(4);
  });

  it('nothing ticked says what to do, and takes nothing', async () => {
    await screen.click('checkbox', 'Vector drawing');
    await screen.text(/Choose at least one destination/);
    const disabled = await (await screen.find('button', 'Download kit')).evaluate(
      (b) => (b as HTMLButtonElement).disabled,
    );
    expect(disabled).toBe(true);
    expect(screen.errors).toEqual([]);
  });

  it('a long report is read to its end, after its worker has died too', async () => {
    const many = libraryOf('Many', {
      '': Array.from({ length: 1000 }, (_, i) => [
        `Rope ${i}`,
        `#${(i * 16001).toString(16).padStart(6, '0')}`,
      ]),
    });
    const id = await (await post('/libraries', many)).text();
    await screen.go(`/libraries/${id}/hand-over`);
    const { page } = screen;
    const scroll = (share: number) =>
      page.$eval(
        '.Changes-list',
        (list, to) => {
          list.scrollTop = to * list.scrollHeight;
        },
        share,
      );
    await screen.text(/Rope 0/);
    await scroll(1);
    await screen.text(/Rope 999/);
    for (const worker of page.workers()) await worker.evaluate(() => self.close()).catch(() => undefined);
    await scroll(0.5);
    await screen.text(/Rope 50\d/);
  });
});

describe('in the colours of a system with high contrast', () => {
  it('swatches keep theirs, and what is chosen, filled or current is told by the system’s', async () => {
    const id = await harness.keep(hull());
    const cdp = await screen.page.createCDPSession();
    const features = [{ name: 'forced-colors', value: 'active' }];
    await cdp.send('Emulation.setEmulatedMedia', { features });
    await screen.go(`/libraries/${id}/arrange`);
    await screen.choose('Navy');
    const look = await screen.page.evaluate(() => {
      const of = (selector: string) => getComputedStyle(document.querySelector(selector)!);
      const system = (color: string) => {
        const probe = document.body.appendChild(document.createElement('i'));
        probe.style.color = color;
        const found = getComputedStyle(probe).color;
        probe.remove();
        return found;
      };
      const [chosen, other] = ['true', 'false'].map((is) =>
        of(`[role=option][aria-selected=${is}] > :first-child`),
      );
      return {
        chosen: [chosen!.backgroundColor, chosen!.outlineColor === system('Highlight')],
        other: [other!.backgroundColor, other!.outlineColor === system('CanvasText')],
        strip: of('.swatch-strip').backgroundImage.includes('gradient'),
        step: of('[aria-current=page]').borderBottomColor === of('[aria-current=page]').color,
        rest: of('nav a:not([aria-current=page])').borderBottomColor === system('Canvas'),
      };
    });
    expect(look).toEqual({
      chosen: ['rgb(20, 48, 74)', true],
      other: ['rgb(255, 255, 255)', true],
      strip: true,
      step: true,
      rest: true,
    });
    await cdp.send('Emulation.setEmulatedMedia', { features: [] });
    await cdp.detach();
  });
});
