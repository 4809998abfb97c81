import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PdfInks } from '../../core/pdf/inks.ts';
import { plates } from '../../core/pdf/testing.ts';
import { type Board, boardsOf, gradientThrough, type Library } from '../../core/swatch/index.ts';
import { coated, libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// Boards: made, laid out, weighed, presented, and taken as files, as a hand does it.

let harness: Harness;
let screen: Screen;
let id = '';
const library = libraryOf('Harbour', {
  Sky: [
    ['Slate', '#455a66'],
    ['Night', '#263a46'],
    ['Fog', '#83948f'],
  ],
  Hull: [
    ['Red', '#b3262b'],
    ['Deck', '#e2d2b4'],
  ],
});
library.groups[1]!.swatches[0]!.kind = 'spot';
library.items = [gradientThrough('gr', 'Slate to fog', library.groups[0]!.swatches, 'oklab')];

beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(library);
  screen = await harness.page(`/libraries/${id}/arrange`);
  await screen.page
    .browserContext()
    .overridePermissions(harness.url, ['clipboard-read', 'clipboard-write', 'clipboard-sanitized-write']);
  await screen.page.bringToFront();
});
afterAll(() => harness?.stop());

const kept = async (): Promise<Board[]> => {
  const reply = await fetch(`${harness.url}/libraries/${id}/changes`);
  return boardsOf(((await reply.json()) as { library: Library }).library);
};
const board = async (name: string) => (await kept()).find((b) => b.name === name)!;
/** The colours on the page, with how large each is there, in order. */
const areas = () =>
  screen.page.$$eval('[role=img] rect[data-of]', (rects) =>
    rects.map((r) => ({
      fill: r.getAttribute('fill')!,
      area: Number(r.getAttribute('width')) * Number(r.getAttribute('height')),
    })),
  );
const on = (name: string) =>
  screen.page.evaluate((n) => {
    const all = [...document.querySelectorAll<HTMLElement>('[aria-label="On this board"] button')];
    all.find((b) => b.textContent?.startsWith(n))!.click();
  }, name);

describe('a board', () => {
  it('is made of the library in one step, and follows it', async () => {
    await screen.button('Board');
    await screen.text(/Colours on a page that lays itself out/);
    await screen.button('Make a board of the library');
    await screen.text(/5 colours · A4 landscape · 297 × 210 mm/);
    await expect.poll(async () => (await areas()).length).toBe(5);
    // all of one weight are of one size
    for (const { area } of await areas()) expect(area).toBeCloseTo((await areas())[0]!.area, 0);
    await expect.poll(async () => (await kept()).length).toBe(1);
    await screen.button('Mosaic');
    await screen.names();
    await screen.choose('Night');
    await screen.fill('Name', 'Night water');
    await screen.page.keyboard.press('Enter');
    await screen.button('Board');
    await screen.page.waitForFunction(() =>
      [...document.querySelectorAll('[role=img] text')].some((t) => t.textContent === 'Night water'),
    );
  });

  it('takes swatches that are dragged onto its view', async () => {
    await screen.button('Mosaic');
    await screen.names();
    await screen.choose('Fog');
    const [from, to] = await Promise.all(
      ['[role=option][aria-selected=true]', '[data-board-drop]'].map(async (at) =>
        (await screen.page.waitForSelector(at))!.boundingBox(),
      ),
    );
    const { mouse } = screen.page;
    await mouse.move(from!.x + 20, from!.y + 20);
    await mouse.down();
    await mouse.move(from!.x + 40, from!.y + 10, { steps: 4 });
    await mouse.move(to!.x + to!.width / 2, to!.y + to!.height / 2, { steps: 8 });
    await screen.page.waitForSelector('[data-board-drop=true]');
    await mouse.up();
    await screen.text(/“Fog” is on the board “Harbour”/);
    await expect.poll(async () => (await board('Harbour')).data.objects.length).toBe(3);
    // nothing has moved in the library
    expect((await screen.names()).slice(0, 3)).toEqual(['Slate', 'Night water', 'Fog']);
    await screen.button('Undo');
    await expect.poll(async () => (await board('Harbour')).data.objects.length).toBe(2);
    await screen.button('Board');
  });

  it('of what is chosen opens at once; weights move its areas, and undo brings them back', async () => {
    await screen.button('Mosaic');
    await screen.names();
    await screen.choose('Red');
    await screen.page.keyboard.down('Shift');
    await screen.choose('Deck');
    await screen.page.keyboard.up('Shift');
    await screen.button('Make…');
    await screen.click('menuitem', 'a board of the 2 chosen');
    await screen.text(/2 colours/);
    await on('Red');
    await screen.text(/Red on this board/);
    const slider = await screen.find('slider', 'Weight');
    await slider.focus();
    for (let i = 0; i < 4; i++) await screen.page.keyboard.press('ArrowRight');
    await expect
      .poll(async () => {
        const [red, deck] = await areas();
        return red && deck ? red.area / deck.area : 0;
      })
      .toBeCloseTo(3, 3);
    await expect.poll(async () => (await kept()).at(-1)?.data.objects[0]?.weight).toBe(6);
    for (let i = 0; i < 4; i++) await screen.click('button', 'Undo');
    await expect.poll(async () => (await kept()).at(-1)?.data.objects[0]?.weight).toBe(2);
  });

  it('takes more of the library and a line of text, is put in order, and says what was deleted', async () => {
    await screen.button('Add to the board…');
    await screen.click('button', 'Gradients 1');
    await screen.click('checkbox', 'Slate to fog');
    await screen.click('button', 'Swatches 5');
    await screen.click('checkbox', 'Slate');
    await screen.button('Add 2 objects');
    // two colours and a gradient: a pair of the colours, and the gradient by itself
    await screen.button('Add to the board…');
    await screen.click('checkbox', 'Fog');
    await screen.click('checkbox', 'Deck');
    await screen.click('button', 'Gradients 1');
    await screen.click('checkbox', 'Slate to fog');
    await screen.button('As a pair');
    await expect
      .poll(async () =>
        (await kept())
          .at(-1)
          ?.data.objects.slice(4)
          .map((o) => [o.of, o.refs.length]),
      )
      .toEqual([
        ['pair', 2],
        ['gradient', 1],
      ]);
    await screen.click('button', 'Undo');
    await screen.button('Add to the board…');
    await screen.button('Text');
    await screen.fill('Text on the board', 'Everything that is touched is in brass.');
    await screen.button('Add the text');
    await screen.page.waitForFunction(() =>
      [...document.querySelectorAll('[role=img] text')]
        .map((t) => t.textContent)
        .join(' ')
        .includes('touched is in brass'),
    );
    await on('Deck');
    await screen.button('Earlier on the board');
    await expect
      .poll(async () => (await kept()).at(-1)?.data.objects.map((o) => o.name))
      .toEqual(['Deck', 'Red', 'Slate to fog', 'Slate', 'Everything that is touched is in brass.']);
    await screen.button('Mosaic');
    await screen.names();
    await screen.choose('Slate');
    await screen.page.keyboard.press('Delete');
    await screen.button('Board');
    await screen.text(/1 object is not in the library any more: Slate/);
    await screen.button('Remove from the board');
    await expect.poll(async () => (await kept()).at(-1)?.data.objects.length).toBe(4);
  });

  it('is set: its layout, page, title, note and labels', async () => {
    await screen.fill('Title', 'Hull and deck');
    await screen.page.keyboard.press('Enter');
    await screen.button('Ledger');
    await screen.fill('Note', 'For the yard.');
    await screen.page.keyboard.press('Enter');
    await screen.click('checkbox', 'CMYK');
    await screen.page.waitForFunction(() =>
      [...document.querySelectorAll('[role=img] text')].some((t) => t.textContent === 'CMYK'),
    );
    const field = await screen.find('combobox', 'Page');
    await field.select('a3');
    await screen.text(/A3 landscape · 420 × 297 mm/);
    await expect
      .poll(async () => (await board('Hull and deck'))?.data)
      .toMatchObject({
        layout: 'ledger',
        note: 'For the yard.',
        page: { size: 'a3' },
        labels: ['name', 'code', 'hex', 'cmyk'],
      });
    expect(screen.errors).toEqual([]);
  });

  it('is taken as PDF with plates, as PNG of the pixels that are wanted, as SVG with text, and as chips', async () => {
    await screen.button('Blocks');
    await screen.button('PDF with separations');
    const pdf = new Uint8Array(await harness.downloaded('Hull and deck.pdf'));
    expect((await PdfInks.open(pdf)).inks(coated).map((i) => i.name)).toContain('Red');
    const red = (await plates(pdf)).get('Red')!;
    expect(red.filter((v) => v < 10).length).toBeGreaterThan(1000);
    await screen.button('PNG');
    const picture = sharp(await harness.downloaded('Hull and deck.png'));
    const { width, height, density } = await picture.metadata();
    expect([width, height, density]).toEqual([2480, 1754, 150]);
    // the letters are there, drawn without the fonts of the page
    const { data } = await picture
      .extract({ left: 0, top: 1600, width: 900, height: 100 })
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(data.some((v) => v < 80)).toBe(true);
    await screen.button('SVG');
    const svg = (await harness.downloaded('Hull and deck.svg')).toString();
    expect(svg).toMatch(/<text[^>]*>Hull and deck<\/text>/);
    await screen.button('Chips as PNG');
    const chips = unzipSync(new Uint8Array(await harness.downloaded('Hull and deck chips.zip')));
    expect(Object.keys(chips)).toEqual(['Deck.png', 'Red.png']);
    const { data: chip } = await sharp(chips['Red.png']!)
      .extract({ left: 20, top: 20, width: 1, height: 1 })
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([...chip.subarray(0, 3)]).toEqual([0xb3, 0x26, 0x2b]);
  });

  it('is copied as text, presented page by page, and shows one colour as large as the screen', async () => {
    await screen.button('Export options');
    await screen.button('Copy as text');
    await expect
      .poll(() => screen.page.evaluate(() => navigator.clipboard.readText()))
      .toBe('Deck\t#E2D2B4\nRed\t#B3262B');
    // what would be printed, while the dialog is open
    await screen.page.evaluate(`
      window.print = () => {
        window.printed = [...document.querySelectorAll('[data-printed] img')].map((i) => i.naturalWidth > 0);
        setTimeout(() => window.dispatchEvent(new Event('afterprint')), 50);
      };
    `);
    await screen.button('Print…');
    await screen.page.waitForFunction('window.printed');
    expect(await screen.page.evaluate('window.printed')).toEqual([true]);
    await screen.page.waitForFunction(() => !document.querySelector('[data-printed]'));
    await screen.page.keyboard.press('Escape');
    await screen.button('Present');
    await screen.click('button', 'Red as large as the screen');
    const large = await (await screen.page.waitForSelector('[role=img][aria-label="Red"]'))!.boundingBox();
    expect(large!.width).toBeGreaterThan(1000);
    expect(large!.height).toBeGreaterThan(600);
    await screen.page.keyboard.press('ArrowLeft');
    await screen.page.waitForSelector('[role=img][aria-label="Deck"]');
    await screen.button('Beside another');
    await screen.click('button', 'Red as large as the screen');
    const both = await screen.page.$$eval('[role=img][aria-label]:not(svg)', (all) =>
      all.map((e) => [e.getAttribute('aria-label'), e.getBoundingClientRect().width]),
    );
    expect(both).toEqual([
      ['Deck', expect.closeTo(640, -1)],
      ['Red', expect.closeTo(640, -1)],
    ]);
    await screen.button('Back to the page');
    await screen.button('Close');
    await screen.text(/On this board/);
    expect(screen.errors).toEqual([]);
  });

  it('is deleted with a way back', async () => {
    await screen.click('button', 'Delete Hull and deck');
    await screen.text(/The board “Hull and deck” was deleted/);
    await screen.press('Undo');
    await expect.poll(async () => (await kept()).length).toBe(2);
  });
});

it('goes along in a kit', async () => {
  await screen.go(`/libraries/${id}/hand-over`);
  await screen.text(/2 boards/);
  await screen.text(/and the boards/);
  await screen.button('Download kit');
  const kit = unzipSync(new Uint8Array(await harness.downloaded('Harbour kit.zip')));
  const names = Object.keys(kit).filter((n) => n.startsWith('Boards/'));
  expect(names).toEqual(['Boards/Harbour.pdf', 'Boards/Hull and deck.pdf']);
});
