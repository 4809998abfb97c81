import { libraryOf } from '../../core/testing.ts';
import { Harness } from '../browser/harness.ts';

// npm run bench -- page: the memory of a page that is left open while its library is edited, in it and elsewhere. Needs a build.

const EDITS = 5000;
const SWATCHES = 200;
/** Of this many edits one is made in the page, with its keys; the others are made elsewhere, and arrive. */
const OWN = 10;
const STEPS = 10;

export async function benchPage(): Promise<void> {
  const harness = await Harness.start();
  try {
    const id = await harness.keep(
      libraryOf('Bench', {
        Hull: Array.from({ length: SWATCHES }, (_, i): [string, string] => [`Rope ${i}`, '#14304a']),
      }),
    );
    const url = `${harness.url}/libraries/${id}/changes`;
    const { library } = await (await fetch(url)).json();
    const ids: string[] = library.groups[0].swatches.map((s: { id: string }) => s.id);
    const { page } = await harness.page(`/libraries/${id}/arrange`);
    const inPage = async (name: string) => {
      const first = await page.waitForSelector('[role=option]');
      await first!.click({ count: 2 });
      const field = await page.waitForSelector('[aria-label="Name of the swatch"]');
      await field!.click({ count: 3 });
      await field!.type(name);
      await page.keyboard.press('Enter');
      // a handle that is held would keep what the page has let go of
      await first!.dispose();
      await field!.dispose();
    };
    const elsewhere = (n: number) =>
      fetch(url, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          by: 'elsewhere',
          seen: 0,
          changes: [
            {
              id: `elsewhere-${n}`,
              by: 'elsewhere',
              label: 'rename',
              // all but the first, which the page has
              ops: [
                { op: 'set', of: 'swatch', id: ids[1 + (n % (SWATCHES - 1))], fields: { name: `Rope ${n}` } },
              ],
            },
          ],
        }),
      });
    const cdp = await page.createCDPSession();
    await cdp.send('HeapProfiler.enable');
    const tell = async (n: number) => {
      await cdp.send('HeapProfiler.collectGarbage');
      const { JSHeapUsedSize = 0, Nodes, JSEventListeners } = await page.metrics();
      console.log(
        `after ${String(n).padStart(5)} edits: ${(JSHeapUsedSize / 1e6).toFixed(1).padStart(6)} MB, ${Nodes} nodes, ${JSEventListeners} listeners`,
      );
    };
    await page.waitForSelector('[role=option]');
    await tell(0);
    for (let n = 1; n <= EDITS; n++) {
      if (n % OWN === 0) await inPage(`Mine ${n}`);
      else await elsewhere(n);
      if (n % (EDITS / STEPS) === 0) await tell(n);
    }
    await page.waitForFunction(
      (name) => document.body.textContent?.includes(name),
      { timeout: 20_000 },
      `Rope ${EDITS - 1}`,
    );
  } finally {
    await harness.stop();
  }
}
