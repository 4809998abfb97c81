import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp, { type Sharp } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { deltaE00, parseColor, toLab } from '../../core/color/index.ts';
import { coated, libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;
beforeAll(async () => {
  harness = await Harness.start();
  screen = await harness.page('/gather');
});
afterAll(() => harness?.stop());

const hexes = () =>
  screen.page.$$eval('.PaletteList-row', (rows) => rows.map((r) => (r as HTMLElement).title));
const names = () => screen.page.$$eval('.PaletteList-name', (rows) => rows.map((r) => r.textContent ?? ''));
const takes = () => screen.page.$$eval('.take-row-name', (list) => list.map((e) => e.textContent ?? ''));

/** Where a place in the picture is on the screen; places are parts of its width and height. */
async function spot(x: number, y: number): Promise<[number, number]> {
  const area = await screen.page.waitForSelector('.PictureView-area', { visible: true });
  const box = (await area!.boundingBox())!;
  return [box.x + x * box.width, box.y + y * box.height];
}
const click = async (x: number, y: number) => screen.page.mouse.click(...(await spot(x, y)));
async function drag(from: [number, number], ...to: [number, number][]) {
  await screen.page.mouse.move(...(await spot(...from)));
  await screen.page.mouse.down();
  for (const place of to) await screen.page.mouse.move(...(await spot(...place)), { steps: 6 });
  await screen.page.mouse.up();
}
/** Sets a slider from its beginning by this many steps of a key. */
async function slide(name: string, steps: number, key: 'ArrowRight' | 'PageUp' = 'ArrowRight') {
  await (await screen.find('slider', name)).focus();
  await screen.page.keyboard.press('Home');
  for (let i = 0; i < steps; i++) await screen.page.keyboard.press(key);
}
async function onlyPicture(name: string, bytes: Uint8Array) {
  while (await screen.page.$('[aria-label^="Close "]')) await screen.page.click('[aria-label^="Close "]');
  await screen.drop([{ name, bytes }]);
}

const chips = ['#8a1c24', '#14304a', '#d9a441', '#2f7d6b', '#6d4a7c', '#c76a9b'];
/** Six chips in two rows on a page, as large as asked for. */
const chart = (scale = 1, page = '#ffffff') =>
  sharp({ create: { width: 130 * scale, height: 75 * scale, channels: 3, background: page } }).composite(
    chips.map((color, i) => ({
      input: { create: { width: 20 * scale, height: 20 * scale, channels: 3 as const, background: color } },
      left: (10 + 40 * (i % 3)) * scale,
      top: (10 + 35 * Math.floor(i / 3)) * scale,
    })),
  );
/** A wide stripe of sea, one of sand, and a small buoy. */
const shore = () =>
  sharp({ create: { width: 160, height: 120, channels: 3, background: '#14304a' } }).composite([
    { input: { create: { width: 160, height: 40, channels: 3, background: '#d9a441' } }, left: 0, top: 80 },
    { input: { create: { width: 6, height: 6, channels: 3, background: '#c8102e' } }, left: 40, top: 30 },
  ]);
/** Noise in many colours: something to reduce. */
function noise(width = 160, height = 120): Sharp {
  const data = Buffer.alloc(3 * width * height);
  for (let i = 0, state = 7; i < data.length; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    data[i] = ((i / 3 / width / height) * 160 + (state >>> 26)) | 0;
  }
  return sharp(data, { raw: { width, height, channels: 3 } });
}

describe('a chart', () => {
  it('is read square by square, without its page', async () => {
    await screen.drop([{ name: 'chart.png', bytes: await chart().png().toBuffer() }]);
    await screen.button('Exact');
    await screen.text(/Put 6 in the tray/);
    expect(await hexes()).toEqual(chips.map((c) => c.toUpperCase()));
  });

  it('photographed askew is found, and its grid can be corrected', async () => {
    const photo = await chart(6, '#b9ad97').rotate(0).png().toBuffer();
    const askew = await sharp(photo).rotate(2, { background: '#b9ad97' }).jpeg({ quality: 80 }).toBuffer();
    await onlyPicture('photo.jpg', askew);
    await screen.button('Chart');
    await screen.text(/6 chips, read row by row/);
    await screen.text(/Put 6 in the tray/);
    const read = await hexes();
    read.forEach((hex, i) => {
      expect(deltaE00(toLab(parseColor(hex), coated), toLab(parseColor(chips[i]), coated))).toBeLessThan(1);
    });
    const columns = await screen.find('textbox', 'columns');
    await columns.click({ count: 3 });
    await columns.type('2');
    await screen.text(/4 chips, read row by row/);
    await screen.button('Find the chips again');
    await screen.text(/6 chips, read row by row/);
  });

  it('takes colours where the picture is clicked', async () => {
    await onlyPicture('chart.png', await chart().png().toBuffer());
    await screen.text(/Put \d+ in the tray/);
    await screen.button('Point');
    await click(20 / 130, 20 / 75);
    await screen.text(/Put 1 in the tray/);
    expect(await hexes()).toEqual(['#8A1C24']);
    await screen.button('Put 1 in the tray');
    await screen.text(/1 waiting/);
    await screen.button('Empty');
    await screen.button('Restore the last ones');
    await screen.text(/1 waiting/);
  });
});

describe('a take', () => {
  it('is kept beside the others, named, gone back to, deleted and brought back', async () => {
    await onlyPicture('noise.png', await noise().png().toBuffer());
    await screen.fill('How many colours', '24');
    await screen.text(/Put 24 in the tray/);
    await screen.button('New take');
    await screen.fill('How many colours', '5');
    await screen.text(/Put 5 in the tray/);
    await expect.poll(takes).toEqual(['24 colours', '5 colours']);
    await screen.button('24 colours');
    await screen.text(/Put 24 in the tray/);
    await screen.page.keyboard.press('F2');
    await screen.page.keyboard.type('Whole');
    await screen.page.keyboard.press('Enter');
    await expect.poll(takes).toEqual(['Whole', '5 colours']);
    await screen.page.hover('.take-row-take');
    await screen.button('Delete the take Whole');
    await expect.poll(takes).toEqual(['5 colours']);
    await screen.page.click('.toast-toast button');
    await expect.poll(takes).toEqual(['Whole', '5 colours']);
  });

  it('survives a reload, with the points that were clicked', async () => {
    await screen.button('New take');
    await screen.button('Point');
    await click(0.2, 0.3);
    await click(0.8, 0.9);
    await screen.text(/Put 2 in the tray/);
    const before = await hexes();
    await expect
      .poll(async () => (await screen.keptColors()).some((take) => take.endsWith(': 2')), { timeout: 20_000 })
      .toBe(true);
    await screen.reload();
    await screen.text(/Put 2 in the tray/);
    expect(await hexes()).toEqual(before);
    expect(await takes()).toEqual(['Whole', '5 colours', '2 points']);
  });

  it('is kept with the library on the user’s say-so, and is there on another machine', async () => {
    const id = await harness.keep(libraryOf('Kept', { Hull: [['Navy', '#14304a']] }));
    await screen.go(`/libraries/${id}/gather`);
    await screen.text(/stays on this machine/);
    await screen.button('Keep with the library');
    await screen.find('button', 'Kept with the library');
    await screen.button('Whole');
    // takes are sent a moment after the last change
    const sent = screen.page.waitForResponse(
      (r) =>
        r.request().method() === 'PATCH' &&
        // the last of them says how far the palette is from the picture, too
        JSON.parse(r.request().postData() ?? '[]').some(
          (t: { colors: unknown[]; mean: number | null }) => t.colors.length === 12 && t.mean !== null,
        ),
      { timeout: 30_000 },
    );
    await screen.fill('How many colours', '12');
    await screen.text(/Put 12 in the tray/);
    await sent;
    const mine = screen;
    screen = await harness.elsewhere(`/libraries/${id}/gather`);
    await screen.button('Open noise.png');
    await screen.text(/Put 12 in the tray/);
    expect(await takes()).toEqual(['Whole', '5 colours', '2 points']);
    await screen.button('Kept with the library');
    await screen.find('button', 'Keep with the library');
    expect(screen.errors).toEqual([]);
    screen = mine;
  });
});

describe('a picture sent to be kept', () => {
  const about = (part: object = {}) =>
    JSON.stringify({ name: 'a.png', width: 2, height: 2, takes: [], ...part });
  const put = async (library: string, copy: Uint8Array<ArrayBuffer>, said = about()) => {
    const form = new FormData();
    form.set('about', said);
    form.set('copy', new Blob([copy]));
    const response = await fetch(`${harness.url}/libraries/${library}/pictures/p`, {
      method: 'PUT',
      body: form,
    });
    return [response.status, await response.text()] as const;
  };

  it('is refused with the reason when it is none, too large, or the takes are not sound', async () => {
    const id = await harness.keep(libraryOf('Refusing', {}));
    const png = new Uint8Array(await chart().png().toBuffer());
    expect(await put(id, new TextEncoder().encode('no picture'))).toEqual([
      400,
      'The copy is not a picture.',
    ]);
    expect(await put('nowhere', png)).toEqual([404, 'This library does not exist.']);
    expect((await put(id, png, about({ width: 5000 })))[1]).toMatch(/width/);
    expect((await put(id, png, about({ takes: [{ id: 't' }] })))[0]).toBe(400);
    expect((await put(id, png, 'not json'))[0]).toBe(400);
    expect((await put(id, png))[0]).toBe(201);
    const gone = await fetch(`${harness.url}/libraries/${id}/pictures/q`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json' },
      body: '[]',
    });
    expect(gone.status).toBe(404);
    const copy = await fetch(`${harness.url}/libraries/${id}/pictures/p`);
    expect(copy.headers.get('Content-Type')).toBe('image/png');
    expect(new Uint8Array(await copy.arrayBuffer())).toEqual(png);
  });
});

describe('what a palette is taken from', () => {
  beforeAll(async () => {
    await screen.go('/gather');
    await onlyPicture('shore.png', await shore().png().toBuffer());
    await screen.text(/Put 3 in the tray/);
  });

  it('is the region alone, or all but it', async () => {
    await screen.button('rectangle');
    await drag([0.1, 0.7], [0.9, 0.95]);
    await screen.text(/Put 1 in the tray/);
    expect(await hexes()).toEqual(['#D9A441']);
    for (const [edge, at] of Object.entries({ left: 0, top: 80, right: 160, bottom: 120 })) {
      const field = await screen.find('textbox', edge);
      await field.click({ count: 3 });
      await field.type(String(at));
    }
    await screen.click('checkbox', 'All but the region');
    await screen.text(/Put 2 in the tray/);
    expect(await hexes()).toEqual(['#14304A', '#C8102E']);
    await screen.button('freehand');
    await drag([0.15, 0.15], [0.4, 0.15], [0.4, 0.45], [0.15, 0.45], [0.15, 0.15]);
    await expect.poll(hexes).toEqual(['#14304A', '#D9A441']);
    await screen.button('whole picture');
    await screen.text(/Put 3 in the tray/);
  });

  it('is found round the colours that are held', async () => {
    await screen.button('paper');
    await screen.text(/Put 4 in the tray/);
    await screen.fill('How many colours', '2');
    await screen.text(/Put 2 in the tray/);
    expect(await hexes()).toContain('#FFFFFF');
    await screen.button('Start over');
    await screen.fill('How many colours', '3');
    await screen.text(/Put 3 in the tray/);
  });

  it('leans towards small telling colours when it is asked to', async () => {
    await onlyPicture('noise.png', await accented());
    await screen.fill('How many colours', '3');
    await screen.text(/Put 3 in the tray/);
    const near = async () => Math.min(...(await hexes()).map((h) => apart(h, '#c8102e')));
    expect(await near()).toBeGreaterThan(20);
    await slide('Balance, from areas to accents', 7, 'PageUp');
    await expect.poll(near).toBeLessThan(12);
  });

  it('is the mean of cells, which can be clicked', async () => {
    const halves = await sharp({ create: { width: 64, height: 64, channels: 3, background: '#000' } })
      .composite(
        Array.from({ length: 32 }, (_, i) => ({
          input: { create: { width: 1, height: 64, channels: 3 as const, background: '#fff' } },
          left: 2 * i,
          top: 0,
        })),
      )
      .png()
      .toBuffer();
    await onlyPicture('stripes.png', halves);
    await screen.text(/Put 2 in the tray/);
    await slide('Cells, side in pixels', 7);
    await screen.text(/Put 1 in the tray/);
    // half of the light is 188 of 255 in sRGB (IEC 61966-2-1)
    await expect.poll(hexes).toEqual(['#BCBCBC']);
    await screen.button('Point');
    await click(0.5, 0.5);
    await expect.poll(hexes).toEqual(['#BCBCBC']);
  });
});

const apart = (a: string, b: string) => deltaE00(toLab(parseColor(a), coated), toLab(parseColor(b), coated));
/** Greys and blues with a buoy of less than a hundredth. */
async function accented() {
  const width = 200;
  const data = Buffer.alloc(3 * width * width);
  for (let i = 0; i < width * width; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const v = 40 + (y / width) * 160;
    data.set(
      x > 90 && x < 106 && y > 90 && y < 106 ? [200, 16, 46] : [v * 0.7 + (x % 5), v * 0.9, v + (y % 3)],
      3 * i,
    );
  }
  return sharp(data, { raw: { width, height: width, channels: 3 } })
    .png()
    .toBuffer();
}

describe('names and order', () => {
  beforeAll(async () => {
    await onlyPicture('chart.png', await chart().png().toBuffer());
    await screen.fill('How many colours', '8');
    await screen.text(/Put 7 in the tray/);
  });

  it('names are suggested, each once, and never over a typed one', async () => {
    const suggested = await names();
    expect(new Set(suggested).size).toBe(7);
    expect(suggested.join()).not.toContain('#');
    await screen.button(suggested[0]);
    await screen.page.keyboard.type('Deck paint');
    await screen.page.keyboard.press('Enter');
    await screen.fill('How many colours', '5');
    await screen.text(/Put 5 in the tray/);
    await screen.fill('How many colours', '8');
    await screen.text(/Put 7 in the tray/);
    expect(await names()).toContain('Deck paint');
    await screen.click('button', 'by share');
    await screen.click('checkbox', 'Suggest names');
    await screen.page.keyboard.press('Escape');
    await expect.poll(async () => (await names()).filter((n) => n.startsWith('#')).length).toBe(6);
    expect(await names()).toContain('Deck paint');
  });

  it('goes by lightness, and smoothly', async () => {
    await screen.click('button', 'by share');
    await screen.click('menuitem', 'by lightness');
    const light = (hex: string) => toLab(parseColor(hex), coated)[0];
    await expect
      .poll(async () => (await hexes()).map(light))
      .toEqual((await hexes()).map(light).sort((a, b) => b - a));
    await screen.click('button', 'by lightness');
    await screen.click('menuitem', 'by smooth steps');
    await screen.find('button', 'by smooth steps');
    expect((await hexes()).length).toBe(7);
  });

  it('look-alikes are drawn as pairs, and one of two is kept', async () => {
    await onlyPicture(
      'alike.png',
      await sharp({ create: { width: 60, height: 20, channels: 3, background: '#8a1c24' } })
        .composite([
          {
            input: { create: { width: 20, height: 20, channels: 3, background: '#8b1d25' } },
            left: 0,
            top: 0,
          },
          {
            input: { create: { width: 10, height: 20, channels: 3, background: '#14304a' } },
            left: 50,
            top: 0,
          },
        ])
        .png()
        .toBuffer(),
    );
    await screen.text(/1 pair would merge/);
    await screen.button('Keep the right one of #8a1c24 and #8b1d25');
    await screen.text(/Put 2 in the tray/);
    expect(await hexes()).toEqual(['#8B1D25', '#14304A']);
  });

  it('the palette is copied as a picture', async () => {
    await screen.page
      .browserContext()
      .overridePermissions(harness.url, ['clipboard-read', 'clipboard-write', 'clipboard-sanitized-write']);
    await screen.page.bringToFront();
    await screen.button('Copy as picture');
    await screen.text(/Palette copied as a picture/);
    const base64 = await screen.page.evaluate(async () => {
      const [item] = await navigator.clipboard.read();
      const bytes = new Uint8Array(await (await item.getType('image/png')).arrayBuffer());
      return btoa(Array.from(bytes, (b) => String.fromCharCode(b)).join(''));
    });
    const { dominant } = await sharp(Buffer.from(base64, 'base64')).stats();
    expect(dominant).toBeDefined();
    const { data, info } = await sharp(Buffer.from(base64, 'base64'))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const seen = new Set<string>();
    for (let i = 0; i < data.length; i += 3) seen.add(data.subarray(i, i + 3).toString('hex'));
    expect(info.width).toBeGreaterThan(100);
    expect([...seen]).toEqual(expect.arrayContaining(['8b1d25', '14304a']));
  });
});

describe('several pictures', () => {
  it('give one palette together, each counting the same, and a take each', async () => {
    const flat = (color: string, side: number) =>
      sharp({ create: { width: side, height: side, channels: 3, background: color } })
        .png()
        .toBuffer();
    while (await screen.page.$('[aria-label^="Close "]')) await screen.page.click('[aria-label^="Close "]');
    await screen.drop([
      { name: 'small.png', bytes: await flat('#8a1c24', 10) },
      { name: 'large.png', bytes: await flat('#14304a', 300) },
    ]);
    await screen.text(/Put 1 in the tray/);
    await screen.button('All together');
    await screen.text(/2 pictures together/);
    await screen.text(/Put 2 in the tray/);
    expect((await hexes()).sort()).toEqual(['#14304A', '#8A1C24']);
    expect(await screen.page.$$eval('.PaletteList-row .mono', (l) => l.map((e) => e.textContent))).toEqual([
      '50.0 %',
      '50.0 %',
    ]);
  });
});

describe('any picture', () => {
  const cli = async (name: string, bytes: Uint8Array) => {
    const path = join(harness.folder, name);
    writeFileSync(path, bytes);
    const out = execFileSync('node', ['cli/papillon.mjs', 'extract', path, '--count', '10', '--json']);
    return (JSON.parse(out.toString()).swatches as { hex: string }[]).map((s) => s.hex.toUpperCase());
  };
  const photo = () => sharp(fileURLToPath(new URL('../photos/rocket.jpg', import.meta.url))).resize(320);
  const coated = fileURLToPath(new URL('../../profiles/coated-offset.icc', import.meta.url));
  const half = async () => {
    const { data, info } = await photo().ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    for (let i = 3; i < data.length; i += 4) data[i] = 128 + (i % 128);
    return sharp(data, { raw: info }).png().toBuffer();
  };
  const animated = async () => {
    const frames = await Promise.all(
      ['#8a1c24', '#14304a'].map((background) =>
        sharp({ create: { width: 20, height: 20, channels: 3, background } })
          .png()
          .toBuffer(),
      ),
    );
    return sharp(frames, { join: { animated: true } })
      .gif()
      .toBuffer();
  };

  it.each<[string, () => Promise<Buffer>]>([
    ['JPEG', () => photo().jpeg().toBuffer()],
    ['progressive JPEG', () => photo().jpeg({ progressive: true, quality: 60 }).toBuffer()],
    ['WebP', () => photo().webp({ lossless: true }).toBuffer()],
    ['half transparent PNG', half],
    ['16-bit PNG', () => photo().toColourspace('rgb16').png().toBuffer()],
    ['16-bit TIFF', () => photo().toColourspace('rgb16').tiff({ compression: 'lzw' }).toBuffer()],
    ['grey PNG', () => photo().greyscale().toColourspace('b-w').png().toBuffer()],
    ['Display P3 JPEG', () => photo().withIccProfile('p3').jpeg().toBuffer()],
    ['CMYK JPEG', () => photo().withIccProfile(coated).toColourspace('cmyk').jpeg().toBuffer()],
    ['animated GIF', animated],
    ['turned by EXIF', () => photo().jpeg().withMetadata({ orientation: 6 }).toBuffer()],
  ])('%s gives the same palette here as in the shell', async (name, make) => {
    const bytes = await make();
    await onlyPicture(`${name}.bin`, bytes);
    await screen.text(/Put \d+ in the tray/);
    const there = await cli(`${name}.bin`, bytes);
    await expect.poll(hexes).toEqual(there);
  });

  it('of one pixel gives one colour', async () => {
    const bytes = await sharp({ create: { width: 1, height: 1, channels: 3, background: '#2f7d6b' } })
      .png()
      .toBuffer();
    await onlyPicture('one.png', bytes);
    await screen.text(/Put 1 in the tray/);
    expect(await hexes()).toEqual(['#2F7D6B']);
  });

  it('that is all transparent says that there is nothing to take', async () => {
    const bytes = await sharp({
      create: { width: 40, height: 30, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } },
    })
      .png()
      .toBuffer();
    await onlyPicture('clear.png', bytes);
    await screen.text(/Every pixel of this picture is transparent/);
  });

  it('of 40 megapixels opens; a larger one is refused with the way out', async () => {
    const large = (width: number) =>
      sharp({ create: { width, height: 5000, channels: 3, background: '#14304a' } })
        .composite([
          {
            input: { create: { width: 900, height: 900, channels: 3, background: '#d9a441' } },
            left: 9,
            top: 9,
          },
        ])
        .png({ compressionLevel: 1 })
        .toBuffer();
    await onlyPicture('large.png', await large(8000));
    await screen.text(/8 000 × 5 000/);
    await screen.text(/Put 2 in the tray/);
    await onlyPicture('larger.png', await large(8100));
    await screen.text(
      /larger\.png: the picture has 41 megapixels; Papillon takes up to 40\. Make a smaller copy/,
    );
  });

  it('nothing threw on the way', () => {
    expect(screen.errors).toEqual([]);
  });
});

describe('codes', () => {
  const rows = () =>
    screen.page.$$eval('.CodesSource-row', (list) => list.map((row) => row.textContent ?? ''));
  const type = async (...codes: string[]) => {
    for (const code of codes) {
      await (await screen.find('textbox', 'Type or paste codes')).type(code);
      await screen.page.keyboard.press('Enter');
    }
  };
  /** As a person pastes: into what has the focus, or onto the page. */
  const paste = (text: string) =>
    screen.page.evaluate((pasted) => {
      const data = new DataTransfer();
      data.setData('text/plain', pasted);
      (document.activeElement ?? document.body).dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
      );
    }, text);

  beforeAll(async () => {
    await screen.go('/gather?from=codes');
    await screen.text(/Type or paste codes/);
  });

  it('are taken one after the other, the field empty for the next', async () => {
    await type('Hull red: #8a1c24', 'C 20 M 0 Y 80 K 0');
    await screen.text(/Put 2 in the tray/);
    const field = await screen.find('textbox', 'Type or paste codes');
    expect(await field.evaluate((f) => (f as HTMLInputElement).value)).toBe('');
  });

  it('are pasted line by line; what is none stays in sight, and repeats are marked', async () => {
    await paste('Sails and rigging\n#8a1c24\nbrass\t#d9a441\n12 34 56\n#80ff0000\nrgb(300 0 0)');
    await expect.poll(async () => (await rows()).length).toBe(8);
    const list = await rows();
    expect(list[2]).toMatch(/Sails and rigging.*No colour in this line/);
    expect(list[3]).toMatch(/same as line 1/);
    expect(list[4]).toMatch(/brass.*#D9A441/);
    expect(list[5]).toMatch(/RGB in numbers.*hex #123456/);
    expect(list[6]).toMatch(/alpha last.*alpha first/);
    expect(list[7]).toMatch(/R is 300; RGB takes 0 to 255/);
    await screen.text(/Put 4 in the tray/);
  });

  it('that could mean two things ask, and give their colour when answered', async () => {
    await screen.button('alpha first');
    await screen.text(/Put 5 in the tray/);
    await screen.button('hex #123456');
    await screen.text(/Put 6 in the tray/);
  });

  it('are corrected where they stand', async () => {
    await screen.button('Line 8: rgb(300 0 0). Enter changes it.');
    const field = await screen.find('textbox', 'Line 8');
    await field.click({ count: 3 });
    await field.type('Boot #2f7d6b');
    await screen.page.keyboard.press('Enter');
    await screen.text(/Put 7 in the tray/);
    await screen.click('checkbox', 'Leave out 1 repeat');
    await screen.text(/Put 6 in the tray/);
  });

  it('are still there after a reload, and go to the tray in order with their names', async () => {
    await expect
      .poll(async () => JSON.stringify(await screen.shelf('notes')), { timeout: 20_000 })
      .toMatch(/Boot #2f7d6b.*"once":true|"once":true.*Boot #2f7d6b/);
    await screen.reload();
    await screen.text(/Put 6 in the tray/);
    await screen.button('Put 6 in the tray');
    await screen.text(/7 waiting/);
    const state = await expect.poll(async () => {
      const { library } = await (await fetch(`${harness.url}/libraries/tray/changes`)).json();
      return library.groups[0].swatches.slice(-6).map((s: { name: string }) => s.name);
    });
    await state.toEqual([
      'Hull red',
      expect.any(String),
      'brass',
      expect.any(String),
      expect.any(String),
      'Boot',
    ]);
    const { library } = await (await fetch(`${harness.url}/libraries/tray/changes`)).json();
    const [, moss, , , veil] = library.groups[0].swatches.slice(-6);
    expect(moss.color).toEqual({ space: 'cmyk', components: [0.2, 0, 0.8, 0] });
    expect(veil.alpha).toBeCloseTo(128 / 255, 3);
  });

  it('five thousand come in one paste', async () => {
    await screen.button('Clear');
    await screen.text(/Type or paste codes/);
    const many = Array.from(
      { length: 5000 },
      (_, i) => `Rope ${i + 1}: #${(i * 3331 + 0x100000).toString(16).slice(0, 6)}`,
    );
    await paste(many.join('\n'));
    await screen.text(/Put 5,000 in the tray/);
    expect((await rows()).length).toBeLessThan(60);
  });

  it('pasted on any screen that knows no such file lead here', async () => {
    await screen.button('Clear');
    await expect
      .poll(async () => JSON.stringify(await screen.shelf('notes')), { timeout: 20_000 })
      .not.toContain('Rope');
    await screen.go('/');
    await screen.page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await paste('Dear crew,\nthe hull is #8a1c24 and the deck 217, 164, 65.\n');
    await screen.text(/Dear crew,/);
    expect(screen.page.url()).toContain('/gather?from=codes');
    await expect.poll(async () => (await rows()).length).toBe(2);
    expect(screen.errors).toEqual([]);
  });
});
