import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readArtwork } from '../../core/artwork/index.ts';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  const library = libraryOf('Shirt', {
    House: [
      ['House blue', '#1f4e8c'],
      ['Chalk', '#f4f1e8'],
    ],
    'For the cutter': [['Cutting', '#ef6a18']],
  });
  library.groups[0]!.swatches[0]!.code = 'HB 612';
  library.groups[1]!.swatches[0]!.kind = 'technical';
  id = await harness.keep(library);
  screen = await harness.page('/');
});
afterAll(() => harness?.stop());

const shirt = `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="80mm" viewBox="0 0 100 80">
  <rect id="cloth" width="100" height="80" fill="#ffffff"/>
  <g id="sun" fill="#f2c21b"><circle cx="30" cy="40" r="20"/><path d="M60 20h20v40h-20z"/></g>
  <path id="stitching" d="M5 75H95" fill="none" stroke="#333333" stroke-width="2"/>
</svg>
`;
/** The lines of the list: what a colour is now, and what its parts are called. */
const rows = () =>
  screen.page.$$eval('[aria-label="Colours of the artwork"] [role=option]', (list) =>
    list.map((e) => [...e.querySelectorAll('.ColorList-words > span')].map((s) => s.textContent ?? '')),
  );
const rowIs = (at: number, name: string) =>
  screen.page.waitForFunction(
    (i, wanted) =>
      document
        .querySelectorAll('[aria-label="Colours of the artwork"] [role=option]')
        [i]?.querySelector('.ColorList-words > span')?.textContent === wanted,
    { timeout: 30_000 },
    at,
    name,
  );
/** Waits until a colour is seen in the drawing. */
const seen = (hex: string) =>
  screen.page.waitForFunction(
    (wanted) => {
      const image = document.querySelector<HTMLImageElement>('[data-work] img');
      if (!image?.complete || image.naturalWidth === 0) return false;
      const canvas = document.createElement('canvas');
      canvas.width = 600;
      canvas.height = 480;
      const context = canvas.getContext('2d')!;
      context.drawImage(image, 0, 0, 600, 480);
      const { data } = context.getImageData(0, 0, 600, 480);
      const n = Number.parseInt(wanted.slice(1), 16);
      for (let i = 0; i < data.length; i += 4)
        if (data[i] === n >> 16 && data[i + 1] === ((n >> 8) & 255) && data[i + 2] === (n & 255)) return true;
      return false;
    },
    { timeout: 30_000, polling: 200 },
    hex,
  );
const pressed = async (key: string, ...held: ('Control' | 'Shift' | 'Alt')[]) => {
  for (const h of held) await screen.page.keyboard.down(h);
  await screen.page.keyboard.press(key as 'z');
  for (const h of held) await screen.page.keyboard.up(h);
};

describe('from a dropped drawing to a recoloured one', () => {
  it('begins with what to do, and takes a dropped drawing', async () => {
    await screen.go(`/libraries/${id}/apply`);
    await screen.text(/Put the colours on the artwork/);
    await screen.drop([{ name: 'shirt.svg', bytes: shirt }]);
    await screen.text(/3 colours in 4 parts/);
    expect(await rows()).toEqual([
      ['#FFFFFF, as drawn', 'cloth · 78 %'],
      ['#F2C21B, as drawn', 'sun · 2 parts'],
      ['#333333, as drawn', 'stitching · 2 %'],
    ]);
    await screen.text(/100 × 80 mm/);
  });

  it('by keyboard alone: the colour in the list, then the number of the customer’s own blue', async () => {
    await screen.tabTo(/^Colours of the artwork/);
    await pressed('ArrowDown');
    await pressed('ArrowDown');
    await screen.find('combobox', 'What sun becomes');
    // a digit goes to the field at once
    await screen.page.keyboard.type('612');
    await screen.page.waitForFunction(
      () => document.querySelector('[data-paint-field]')?.getAttribute('aria-expanded') === 'true',
    );
    await pressed('Enter');
    await rowIs(1, 'House blue');
    await seen('#1f4e8c');
    // the first change begins a colourway, and what was drawn stays
    await screen.find('button', 'Colourway');
    await screen.text(/1 of 3 colours from the library/);
  });

  it('goes out as SVG with nothing else changed, by a letter', async () => {
    await screen.button('SVG');
    const out = (await harness.downloaded('shirt Colourway.svg')).toString();
    expect(out).toBe(shirt.replace('#f2c21b', '#1f4e8c'));
  });

  it('follows the swatch when that is recoloured in Arrange, and undo goes back through all of it', async () => {
    await screen.click('link', 'Arrange');
    await screen.page.waitForSelector('.Mosaic-name');
    await screen.choose('House blue');
    await screen.fill('Recolour', '#0a2a5c');
    await pressed('Enter');
    await screen.click('link', 'Apply');
    await seen('#0a2a5c');
    await pressed('z', 'Control');
    await seen('#1f4e8c');
    await pressed('z', 'Control');
    await rowIs(1, '#F2C21B, as drawn');
    await pressed('z', 'Control', 'Shift');
    await rowIs(1, 'House blue');
  });

  it('is there after a reload, and after the server was killed', async () => {
    await screen.text(/saved/);
    await screen.reload();
    await rowIs(1, 'House blue');
    await harness.halt();
    await harness.serve();
    await screen.reload();
    await rowIs(1, 'House blue');
    await seen('#1f4e8c');
  });
});

describe('parts', () => {
  /** Points at a place of the drawing, in mm of the shirt. */
  const at = async (x: number, y: number) => {
    const box = (await (await screen.page.$('[data-work]'))!.boundingBox())!;
    return [box.x + (x / 100) * box.width, box.y + (y / 80) * box.height] as const;
  };

  it('light up in the list when the hand is over them, and the other way round', async () => {
    await screen.page.waitForFunction(() => document.querySelector('[data-work] img'));
    // the map of the parts comes a moment after the drawing
    await screen.page.waitForFunction(async () => {
      const work = document.querySelector('[data-work]')!;
      const { left, top, width, height } = work.getBoundingClientRect();
      work.dispatchEvent(
        new PointerEvent('pointermove', {
          ...{ bubbles: true, isPrimary: true, clientX: left + 0.7 * width, clientY: top + 0.5 * height },
        }),
      );
      await new Promise((r) => setTimeout(r, 50));
      return (
        document.querySelector('[data-over=true]')?.textContent?.includes('sun') &&
        document.querySelector('[data-lit]')
      );
    });
    await screen.page.mouse.move(...(await at(50, 5)));
    await screen.page.waitForFunction(() =>
      document.querySelector('[data-over=true]')?.textContent?.includes('cloth'),
    );
    await screen.text(/cloth · #FFFFFF · 1 part/);
  });

  it('change alone when only this one is meant', async () => {
    await screen.page.mouse.click(...(await at(70, 40)));
    await screen.button('only this one');
    await screen.button('Make sun Chalk');
    await seen('#f4f1e8');
    expect((await rows()).map(([now]) => now)).toEqual([
      '#FFFFFF, as drawn',
      'House blue',
      'Chalk',
      '#333333, as drawn',
    ]);
    await pressed('z', 'Control');
    await screen.page.waitForFunction(() => document.querySelectorAll('.ColorList-line').length === 3);
  });

  it('take the colour of another part with Alt', async () => {
    await screen.page.mouse.click(...(await at(50, 75)));
    await screen.page.waitForFunction(() =>
      document.querySelector('[aria-selected=true]')?.textContent?.includes('stitching'),
    );
    await screen.page.keyboard.down('Alt');
    await screen.page.mouse.click(...(await at(30, 40)));
    await screen.page.keyboard.up('Alt');
    await rowIs(2, 'House blue');
    await pressed('z', 'Control');
    await rowIs(2, '#333333, as drawn');
  });

  it('take a swatch that is dropped on them', async () => {
    const chip = (await screen.page.$('[aria-label="Paint with"] [aria-label$="Chalk"]'))!;
    const from = (await chip.boundingBox())!;
    const [x, y] = await at(50, 5);
    await screen.page.evaluate(
      (fx, fy, tx, ty) => {
        const chip = document.elementFromPoint(fx, fy)!.closest('button')!;
        const transfer = new DataTransfer();
        const say = (on: Element, type: string, cx: number, cy: number) =>
          on.dispatchEvent(
            new DragEvent(type, {
              bubbles: true,
              cancelable: true,
              dataTransfer: transfer,
              clientX: cx,
              clientY: cy,
            }),
          );
        say(chip, 'dragstart', fx, fy);
        const work = document.querySelector('[data-work]')!;
        say(work, 'dragover', tx, ty);
        say(work, 'drop', tx, ty);
      },
      from.x + 3,
      from.y + 3,
      x,
      y,
    );
    await rowIs(0, 'Chalk');
  });

  it('follow others, lighter by so much', async () => {
    await screen.page.click('#color-2');
    await screen.page.select('.Becomes-follows', '#f2c21b');
    await rowIs(2, 'follows sun');
    await screen.fill('Lighter than what it follows L*', '15');
    await pressed('Enter');
    await rowIs(2, 'follows sun, +15 L*');
    await screen.page.click('#color-1');
    await screen.text(/Dyed to match: stitching/);
    // what follows it cannot lead it
    expect(await screen.page.$$eval('.Becomes-follows option', (o) => o.map((e) => e.textContent))).toEqual([
      'nothing',
      'cloth',
    ]);
  });
});

describe('colourways', () => {
  it('are in one step, seen before they are kept, renamed, compared and deleted', async () => {
    await screen.button('New colourway');
    await (await screen.find('combobox', 'Assign colours')).select('random');
    await screen.page.waitForSelector('.Dialogs-preview[src]');
    await screen.button('Another');
    await screen.text(/3 of 3 colours get a swatch/);
    await screen.fill('Name of the colourway', 'By chance');
    await screen.button('Keep');
    await screen.page.waitForFunction(
      () => document.querySelector('[aria-pressed=true][aria-label="By chance"]') !== null,
    );
    await screen.button('Rename');
    await screen.page.keyboard.type('Second\n');
    await screen.find('button', 'Second');
    await screen.button('Compare…');
    await screen.text(/Compare colourways/);
    // as pictures, the first beside the others that are chosen
    const pictures = () =>
      screen.page.$$eval('.Dialogs-figure img', (all) => all.map((i) => i.getAttribute('alt')));
    await expect.poll(pictures).toEqual(['Second', 'Colourway']);
    await screen.button('As drawn');
    await expect.poll(pictures).toEqual(['Second', 'Colourway', 'As drawn']);
    const first = () => screen.page.$eval('.Dialogs-figure img', (i) => i.getAttribute('src'));
    const before = await first();
    await screen.click('checkbox', 'Colour only the parts that differ');
    await expect.poll(first).not.toBe(before);
    expect((await screen.page.$$('.Dialogs-strays > li')).length).toBeGreaterThan(0);
    await screen.button('Close');
    await screen.button('Delete');
    await screen.text(/Colourway Second deleted/);
    await screen.button('Undo');
    await screen.find('button', 'Second');
    await screen.button('As drawn');
    await rowIs(0, '#FFFFFF, as drawn');
    await screen.page.goBack();
    await screen.button('Colourway');
    await rowIs(0, 'Chalk');
  });

  it('are the same in a second tab, which sees what is done in the first', async () => {
    const other = await harness.page(`/libraries/${id}/apply`);
    await other.text(/3 colours in 4 parts/);
    // a page that nobody sees is not drawn
    await screen.page.bringToFront();
    await screen.page.click('#color-1');
    await screen.button('Make sun Chalk');
    await rowIs(1, 'Chalk');
    await other.page.bringToFront();
    await other.page.waitForFunction(
      () => document.querySelectorAll('.ColorList-words')[1]?.firstElementChild?.textContent === 'Chalk',
      { timeout: 30_000 },
    );
    // it stays open: where files are saved is forgotten with the last page that was reported
    await screen.page.bringToFront();
    await pressed('z', 'Control');
    await rowIs(1, 'House blue');
  });
});

describe('lines, plates and files', () => {
  it('draws a cut line around a part, which is an exact name on a plate of its own', async () => {
    await screen.page.click('#color-1');
    await screen.button('Line around it…');
    await screen.text(/Round at the corners/);
    await screen.button('Draw the line');
    await screen.text(/0\.25 mm, 2 mm outside/);
    await screen.button('Separations');
    await screen.text(/6 plates|5 plates/);
    const names = await screen.page.$$eval('.Separations-name', (list) => list.map((e) => e.textContent));
    expect(names.at(-1)).toMatch(/^T?Cutting/);
    const box = (await (await screen.page.$('[data-work]'))!.boundingBox())!;
    await screen.page.mouse.move(box.x + box.width * 0.7, box.y + box.height * 0.5);
    await screen.page.waitForFunction(() =>
      /\d+ %$/.test(document.querySelector('.Separations-total')?.textContent ?? ''),
    );
    await screen.button('Recolour');
  });

  it('goes out as PDF with separations and as PNG of a number of pixels to an inch', async () => {
    await screen.button('PDF with separations');
    const pdf = (await harness.downloaded('shirt Colourway.pdf')).toString('latin1');
    expect(pdf).toMatch(/\/Separation \/Cutting/);
    // 100 by 80 mm in points
    expect(pdf).toMatch(/\/TrimBox \[0 0 283\.46\d* 226\.77\d*\]/);
    await screen.button('PNG');
    const png = await sharp(await harness.downloaded('shirt Colourway.png')).metadata();
    expect([png.width, png.height, png.density]).toEqual([1181, 945, 300]);
  });

  it('lets pixels be worth something, and files have that size', async () => {
    await screen.drop([
      {
        name: 'badge.svg',
        bytes:
          '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="150"><rect id="badge" width="300" height="150" fill="#102030"/></svg>',
      },
    ]);
    await screen.button('300 × 150 px');
    await screen.fill('or so wide mm', '60');
    await pressed('Enter');
    await screen.text(/60 × 30 mm, on paper and in every file/);
    await screen.dismissDialog();
    await screen.button('SVG');
    const out = (await harness.downloaded('badge.svg')).toString();
    expect(readArtwork(out).size).toMatchObject({ width: 60, height: 30, unit: 'mm' });
  });

  it('repairs codes that a converter has shifted, in one step', async () => {
    await screen.drop([
      {
        name: 'shifted.svg',
        bytes:
          '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="20mm" viewBox="0 0 40 20"><rect id="a" width="20" height="20" fill="#204e8d"/><rect id="b" x="20" width="20" height="20" fill="#00ff00"/></svg>',
      },
    ]);
    await screen.text(/2 off the library/);
    await screen.button('Repair 2');
    await screen.text(/2 colours off the palette/);
    await screen.button('Repair 1 of 2');
    await screen.find('button', 'Repair 1');
    await seen('#1f4e8c');
  });

  it('puts its palette in the tray, and in a group of its name', async () => {
    await screen.button('Palette from this artwork');
    await screen.button('As a group');
    await screen.text(/2 swatches in a group of their own/);
    await screen.click('link', 'Arrange');
    await screen.page.waitForSelector('.Mosaic-name');
    expect(await screen.names()).toEqual(expect.arrayContaining(['a', 'b']));
    await screen.click('link', 'Gather');
    await screen.click('link', 'Artwork');
    await screen.button('shirt.svg');
    await screen.text(/3 colours in 4 parts/);
    await screen.button('Put 3 in the tray');
    await screen.text(/3 colours in the tray/);
  });
});

describe('odd input', () => {
  it('hostile drawings do nothing and are reported', async () => {
    await screen.go(`/libraries/${id}/apply`);
    await screen.text(/Paint with/);
    const nested = `<svg xmlns="http://www.w3.org/2000/svg">${'<g>'.repeat(10_000)}<rect width="9" height="9"/>${'</g>'.repeat(10_000)}</svg>`;
    const hostile = `<!DOCTYPE svg [<!ENTITY a "x"><!ENTITY b "&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg" width="1e308" height="9" onload="window.acted=1"><script>window.acted=1</script><image href="http://127.0.0.1:9/out.png"/><g id="u"><use href="#u"/></g><foreignObject><img xmlns="http://www.w3.org/1999/xhtml" src="x" onerror="window.acted=1"/></foreignObject><rect id="kept" width="9" height="9" fill="#c8102e"/></svg>`;
    await screen.drop([
      { name: 'hostile.svg', bytes: hostile },
      { name: 'nested.svg', bytes: nested },
      { name: 'cut.svg', bytes: '<svg xmlns="http://www.w3.org/2000/svg"><rect' },
    ]);
    await screen.text(/hostile\.svg: Taken out: .*scripts/);
    await screen.text(/nested\.svg: .*deep/);
    await screen.text(/cut\.svg: .*line 1/);
    expect(await screen.page.evaluate(() => Reflect.get(window, 'acted'))).toBeUndefined();
    await screen.text(/kept/);
  });

  it('a picture of flat colours is recoloured; a photograph is reported to be none', async () => {
    const flat = await sharp(Buffer.from(shirt.replace('100mm', '400').replace('80mm', '320')))
      .flatten({ background: '#ffffff' })
      .png()
      .toBuffer();
    const noise = Buffer.from(
      Array.from({ length: 300 * 300 * 3 }, (_, i) => (i * 7919 + ((i * i) >> 5)) & 255),
    );
    const photo = await sharp(noise, { raw: { width: 300, height: 300, channels: 3 } })
      .png()
      .toBuffer();
    await screen.drop([
      { name: 'flat.png', bytes: flat },
      { name: 'photo.png', bytes: photo },
    ]);
    await screen.text(/photo\.png: .*not a flat drawing/);
    await screen.button('flat.png 3 parts');
    await screen.text(/3 colours in 3 parts/);
    await screen.page.click('#color-1');
    await screen.button('Make #F2C21B House blue');
    await rowIs(1, 'House blue');
    await screen.button('PNG');
    const { data, info } = await sharp(await harness.downloaded('flat Colourway.png'))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const pixel = (x: number, y: number) =>
      `#${data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3).toString('hex')}`;
    expect([pixel(120, 160), pixel(200, 20)]).toEqual(['#1f4e8c', '#ffffff']);
  });

  it('a PDF of two pages is recoloured on both, separated, and saved behind the old file', async () => {
    const { PDFDocument, cmyk } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    for (const wide of [200, 300]) {
      const page = made.addPage([wide, 160]);
      page.drawRectangle({ x: 20, y: 20, width: 100, height: 60, color: cmyk(0, 0.6, 0.9, 0) });
      page.drawText(`Hull ${wide}`, { x: 20, y: 120, size: 24, color: cmyk(0, 0, 0, 1) });
    }
    const old = await made.save();
    await screen.drop([{ name: 'fleet.pdf', bytes: old }]);
    await screen.text(/2 colours in 4 parts/);
    await screen.text(/70\.6 × 56\.4 mm/);
    await screen.page.click('#color-0');
    await screen.button('Make #F07D26 House blue');
    await rowIs(0, 'House blue');
    await seen('#1f4e8c');
    await screen.button('Next page');
    await screen.text(/105\.8 × 56\.4 mm/);
    await seen('#1f4e8c');
    await screen.button('Separations');
    await screen.text(/Show Cyan/);
    await screen.button('Recolour');
    await screen.button('Save PDF');
    const now = await harness.downloaded('fleet Colourway.pdf');
    expect(Buffer.compare(now.subarray(0, old.length), Buffer.from(old))).toBe(0);
    const { PdfArtwork } = await import('../../core/pdf/artwork.ts');
    const { coated } = await import('../../core/testing.ts');
    const again = await PdfArtwork.open(new Uint8Array(now), coated);
    expect(again.parts.map((p) => p.hex === '#f07d26')).toEqual([false, false, false, false]);
  });

  it('a damaged PDF says so, and the work that was open stays', async () => {
    await screen.drop([{ name: 'bad.pdf', bytes: Buffer.from('%PDF-1.7\nnothing') }]);
    await screen.text(/bad\.pdf: the PDF is damaged/);
    await rowIs(0, 'House blue');
  });

  it('names of 200 letters and in Arabic stand where they are, and taking a work away can be undone', async () => {
    const long = `${'لوحة '.repeat(40)}.svg`;
    await screen.drop([{ name: long, bytes: shirt.replace('id="sun"', 'id="شمس الصباح"') }]);
    await screen.text(/شمس الصباح/);
    const wide = await screen.page.evaluate(() => document.documentElement.scrollWidth > innerWidth);
    expect(wide).toBe(false);
    await screen.button(`Take ${long} away`);
    await screen.text(/was removed/);
    await screen.button('Undo');
    await screen.text(/شمس الصباح/);
  });

  it('an empty library says so, and a typed code does without swatches', async () => {
    const empty = await harness.keep(libraryOf('Empty', {}));
    await screen.go(`/libraries/${empty}/apply`);
    await screen.drop([{ name: 'shirt.svg', bytes: shirt }]);
    await screen.text(/The library is empty/);
    await screen.page.click('#color-1');
    await screen.page.keyboard.type('#8a1c24');
    await screen.text(/as typed, no swatch/);
    await pressed('Enter');
    await rowIs(1, '#8A1C24');
    await screen.page.keyboard.type('zzzz');
    await screen.text(/Nothing of that name or number/);
    expect(screen.errors).toEqual([]);
  });
});
