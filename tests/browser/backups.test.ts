import { copyFileSync, existsSync, mkdirSync, readdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;
beforeAll(async () => {
  harness = await Harness.start({ PAPILLON_BACKUPS: '' });
});
afterAll(() => harness?.stop());

const hull = (name: string) => libraryOf(name, { Hull: [['Red', '#8a1c24'] as [string, string]] });
const folder = () => join(harness.folder, 'backups');
const names = async () =>
  ((await (await fetch(`${harness.url}/libraries`)).json()) as { name: string }[]).map((l) => l.name);
const onScreen = () =>
  screen.page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>('[role=option] .Mosaic-name')].map((e) => e.textContent ?? ''),
  );
const rename = async (from: string, to: string): Promise<void> => {
  const chip = await screen.option(from);
  await chip.click({ count: 2 });
  const field = await screen.page.waitForSelector('[aria-label="Name of the swatch"]');
  await field!.click({ count: 3 });
  await field!.type(to);
  await screen.page.keyboard.press('Enter');
};

/** Presses it when it can be: not while something is being backed up or restored. */
const restore = async () => {
  await screen.page.waitForFunction(() =>
    [...document.querySelectorAll('button')].some((b) => b.textContent === 'Restore…' && !b.disabled),
  );
  await screen.button('Restore…');
};

describe('backups', () => {
  it('one is made by itself while the server runs', async () => {
    await harness.keep(hull('First'));
    await expect
      .poll(() => existsSync(folder()) && readdirSync(folder()), { timeout: 60_000 })
      .toContainEqual(expect.stringMatching(/^daily-\d{4}-\d\d-\d\d\.db$/));
  });

  it('are listed on a page, made on request, and restored; what that replaces is in the list after it', async () => {
    screen = await harness.page('/');
    await screen.click('link', 'Backups');
    await screen.text(/Daily/);
    await harness.keep(hull('Second'));
    await screen.button('Back up now');
    await screen.text(/On request/);
    await harness.keep(hull('Third'));
    // the latest stands first
    await restore();
    await screen.text(/Everything in Papillon is replaced/);
    await (await screen.page.waitForSelector('[role=dialog] .MuiButton-contained'))!.click();
    await screen.text(/Before a restore/);
    await screen.shot('/tmp/backups.png');
    expect((await names()).sort()).toEqual(['First', 'Second']);
    // and back again
    await restore();
    await (await screen.page.waitForSelector('[role=dialog] .MuiButton-contained'))!.click();
    await expect
      .poll(async () => (await names()).sort(), { timeout: 60_000 })
      .toEqual(['First', 'Second', 'Third']);
    expect(screen.errors).toEqual([]);
  });

  it('a name that is not in the list is not restored', async () => {
    for (const name of ['../papillon.db', 'daily-1999-01-01.db', '/etc/passwd']) {
      const response = await fetch(`${harness.url}/backups`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ intent: 'restore', name }),
      });
      expect(response.status).toBe(404);
    }
  });
});

describe('a server that comes back on another folder while changes wait', () => {
  const data = () => join(harness.folder, 'papillon.db');
  const move = (to: string) => {
    mkdirSync(join(harness.folder, to), { recursive: true });
    for (const end of ['', '-wal', '-shm'])
      if (existsSync(data() + end)) renameSync(data() + end, join(harness.folder, to, `papillon.db${end}`));
  };

  it('keeps them in the browser, says so, and offers what can be done with them', async () => {
    const id = await harness.keep(hull('Harbour'));
    await screen.go(`/libraries/${id}/arrange`);
    await screen.text(/1 swatch · saved/);
    await harness.halt();
    await rename('Red', 'Boot-top red');
    await screen.text(/Not saved yet/);
    move('first');
    await harness.serve({ PAPILLON_BACKUPS: 'off' });
    await screen.text(/1 change not saved: the server now has different data/);
    await screen.text(/not saved/);
    expect(await onScreen()).toEqual(['Boot-top red']);
    // after a reload, too, where the library itself is not
    await screen.go('/');
    await screen.text(/1 change not saved/);
    await screen.button('Choose what to do');
    await screen.text(/They are kept in this browser/);
    await screen.shot('/tmp/unsaved.png');
    await screen.button('Download');
    const file = JSON.parse(
      (await harness.downloaded('Harbour unsaved changes.papillon.json')).toString('utf8'),
    );
    expect(file).toMatchObject({ papillon: 3, changes: [{ label: 'rename 1 swatch' }] });
    await screen.button('Wait');
  });

  it('saves them by itself when the first data are there again', async () => {
    await harness.halt();
    move('second');
    for (const end of ['', '-wal', '-shm']) {
      const from = join(harness.folder, 'first', `papillon.db${end}`);
      if (existsSync(from)) copyFileSync(from, data() + end);
    }
    await harness.serve({ PAPILLON_BACKUPS: 'off' });
    const { id } = (
      (await (await fetch(`${harness.url}/libraries`)).json()) as { id: string; name: string }[]
    ).find((l) => l.name === 'Harbour')!;
    await expect
      .poll(
        async () =>
          (await (await fetch(`${harness.url}/libraries/${id}/changes`)).json()).library.groups.flatMap(
            (g: { swatches: { name: string }[] }) => g.swatches.map((s) => s.name),
          ),
        { timeout: 60_000 },
      )
      .toEqual(['Boot-top red']);
  });

  it('adds them to a library of the other data, or lets them go on request', async () => {
    const { id } = (
      (await (await fetch(`${harness.url}/libraries`)).json()) as { id: string; name: string }[]
    ).find((l) => l.name === 'Harbour')!;
    await screen.go(`/libraries/${id}/arrange`);
    await screen.text(/1 swatch · saved/);
    await harness.halt();
    await rename('Boot-top red', 'Signal red');
    await screen.text(/Not saved yet/);
    move('third');
    await harness.serve({ PAPILLON_BACKUPS: 'off' });
    await harness.keep(hull('Elsewhere'));
    await screen.text(/1 change not saved/);
    // with nothing but what the browser has kept
    await screen.go('/');
    await screen.text(/1 change not saved/);
    await screen.button('Choose what to do');
    await screen.button('Add to a library…');
    await screen.text(/hold 1 swatch that can be added/);
    await screen.button('Add');
    await screen.text(/1 swatch added to “Elsewhere”/);
    await screen.text(/No changes are left/);
    await screen.button('Close');
    await screen.go('/');
    await screen.click('link', 'Elsewhere');
    await expect.poll(onScreen).toEqual(['Red', 'Signal red']);
    await screen.text(/2 swatches · saved/);
    // that the server could not be reached is reported on the page, and on the console
    expect(screen.errors.filter((e) => !/The server does not answer/.test(e))).toEqual([]);
  });
});
