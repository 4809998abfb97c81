import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { formatById, writeAs } from '../../core/formats/index.ts';
import { PdfInks } from '../../core/pdf/inks.ts';
import { writeCxf } from '../../core/reading/index.ts';
import { coated, libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// The inks of a PDF, on a page of their own.

let harness: Harness;
let screen: Screen;
let old: Uint8Array;
const folder = mkdtempSync(join(tmpdir(), 'papillon-pdf-page-'));
beforeAll(async () => {
  harness = await Harness.start();
  screen = await harness.page('/pdf');
  const library = libraryOf('Livery', {
    Inks: [
      ['Orange 2', '#e8601c'],
      ['Hull navy', '#14304a'],
      ['Sand', '#d9c7a0'],
    ],
  });
  for (const s of library.groups[0]!.swatches.slice(0, 2)) s.kind = 'spot';
  old = await writeAs(formatById('pdf'), library, await localServices());
});
afterAll(() => {
  rmSync(folder, { recursive: true });
  return harness?.stop();
});
/** Chooses an ink in the list. */
const choose = (name: string) =>
  screen.page.evaluate((n) => {
    [...document.querySelectorAll<HTMLElement>('.Pdf-ink')].find((b) => b.textContent?.includes(n))!.click();
  }, name);
/** What was saved since the last was taken. */
const saved = async () => new Uint8Array(await harness.taken('livery.pdf'));
const names = async (bytes: Uint8Array) => (await PdfInks.open(bytes)).inks(coated).map((i) => i.name);

describe('the inks of a PDF', () => {
  it('are listed with what they cover, beside the page as it looks', async () => {
    await screen.text(/The inks of a PDF/);
    await screen.drop([{ name: 'livery.pdf', bytes: old }]);
    await screen.text(/livery\.pdf1 page · PDF 1\.3 · \d inks · page 1: 210 × 297 mm/);
    await screen.text(/Orange 2spot · not measured\d %/);
    await screen.page.waitForFunction(() => {
      const canvas = document.querySelector('canvas');
      const data = canvas?.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data;
      // something that is neither white nor nothing has been drawn
      return data?.some((v, i) => i % 4 < 3 && v > 20 && v < 230) ?? false;
    });
    expect(screen.errors).toEqual([]);
  });

  it('are read where the hand is: of the part, and of every plate', async () => {
    /** Moves over the first chip of the sheet, at its top left, as a hand does: until it reads what it looks for. */
    const overChip = async (seen: RegExp) => {
      let at = { x: 0, y: 0 };
      for (let i = 0; i < 100; i++) {
        const { x, y, width, height } = (await (await screen.page.waitForSelector(
          '[role=application]',
        ))!.boundingBox())!;
        at = { x: x + (width * 34) / 210 + (i % 3), y: y + (height * 45) / 297 };
        await screen.page.mouse.move(at.x, at.y);
        if (seen.test(await screen.page.$eval('body', (body) => body.textContent ?? ''))) return at;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
      throw new Error(`${seen} is never read.`);
    };
    const at = await overChip(/Orange 2 100 %/);
    await screen.page.mouse.click(at.x, at.y);
    await screen.page.waitForFunction(
      () => document.querySelector<HTMLInputElement>('#ink-name')?.value === 'Orange 2',
    );
    await screen.button('On press');
    await screen.page.waitForSelector('img[alt="Plate Orange 2"]');
    await overChip(/Orange 2spot · not measured100 %/);
    await screen.text(/Hull navyspot · not measured0 %/);
    await screen.button('Before and after');
    await screen.page.waitForSelector('input[aria-label^="Divider between the page as it came"]');
    await screen.button('Page');
  });

  it('are renamed, taken back, and written behind the old file', async () => {
    await choose('Orange 2');
    await screen.fill('Name', 'Lifebuoy orange');
    await screen.page.keyboard.press('Enter');
    await screen.text(/“Orange 2” is called “Lifebuoy orange”/);
    await screen.button('Undo');
    await screen.text(/Orange 2spot/);
    await screen.button('Redo');
    await screen.text(/Lifebuoy orangespot/);
    await screen.button('Save PDF');
    const now = await saved();
    expect(Buffer.compare(Buffer.from(now.subarray(0, old.length)), Buffer.from(old))).toBe(0);
    expect(await names(now)).toContain('Lifebuoy orange');
    expect(await names(now)).not.toContain('Orange 2');
  });

  it('take a measurement along, which comes out again as CxF', async () => {
    const spectrum = { start: 380, step: 10, values: Array.from({ length: 36 }, (_, i) => 0.05 + i / 50) };
    const path = join(folder, 'any.cxf');
    writeFileSync(
      path,
      writeCxf(
        [
          {
            ink: {
              name: 'As measured',
              conditions: {},
              steps: [{ percent: 100, backing: 'white', spectrum, name: '100' }],
            },
            facts: {},
          },
        ],
        '2026-11-24T09:12:00Z',
      ),
    );
    const input = (await screen.page.$(
      'input[aria-label="A measurement of the ink"]',
    )) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(path);
    await screen.text(/a measurement travels with “Lifebuoy orange”/);
    await screen.text(/Spectrumembedded/);
    await screen.button('Measurements as CxF');
    expect((await harness.downloaded('livery.cxf')).toString()).toMatch(/SpotInkName="Lifebuoy orange"/);
  });

  it('that cannot be changed so say why, and stay as they are', async () => {
    await screen.fill('Name', 'Hull navy');
    await screen.page.keyboard.press('Enter');
    await screen.text(/there is an ink “Hull navy” already\. Merge the two/);
    await screen.text(/Lifebuoy orangespot · measured/);
  });

  it('are printed in process inks or over others, on another paper, and saved as a new file', async () => {
    await choose('Hull navy');
    await screen.button('Print over what lies below');
    await screen.text(/“Hull navy” is printed over what lies below it/);
    await screen.button('Print in process inks');
    await screen.text(/“Hull navy” is printed in process inks/);
    await screen.page.waitForFunction(
      () => !document.querySelector('.Pdf-inks')?.textContent?.includes('Hull navy'),
    );
    await screen.page.waitForFunction(() => document.querySelectorAll('.Pdf-intent option').length > 1);
    await screen.page.$eval('.Pdf-intent select', (field) => {
      const select = field as HTMLSelectElement;
      const paper = [...select.options].find((o) => /^Uncoated/.test(o.text))!;
      select.value = paper.value;
      select.dispatchEvent(new Event('change', { bubbles: true }));
    });
    await screen.text(/printed on Uncoated offset/);
    await screen.button('Save as new file');
    const fresh = await saved();
    expect(Buffer.compare(Buffer.from(fresh.subarray(0, old.length)), Buffer.from(old))).not.toBe(0);
    expect(await names(fresh)).not.toContain('Hull navy');
    expect((await PdfInks.open(fresh)).facts().outputIntent).toMatchObject({ profile: true });
    for (let i = 0; i < 3; i++) await screen.button('Undo');
    await screen.text(/Hull navyspot/);
  });

  it('are put in another printing order', async () => {
    await choose('Lifebuoy orange');
    await screen.button('Print Lifebuoy orange earlier');
    await screen.text(/printed in the order/);
    expect(screen.errors).toEqual([]);
  });
});

it('what is no PDF opens as it does anywhere, and a damaged one says so', async () => {
  await screen.drop([{ name: 'broken.pdf', bytes: '%PDF-1.7\nnothing' }]);
  await screen.text(/the PDF is damaged\. Export or download it again/);
  await screen.text(/livery\.pdf/);
  await screen.drop([{ name: 'ropes.gpl', bytes: 'GIMP Palette\nName: Ropes\n#\n138 106 60\tHemp\n' }]);
  await screen.text(/Open 1 file/);
});
