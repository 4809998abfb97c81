import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
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

/** How much stands there that was shared. */
const countShared = () =>
  screen.page.evaluate(async () => (await (await caches.open('papillon-shared')).keys()).length);

/** As this browser gets it. */
const manifest = () => screen.page.evaluate(async () => (await fetch('/manifest.webmanifest')).json());

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
    const { file_handlers, share_target } = await manifest();
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
    await screen.text(/The server cannot be reached/);
    expect(await screen.page.$('header')).not.toBeNull();
    await harness.serve();
    await screen.text(/Boot-top red/);
    expect(new URL(screen.page.url()).pathname).toBe(`/libraries/${id}/arrange`);
  });
});

describe('what another program shares', () => {
  const share = async (
    fields: Record<string, string>,
    file?: { name: string; text: string },
    action?: string,
  ) =>
    screen.page.evaluate(
      (given, shared, to) => {
        const form = Object.assign(document.createElement('form'), {
          action: to,
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
      action ?? (await manifest()).share_target.action,
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

describe('what another site shares', () => {
  /** A page of another site, which posts to an address here when it is opened. */
  const site = async (action: string, body: string) => {
    const server = createServer((_, response) => {
      response.setHeader('Content-Type', 'text/html');
      response.end(body.replaceAll('ADDRESS', action));
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    const { port } = server.address() as AddressInfo;
    // another site than 127.0.0.1
    return { url: `http://localhost:${port}/`, close: () => server.close() };
  };
  const FORM = `<form id=f method=post enctype=multipart/form-data action=ADDRESS><input type=file name=files></form><script>
    const t = new DataTransfer(); t.items.add(new File(['GIMP Palette\\n1 2 3 Planted\\n'], 'planted.gpl'));
    document.querySelector('input').files = t.files; document.getElementById('f').submit();</script>`;

  it('is not taken: each installation has an address that nobody else knows', async () => {
    await screen.go('/');
    const own = (await manifest()).share_target.action as string;
    expect(own).toMatch(/^\/share\/[\w-]{32}$/);
    const other = await harness.elsewhere('/');
    const theirs = await other.page.evaluate(
      async () => (await (await fetch('/manifest.webmanifest')).json()).share_target.action as string,
    );
    expect(theirs).not.toBe(own);
    for (const path of ['/share', '/share/', theirs, `${own}x`]) {
      const page = await site(harness.url + path, FORM);
      await screen.page.goto(page.url, { waitUntil: 'load' });
      await expect
        .poll(() => [path, screen.page.url()])
        .toEqual([path, expect.stringContaining(harness.url)]);
      await screen.text(/What was shared did not come from this installation/);
      expect(await countShared()).toBe(0);
      page.close();
    }
  });

  it('goes when nobody has looked at it for a day', async () => {
    await screen.go('/');
    const put = (hours: number) =>
      screen.page.evaluate(async (ago) => {
        const shared = await caches.open('papillon-shared');
        const at = String(Date.now() - ago * 3_600_000);
        const headers = { 'X-Name': 'old.gpl', 'X-At': at };
        await shared.put('/shared/0', new Response('GIMP Palette\n1 2 3 Old\n', { headers }));
      }, hours);
    await put(25);
    await screen.go('/?shared');
    await new Promise((done) => setTimeout(done, 1000));
    expect(await screen.page.$('[role=dialog]')).toBeNull();
    await put(25);
    await screen.go('/');
    await expect.poll(countShared).toBe(0);
    await put(23);
    await screen.go('/?shared');
    await screen.text(/old\.gpl · GPL · 1 swatch/);
  });

  it('a link to a page here leads there, and the page is still not shown inside others', async () => {
    await screen.go('/');
    await kept();
    const page = await site(
      `${harness.url}/libraries/${id}/arrange`,
      '<a href="ADDRESS">Hull</a><iframe src="ADDRESS" width=800 height=400></iframe>',
    );
    await screen.page.goto(page.url, { waitUntil: 'load' });
    const inside = screen.page.frames().filter((f) => f !== screen.page.mainFrame());
    for (const frame of inside)
      expect(await frame.evaluate(() => document.body.textContent).catch(() => '')).not.toMatch(/Boot-top/);
    await Promise.all([screen.page.waitForNavigation({ waitUntil: 'load' }), screen.page.click('a')]);
    await screen.text(/Boot-top red/);
    expect(screen.page.url()).toBe(`${harness.url}/libraries/${id}/arrange`);
    page.close();
  });
});

describe('what could not be kept', () => {
  it('is reported', async () => {
    await screen.go('/?shared=lost');
    await screen.text(/could not keep what was shared/);
  });
});

describe('an address that is none', () => {
  it('has the frame, says so, and looks for what is meant', async () => {
    const response = await screen.page.goto(`${harness.url}/no/such/place`, { waitUntil: 'load' });
    expect(response!.status()).toBe(404);
    await screen.text(/Not found/);
    await screen.go('/libraries/none/arrange');
    await screen.text(/This library does not exist/);
    await screen.fill('Search the libraries', 'boot-top');
    await screen.page.keyboard.press('Enter');
    await screen.text(/1 library with “boot-top”/);
  });
});
