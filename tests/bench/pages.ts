import type { Page } from 'puppeteer-core';
import { libraryOf } from '../../core/testing.ts';
import { Harness } from '../browser/harness.ts';

// npm run bench -- pages: what each screen loads when a browser has nothing of it yet, and how long it is busy. Needs a build.

/** What stood before pages were made light: KB of scripts and requests, by the same measure. */
const BEFORE: Record<string, [scriptKB: number, requests: number]> = {
  Home: [317, 46],
  Gather: [558, 107],
  Arrange: [628, 94],
};

interface Loaded {
  requests: number;
  scriptKB: number;
  allKB: number;
  usableMs: number;
  shift: number;
  longTasksMs: number[];
}

/** Counts what the page's browser is sent, as packed, from now on. */
async function countRequests(page: Page): Promise<{ url: string; bytes: number }[]> {
  const cdp = await page.createCDPSession();
  await cdp.send('Network.enable');
  const urls = new Map<string, string>();
  const loaded: { url: string; bytes: number }[] = [];
  cdp.on('Network.responseReceived', ({ requestId, response }) => urls.set(requestId, response.url));
  cdp.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    loaded.push({ url: urls.get(requestId) ?? '', bytes: encodedDataLength });
  });
  return loaded;
}

async function load(harness: Harness, path: string): Promise<Loaded> {
  const screen = await harness.empty();
  const { page } = screen;
  const loaded = await countRequests(page);
  await page.evaluateOnNewDocument(() => {
    const seen = { shift: 0, tasks: [] as number[] };
    Object.assign(window, { seen });
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) seen.shift += Reflect.get(entry, 'value');
    }).observe({ type: 'layout-shift', buffered: true });
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) seen.tasks.push(Math.round(entry.duration));
    }).observe({ type: 'longtask', buffered: true });
  });
  const start = performance.now();
  await screen.go(path);
  const usableMs = performance.now() - start;
  await page.waitForNetworkIdle({ idleTime: 1000, timeout: 60_000 });
  const { shift, tasks } = await page.evaluate(
    () => Reflect.get(window, 'seen') as { shift: number; tasks: number[] },
  );
  await page.browserContext().close();
  const kilobytes = (list: typeof loaded) => Math.round(list.reduce((n, r) => n + r.bytes, 0) / 1000);
  return {
    requests: loaded.length,
    scriptKB: kilobytes(loaded.filter((r) => r.url.endsWith('.js'))),
    allKB: kilobytes(loaded),
    usableMs: Math.round(usableMs),
    shift,
    longTasksMs: tasks,
  };
}

export async function benchPages(): Promise<void> {
  const harness = await Harness.start();
  try {
    const id = await harness.keep(
      libraryOf('Bench', { Hull: [['Navy', '#14304a']], Signs: [['Red', 'C 20 M 90 Y 80 K 5']] }),
    );
    const of = (step: string) => `/libraries/${id}/${step}`;
    console.log('screen      requests  scripts      all   usable   shift  long tasks');
    for (const [name, path] of [
      ['Home', '/'],
      ['Gather', of('gather')],
      ['Arrange', of('arrange')],
      ['Apply', of('apply')],
      ['Check', of('check')],
      ['Hand over', of('hand-over')],
      ['Convert', '/convert'],
      ['Books', '/books'],
    ] as const) {
      const { requests, scriptKB, allKB, usableMs, shift, longTasksMs } = await load(harness, path);
      const before = BEFORE[name];
      console.log(
        [
          name.padEnd(12),
          String(requests).padStart(8),
          `${scriptKB} KB`.padStart(9),
          `${allKB} KB`.padStart(9),
          `${usableMs} ms`.padStart(9),
          shift.toFixed(3).padStart(8),
          `  ${longTasksMs.join(', ') || 'none'}`,
          before ? `  (before: ${before[1]} requests, ${before[0]} KB of scripts)` : '',
        ].join(''),
      );
    }
  } finally {
    await harness.stop();
  }
}
