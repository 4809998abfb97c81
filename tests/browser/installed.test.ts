import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readable } from '../../core/formats/index.ts';
import { fleet } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// What an installed Papillon is to its system: by the W3C's Web Application Manifest and what belongs to it.
let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(fleet);
  screen = await harness.page('/');
});
afterAll(() => harness?.stop());

/** The service worker has the pages in its hands, and the shell kept. */
const kept = () =>
  screen.page.waitForFunction(
    async () => navigator.serviceWorker.controller !== null && (await caches.match('/away'))?.status === 200,
    { timeout: 30_000, polling: 200 },
  );

describe('the manifest', () => {
  it('is found by the browser, which has nothing against it', async () => {
    const cdp = await screen.page.createCDPSession();
    const { url, errors } = await cdp.send('Page.getAppManifest');
    expect(url).toBe(`${harness.url}/manifest.webmanifest`);
    expect(errors).toEqual([]);
    const { installabilityErrors } = await cdp.send('Page.getInstallabilityErrors');
    expect(installabilityErrors).toEqual([]);
  });

  it('has icons of the size they say', async () => {
    const { icons } = await (await fetch(`${harness.url}/manifest.webmanifest`)).json();
    for (const { src, sizes } of icons) {
      const bytes = new DataView(await (await fetch(harness.url + src)).arrayBuffer());
      expect(`${bytes.getUint32(16)}x${bytes.getUint32(20)}`).toBe(sizes);
    }
  });

  it('opens every ending of every format that is read, and pictures', async () => {
    const { file_handlers, share_target } = await (await fetch(`${harness.url}/manifest.webmanifest`)).json();
    const endings = Object.values(file_handlers[0].accept).flat();
    for (const format of readable)
      for (const ending of format.endings) expect(endings).toContain(`.${ending}`);
    expect(endings).toContain('.jpg');
    expect(share_target.params.files[0].accept).toContain('.ase');
  });
});

describe('while the server is away', () => {
  it('the page opens, says what is wrong, and goes on by itself', async () => {
    await kept();
    await harness.halt();
    await screen.page.goto(`${harness.url}/libraries/${id}/arrange`, { waitUntil: 'load' });
    await screen.text(/The server is away/);
    expect(await screen.page.$('header')).not.toBeNull();
    await harness.serve();
    await screen.text(/Boot-top red/);
    expect(new URL(screen.page.url()).pathname).toBe(`/libraries/${id}/arrange`);
  });
});

describe('what another program shares', () => {
  const share = (fields: Record<string, string>, file?: { name: string; text: string }) =>
    screen.page.evaluate(
      (given, shared) => {
        const form = Object.assign(document.createElement('form'), {
          action: '/share',
          method: 'post',
          enctype: 'multipart/form-data',
        });
        for (const [name, value] of Object.entries(given)) {
          const input = Object.assign(document.createElement('input'), { type: 'hidden', name, value });
          form.append(input);
        }
        if (shared) {
          const transfer = new DataTransfer();
          transfer.items.add(new File([shared.text], shared.name));
          const input = Object.assign(document.createElement('input'), { type: 'file', name: 'files' });
          input.files = transfer.files;
          form.append(input);
        }
        document.body.append(form);
        form.submit();
      },
      fields,
      file,
    );

  it('as a file opens like one that is dropped', async () => {
    await screen.go('/');
    await kept();
    await share({}, { name: 'قارب.gpl', text: 'GIMP Palette\nName: Boat\n#\n47 125 107\tSea\n' });
    await screen.text(/Open 1 file/);
    await screen.text(/قارب\.gpl · GPL · 1 swatch/);
    // it is taken once
    await screen.reload();
    expect(await screen.page.$('[role=dialog]')).toBeNull();
  });

  it('as text goes where codes are read', async () => {
    await screen.go('/');
    await share({ text: 'Hull red #8a1c24, deck #2f7d6b' });
    await screen.text(/2 colours/);
    expect(screen.page.url()).toContain('from=codes');
  });
});

describe('what could not be kept', () => {
  it('is said', async () => {
    await screen.go('/?shared=lost');
    await screen.text(/What was shared could not be kept/);
  });
});

describe('an address that is none', () => {
  it('has the frame, says so, and looks for what is meant', async () => {
    const response = await screen.page.goto(`${harness.url}/no/such/place`, { waitUntil: 'load' });
    expect(response!.status()).toBe(404);
    await screen.text(/This is not here/);
    await screen.go('/libraries/none/arrange');
    await screen.text(/There is no such library/);
    await screen.fill('Search the libraries', 'boot-top');
    await screen.page.keyboard.press('Enter');
    await screen.text(/1 library with “boot-top”/);
  });
});
