import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
const open: Screen[] = [];
beforeAll(async () => {
  harness = await Harness.start();
});
afterAll(() => harness?.stop());

const made = async (names: string[]): Promise<string> => {
  const library = libraryOf('Shared', { Hull: names.map((n) => [n, '#14304a'] as [string, string]) });
  return harness.keep(library);
};
const onServer = async (id: string): Promise<string[]> => {
  const { library } = await (await fetch(`${harness.url}/libraries/${id}/changes`)).json();
  return library.groups.flatMap((g: { swatches: { name: string }[] }) => g.swatches.map((s) => s.name));
};
const onScreen = (screen: Screen): Promise<string[]> =>
  screen.page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('[role=option] .Mosaic-name')].map((e) => e.textContent ?? ''),
  );
const looking = async (screen: Screen): Promise<Screen> => {
  open.push(screen);
  await screen.page.waitForSelector('[role=option]');
  return screen;
};
const rename = async (screen: Screen, from: string, to: string): Promise<void> => {
  const chip = await screen.option(from);
  await chip.click({ count: 2 });
  const field = await screen.page.waitForSelector('[aria-label="Name of the swatch"]');
  await field!.click({ count: 3 });
  await field!.type(to);
  await screen.page.keyboard.press('Enter');
};

describe('two people with one library', () => {
  let id = '';
  let me: Screen;
  let you: Screen;
  beforeAll(async () => {
    id = await made(['Red', 'Navy', 'Teak']);
    me = await looking(await harness.page(`/libraries/${id}/arrange`));
    you = await looking(await harness.elsewhere(`/libraries/${id}/arrange`));
  });

  it('see each other’s changes, and undo takes back only one’s own', async () => {
    await rename(me, 'Red', 'Mine');
    await rename(you, 'Navy', 'Yours');
    for (const screen of [me, you])
      await expect.poll(() => onScreen(screen)).toEqual(['Mine', 'Yours', 'Teak']);
    await me.page.bringToFront();
    await me.button('Undo');
    for (const screen of [me, you])
      await expect.poll(() => onScreen(screen)).toEqual(['Red', 'Yours', 'Teak']);
    expect(await onServer(id)).toEqual(['Red', 'Yours', 'Teak']);
  });

  it('who both rename the same swatch at once are both told', async () => {
    await me.page.setOfflineMode(true);
    await rename(me, 'Teak', 'Boot');
    await rename(you, 'Teak', 'Rail');
    await expect.poll(() => onServer(id)).toEqual(['Red', 'Yours', 'Rail']);
    await me.page.setOfflineMode(false);
    await me.text(/meanwhile named it “Rail”; your “Boot” took its place/);
    await you.page.bringToFront();
    await you.text(/renamed your “Rail” to “Boot”/);
    for (const screen of [me, you])
      await expect.poll(() => onScreen(screen)).toEqual(['Red', 'Yours', 'Boot']);
  });

  it('find all of it in the history, go back to a state and bring it back', async () => {
    await me.page.bringToFront();
    await me.click('link', 'History');
    await me.text(/undo: rename 1 swatch/);
    const rows = await me.page.$$('.History-row');
    // the first change of all stands last
    await rows.at(-1)!.click();
    await me.text(/After “rename 1 swatch”/);
    await me.text(/3 swatches · 3 swatches are different now/);
    await me.button('Restore this state');
    await expect.poll(() => onServer(id)).toEqual(['Mine', 'Navy', 'Teak']);
    await me.button('Undo');
    await expect.poll(() => onServer(id)).toEqual(['Red', 'Yours', 'Boot']);
  });

  it('can let old history go', async () => {
    await me.click('link', 'History');
    await me.text(/changes, the latest first/);
    await (await me.page.$$('.History-row')).at(-1)!.click();
    await me.button('Remove the history up to here…');
    await me.button('Remove');
    await me.text(/1 change removed from the history/);
    expect(await onServer(id)).toEqual(['Red', 'Yours', 'Boot']);
  });

  it('nothing threw on the way', () => {
    expect(open.flatMap((s) => s.errors)).toEqual([]);
  });
});

describe('without the server', () => {
  it('edits wait, survive a reload, and go through when it is there again', async () => {
    const id = await made(['Red', 'Navy']);
    const screen = await looking(await harness.page(`/libraries/${id}/arrange`));
    await screen.page.setOfflineMode(true);
    await rename(screen, 'Red', 'Offline');
    await screen.text(/Not saved yet; your changes wait here. The server does not answer/);
    await rename(screen, 'Navy', 'Offline too');
    expect(await onServer(id)).toEqual(['Red', 'Navy']);
    // the page itself can only be loaded with the server there, but what waits is not sent before
    const hold = (request: import('puppeteer-core').HTTPRequest) =>
      request.method() === 'POST' ? request.abort() : request.continue();
    screen.page.on('request', hold);
    await screen.page.setRequestInterception(true);
    await screen.page.setOfflineMode(false);
    await screen.reload();
    await expect.poll(() => onScreen(screen)).toEqual(['Offline', 'Offline too']);
    expect(await onServer(id)).toEqual(['Red', 'Navy']);
    screen.page.off('request', hold);
    await screen.page.setRequestInterception(false);
    await expect.poll(() => onServer(id)).toEqual(['Offline', 'Offline too']);
    await screen.text(/2 swatches · saved/);
    await screen.button('Undo');
    await expect.poll(() => onServer(id)).toEqual(['Offline', 'Navy']);
    await screen.page.close();
  });

  it('and a browser that has no room left, edits wait in the page, which says so, and go through', async () => {
    const id = await made(['Red', 'Navy']);
    const screen = await looking(await harness.elsewhere(`/libraries/${id}/arrange`, 1));
    await screen.page.setOfflineMode(true);
    await rename(screen, 'Red', 'Offline');
    await screen.text(/Not saved yet.*no room to keep your changes: leave this page open/);
    // there is indeed none
    const keep = () =>
      screen.page.evaluate(
        () =>
          new Promise<string>((resolve) => {
            const open = indexedDB.open('full');
            open.onupgradeneeded = () => open.result.createObjectStore('s');
            open.onerror = () => resolve(open.error!.name);
            open.onsuccess = () => {
              const transaction = open.result.transaction('s', 'readwrite');
              transaction.objectStore('s').put('x'.repeat(20_000_000), 1);
              transaction.oncomplete = () => resolve('kept');
              transaction.onabort = () => resolve(transaction.error!.name);
            };
          }),
      );
    expect(await keep()).toBe('QuotaExceededError');
    await rename(screen, 'Navy', 'Too');
    await screen.page.setOfflineMode(false);
    await expect.poll(() => onServer(id)).toEqual(['Offline', 'Too']);
    await screen.text(/2 swatches · saved/);
    await screen.page.close();
  });

  it('killed in the middle of edits it keeps every confirmed one, each once, and undo goes to the beginning', async () => {
    const id = await made(['Red', 'Navy']);
    const confirmed: string[] = [];
    let k = 0;
    let going = true;
    const make = async () => {
      while (going) {
        const change = {
          id: `change-killed-${k}`,
          by: 'killer',
          label: `group ${k}`,
          ops: [{ op: 'put', of: 'group', id: `k${k}`, fields: { order: 'a5', name: `k${k}` } }],
        };
        try {
          const response = await fetch(`${harness.url}/libraries/${id}/changes`, {
            method: 'POST',
            headers: { 'Content-Type': 'application/json' },
            body: JSON.stringify({ by: 'killer', seen: 0, changes: [change] }),
          });
          if ((await response.json()).outcomes[0].seq !== null) confirmed.push(`k${k++}`);
        } catch {
          // the same one again
          await new Promise((resolve) => setTimeout(resolve, 50));
        }
      }
    };
    const making = make();
    for (let i = 0; i < 4; i++) {
      await new Promise((resolve) => setTimeout(resolve, 500 + i * 130));
      await harness.serve();
    }
    going = false;
    await making;
    const state = async () => (await fetch(`${harness.url}/libraries/${id}/changes`)).json();
    const names = (await state()).library.groups.map((g: { name: string }) => g.name);
    expect(confirmed.length).toBeGreaterThan(20);
    expect(names.filter((n: string) => n.startsWith('k')).sort()).toEqual([...confirmed].sort());
    let { steps } = await (await fetch(`${harness.url}/libraries/${id}/changes?after=0&by=killer`)).json();
    for (let i = 0; steps.undo.length > 0; i++) {
      const undo = { id: `change-back-${i}`, by: 'killer', label: '', ops: [], undoes: steps.undo.at(-1).id };
      const response = await fetch(`${harness.url}/libraries/${id}/changes`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ by: 'killer', seen: 0, changes: [undo] }),
      });
      ({ steps } = await response.json());
    }
    expect((await state()).library.groups.map((g: { name: string }) => g.name)).toEqual(['Hull']);
  });
});

it('no library’s content stands in the HTML', async () => {
  const id = await made(['Secret rope', 'Hidden brass']);
  for (const path of [`/libraries/${id}/arrange`, `/libraries/${id}/hand-over`, '/gather'])
    expect(await (await fetch(harness.url + path)).text()).not.toMatch(/Secret rope|Hidden brass|14304a/);
});
