import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// A linked folder, on the file system that a browser has for itself: what can be picked from a real one needs a hand.

let harness: Harness;
let screen: Screen;
let id = '';

/** Every page takes the browser's own folder for the one that was picked. */
const PICKS = `window.showDirectoryPicker = async () =>
  (await navigator.storage.getDirectory()).getDirectoryHandle('kit', { create: true });`;
const READ = `(async () => {
  const found = {};
  const read = async (folder, path) => {
    for await (const [name, handle] of folder.entries())
      if (handle.kind === 'directory') await read(handle, path + name + '/');
      else found[path + name] = await (await handle.getFile()).text();
  };
  await read(await (await navigator.storage.getDirectory()).getDirectoryHandle('kit', { create: true }), '');
  return found;
})()`;
const files = async () => (await screen.page.evaluate(READ)) as Record<string, string>;
const put = (path: string, text: string) =>
  screen.page.evaluate(
    `(async () => {
      let folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('kit', { create: true });
      const parts = ${JSON.stringify(path)}.split('/');
      for (const name of parts.slice(0, -1)) folder = await folder.getDirectoryHandle(name, { create: true });
      const stream = await (await folder.getFileHandle(parts.at(-1), { create: true })).createWritable();
      await stream.write(${JSON.stringify(text)});
      await stream.close();
    })()`,
  );
const css = async () => Object.entries(await files()).find(([path]) => path.endsWith('.css'));

beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(
    libraryOf('Hull', {
      Deck: [
        ['Teak', '#6d4a2c'],
        ['Red', '#b3262b'],
      ],
    }),
  );
  screen = await harness.page(`/libraries/${id}/hand-over`);
  await screen.page.evaluateOnNewDocument(PICKS);
  await screen.go(`/libraries/${id}/hand-over`);
});
afterAll(() => harness?.stop());

let called = 'Red';
const rename = async (to: string) => {
  await screen.go(`/libraries/${id}/arrange`);
  await screen.click('option', called);
  called = to;
  await screen.fill('Name', to);
  await screen.page.keyboard.press('Enter');
};

describe('a linked folder', () => {
  it('gets the files of the kit, and nothing else of it is touched', async () => {
    await put('mine.txt', 'of somebody else');
    await screen.text(/Web and interface/);
    await screen.click('checkbox', 'Web and interface');
    await screen.press('Folder…');
    await screen.button('Choose a folder…');
    await screen.text(/kit: up to date/);
    expect((await css())?.[1]).toContain('#b3262b');
    expect((await files())['mine.txt']).toBe('of somebody else');
  });

  it('follows the library from any of its screens, also after a reload', async () => {
    await rename('Signal');
    await expect.poll(async () => (await css())?.[1] ?? '').toMatch(/signal/i);
    await screen.reload();
    await rename('Funnel');
    await expect.poll(async () => (await css())?.[1] ?? '').toMatch(/funnel/i);
    expect((await css())?.[1]).not.toMatch(/signal/i);
  });

  it('stops at a file that somebody has changed, and replaces it only when it is told to', async () => {
    const [path] = (await css())!;
    await put(path, '/* by hand */');
    await rename('Ochre');
    await screen.click('link', 'Hand over');
    await screen.press('kit: paused');
    await screen.text(new RegExp(`changed since: .*${path.split('/').at(-1)}`));
    expect((await css())?.[1]).toBe('/* by hand */');
    await screen.button('Replace them');
    await expect.poll(async () => (await css())?.[1] ?? '').toMatch(/ochre/i);
    expect((await files())['mine.txt']).toBe('of somebody else');
  });

  it('removes what is not in the kit any more, but never what it did not write; unlinked it is left as it is', async () => {
    await screen.go(`/libraries/${id}/hand-over`);
    await screen.text(/Web and interface/);
    await screen.click('checkbox', 'Maps');
    await screen.press('kit: up to date');
    await screen.button('Write what is chosen now');
    await expect.poll(async () => Object.keys(await files()).some((p) => p.endsWith('.cpt'))).toBe(true);
    // what was chosen before is not in it any more
    expect(await css()).toBeUndefined();
    await screen.button('Unlink');
    await screen.text(/Folder…/);
    const before = await files();
    await rename('Later');
    await new Promise((resolve) => setTimeout(resolve, 3000));
    expect(await files()).toEqual(before);
    expect(before['mine.txt']).toBe('of somebody else');
  });
});
