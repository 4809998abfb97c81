import { readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core';
import type { Library } from '../../core/swatch/model.ts';
import { findBrowser } from '../../scripts/tools.mjs';
import { Running } from '../server/running.ts';

/** The built application on a data folder of its own, and a browser before it. */
export class Harness {
  private readonly running = new Running();
  readonly folder = this.running.folder;
  readonly downloads = join(this.folder, 'downloads');
  private browser: Browser | null = null;

  get url(): string {
    return this.running.url;
  }

  static async start(env: Record<string, string> = {}): Promise<Harness> {
    const harness = new Harness();
    await harness.serve(env);
    harness.browser = await puppeteer.launch({
      executablePath: findBrowser()!,
      userDataDir: join(harness.folder, 'profile'),
      args: [
        '--headless',
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--hide-scrollbars',
        '--force-color-profile=srgb',
      ],
    });
    return harness;
  }

  /** Starts the server; a second call starts it again on the same data, as after a restart. */
  serve(env: Record<string, string> = {}): Promise<void> {
    return this.running.start(env);
  }

  /** Takes the server away, as a power cut would. */
  halt(): Promise<void> {
    return this.running.kill();
  }

  /** Keeps a library on the server; its id. */
  async keep(library: Library): Promise<string> {
    return (await this.running.post('/libraries', library)).text();
  }

  async page(path = '/'): Promise<Screen> {
    const page = await this.browser!.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    const cdp = await page.createCDPSession();
    await cdp.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: this.downloads });
    const screen = new Screen(page, this);
    await screen.go(path);
    return screen;
  }

  /** A page that is none of the application's, such as the one that asks for the password. */
  async bare(path: string): Promise<Screen> {
    const page = await this.browser!.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    await page.goto(this.url + path, { waitUntil: 'load' });
    return new Screen(page, this);
  }

  /** A page of a browser that has nothing stored, before it goes anywhere. */
  async empty(): Promise<Screen> {
    const page = await (await this.browser!.createBrowserContext()).newPage();
    await page.setViewport({ width: 1280, height: 800 });
    return new Screen(page, this);
  }

  /** A page as on another machine: with nothing that this browser has stored, and room for this many bytes, if not for all. */
  async elsewhere(path: string, roomBytes?: number): Promise<Screen> {
    const screen = await this.empty();
    const { page } = screen;
    if (roomBytes !== undefined) {
      const cdp = await page.createCDPSession();
      await cdp.send('Storage.overrideQuotaForOrigin', { origin: this.url, quotaSize: roomBytes });
    }
    await screen.go(path);
    return screen;
  }

  /** Waits for a finished download and gives its bytes. */
  async downloaded(name: string): Promise<Buffer> {
    for (let i = 0; i < 100; i++) {
      try {
        if (readdirSync(this.downloads).includes(name)) return readFileSync(join(this.downloads, name));
      } catch {
        // the folder comes with the first download
      }
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error(`${name} did not arrive; there is ${readdirSync(this.folder).join(', ')}`);
  }

  /** The same, gone from the folder then: for files that are made again. */
  async taken(name: string): Promise<Buffer> {
    const bytes = await this.downloaded(name);
    rmSync(join(this.downloads, name));
    return bytes;
  }

  async stop(): Promise<void> {
    await this.browser?.close();
    await this.running.stop();
  }
}

/** The parts of React's tree that say whether it is at work. */
interface Fiber {
  memoizedState: { isDehydrated?: boolean; dehydrated?: unknown } | null;
  child: Fiber | null;
  sibling: Fiber | null;
}

/** How long a slow machine may take for anything a test waits for. */
const PATIENCE = 30_000;

/** A page with the few gestures the tests are made of. */
export class Screen {
  readonly errors: string[] = [];

  constructor(
    readonly page: Page,
    private readonly harness: Harness,
  ) {
    // a person would stay until all is saved
    page.on('dialog', (dialog) => void dialog.accept());
    page.on('pageerror', (error) => this.errors.push(String(error)));
    // what the page's own policy forbids is reported on the console alone
    page.on('console', (message) => {
      if (/Content Security Policy|Refused to/.test(message.text()))
        this.errors.push(message.text().slice(0, 500));
    });
  }

  async go(path: string): Promise<void> {
    await this.page.goto(this.harness.url + path, { waitUntil: 'load' });
    await this.hydrated();
  }

  async reload(): Promise<void> {
    await this.page.reload({ waitUntil: 'load' });
    await this.hydrated();
  }

  /**
   * Until React has taken over what the server drew, nothing answers: not when its keys appear on the elements, but
   * when the root is committed, and each part of it that comes later.
   */
  private async hydrated(): Promise<void> {
    await this.page.waitForFunction(
      () => {
        // the page of a link is an island of its own
        const at = document.getElementById('shared') ?? document;
        const key = Object.keys(at).find((k) => k.startsWith('__reactContainer'));
        if (!key) return false;
        const root = Reflect.get(at, key).stateNode.current as Fiber;
        if (root.memoizedState?.isDehydrated !== false) return false;
        for (const open = [root]; open.length > 0; ) {
          const { child, sibling, memoizedState } = open.pop()!;
          if (memoizedState?.dehydrated) return false;
          if (child) open.push(child);
          if (sibling) open.push(sibling);
        }
        return true;
      },
      { timeout: 60_000 },
    );
    // effects come after the commit, and only with them keys are listened to
    await this.page.evaluate(() => new Promise((r) => requestAnimationFrame(() => setTimeout(r, 20))));
  }

  /** What a failed wait leaves behind: where it was, and what was to be read there. */
  private async missing(what: string): Promise<never> {
    const text = await this.page
      .evaluate(() =>
        [...document.body.children]
          .filter((e) => e.localName !== 'script')
          .map((e) => e.textContent)
          .join('\n'),
      )
      .catch(() => '');
    await this.shot(join(tmpdir(), 'papillon-missing.png')).catch(() => undefined);
    throw new Error(`${what} is not on ${this.page.url()}, where it says:\n${text.slice(0, 1500)}`);
  }

  /** The element with this role and name, as a screen reader would find it. */
  async find(role: string, name: string): Promise<ElementHandle<HTMLElement>> {
    const found = await this.page
      .waitForSelector(`::-p-aria([name="${name}"][role="${role}"])`, { timeout: PATIENCE, visible: true })
      .catch(() => this.missing(`the ${role} “${name}”`));
    return found as ElementHandle<HTMLElement>;
  }

  async click(role: string, name: string): Promise<void> {
    await this.clickOn(() => this.find(role, name));
  }

  /** Clicks as a hand does: on what has come to rest, and again on what was drawn anew under it. */
  private async clickOn(find: () => Promise<ElementHandle<HTMLElement>>): Promise<void> {
    for (let tries = 4; ; tries--) {
      const element = await find();
      try {
        await this.uncovered(element);
        await element.click();
        return;
      } catch (error) {
        if (tries === 0 || !/detached|not (?:clickable|an Element)/i.test(String(error))) throw error;
      }
    }
  }

  /** Waits as a hand would: until an element is not grey and has come to rest; dismisses a message that lies over it. */
  private async uncovered(element: ElementHandle<HTMLElement>): Promise<void> {
    await element.evaluate(async (e, patience) => {
      const grey = performance.now() + patience;
      while (e.matches(':disabled, [aria-disabled=true]') && performance.now() < grey)
        await new Promise(requestAnimationFrame);
      e.scrollIntoView({ block: 'nearest', inline: 'nearest' });
      for (let last = '', frame = 0; frame < 300; frame++) {
        const { x, y, width, height } = e.getBoundingClientRect();
        const over = document.elementFromPoint(x + width / 2, y + height / 2)?.closest('.toast-toast');
        const toast = over?.contains(e) ? null : over;
        [...(toast?.querySelectorAll('button') ?? [])].find((b) => b.textContent === 'Dismiss')?.click();
        const now = `${x} ${y} ${width} ${height}`;
        if (now === last && !toast) return;
        last = now;
        await new Promise(requestAnimationFrame);
      }
    }, PATIENCE);
  }

  /** Leaves the open dialog without doing what it offers. */
  async dismissDialog(): Promise<void> {
    await this.page.keyboard.press('Escape');
    await this.page.waitForSelector('[role=dialog]', { hidden: true, timeout: PATIENCE });
  }

  async button(name: string): Promise<void> {
    await this.click('button', name);
  }

  /** Presses a button by how its text begins, where more of it says what it stands at. */
  async press(begins: string): Promise<void> {
    await this.clickOn(async () => {
      const button = await this.page
        .waitForFunction(
          (wanted) => [...document.querySelectorAll('button')].find((b) => b.textContent?.startsWith(wanted)),
          { timeout: PATIENCE },
          begins,
        )
        .catch(() => this.missing(`a button that begins with “${begins}”`));
      return button as ElementHandle<HTMLElement>;
    });
  }

  async text(pattern: RegExp): Promise<string> {
    const handle = await this.page
      .waitForFunction(
        (source, flags) => new RegExp(source, flags).exec(document.body.textContent ?? '')?.[0],
        { timeout: PATIENCE },
        pattern.source,
        pattern.flags,
      )
      .catch(() => this.missing(String(pattern)));
    return (await handle.jsonValue()) as string;
  }

  /** Presses Tab until what has the focus is called so, as one without a mouse would. */
  async tabTo(name: RegExp): Promise<void> {
    for (let i = 0; i < 120; i++) {
      await this.page.keyboard.press('Tab');
      if (name.test(await this.focused())) return;
    }
    throw new Error(`Tab does not come to ${name}.`);
  }

  /** What has the focus is called; empty where it is the page or the stage, which hold everything. */
  focused(): Promise<string> {
    return this.page.evaluate(() => {
      const e = document.activeElement as HTMLInputElement | null;
      if (!e || e.matches('body, main')) return '';
      return `${e.getAttribute('aria-label') ?? ''} ${e.labels?.[0]?.textContent ?? ''} ${e.textContent ?? ''}`;
    });
  }

  async fill(name: string, value: string): Promise<void> {
    const field = await this.find('textbox', name);
    await field.click({ count: 3 });
    await this.page.keyboard.press('Backspace');
    await field.type(value);
  }

  /** Drops files on a place, as from the desktop. */
  async drop(files: { name: string; bytes: Uint8Array | string }[]): Promise<void> {
    const given = files.map((f) => ({ name: f.name, base64: Buffer.from(f.bytes).toString('base64') }));
    await this.page.evaluate(async (list) => {
      const transfer = new DataTransfer();
      for (const { name, base64 } of list)
        transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
      // a hand lets go when it sees that the page would take the files
      const start = performance.now();
      for (let type = 'dragenter'; ; ) {
        // looked up again each time: what was there may be redrawn under the pointer
        const at = document.elementFromPoint(innerWidth / 2, innerHeight / 2) ?? document.body;
        at.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: transfer }));
        if (performance.now() - start > 20_000) throw new Error('The page does not take dropped files.');
        if (type === 'drop') break;
        await new Promise((resolve) => setTimeout(resolve, 50));
        type = document.querySelector('.OpenFiles-veil') ? 'drop' : 'dragover';
      }
    }, given);
  }

  /** The swatch of this name on the board. */
  async option(name: string): Promise<ElementHandle<HTMLElement>> {
    const found = await this.page
      .waitForFunction(
        (wanted) =>
          [...document.querySelectorAll<HTMLElement>('[role=option]')].find((e) =>
            [...e.querySelectorAll('span'), e].some(
              (part) => (part.getAttribute('aria-label') ?? part.textContent) === wanted,
            ),
          ),
        { timeout: PATIENCE },
        name,
      )
      .catch(() => this.missing(`the swatch “${name}”`));
    return found as ElementHandle<HTMLElement>;
  }

  /** Clicks the swatch of this name on the board. */
  async choose(name: string): Promise<void> {
    await this.clickOn(() => this.option(name));
  }

  /** The names of the swatches on the board, in order. */
  async names(): Promise<string[]> {
    await this.page.waitForSelector('[role=option]');
    return this.page.$$eval('.Mosaic-name', (list) => list.map((e) => e.textContent ?? ''));
  }

  /** What the page has written down on one of its shelves, by key. */
  async shelf<T>(name: 'takes' | 'notes'): Promise<Record<string, T>> {
    const found: unknown = await this.page.evaluate(
      (shelf) =>
        new Promise<unknown>((resolve, reject) => {
          const open = indexedDB.open('papillon-shelf');
          open.onerror = reject;
          open.onsuccess = () => {
            const store = open.result.transaction(shelf).objectStore(shelf);
            const [keys, values] = [store.getAllKeys(), store.getAll()];
            store.transaction.onerror = reject;
            store.transaction.oncomplete = () => {
              open.result.close();
              resolve(Object.fromEntries(keys.result.map((key, i) => [String(key), values.result[i]])));
            };
          };
        }),
      name,
    );
    return found as Record<string, T>;
  }

  /** Of the takes that are written down, how many colours were asked for, and how many there are. */
  async keptColors(): Promise<string[]> {
    const takes = await this.shelf<{ take: { recipe: { count: number }; colors: unknown[] } }>('takes');
    return Object.values(takes).map(({ take }) => `${take.recipe.count}: ${take.colors.length}`);
  }

  async shot(path: string): Promise<void> {
    await this.page.screenshot({ path: path as `${string}.png` });
  }
}
