import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fleet, libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// What a person expects to be there: written from where hands stopped.

let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep({ ...fleet, name: 'Fleet' });
  screen = await harness.page(`/libraries/${id}/arrange`);
});
afterAll(() => harness?.stop());

const swatchesOf = async (library: string) => {
  const { library: found } = await (await fetch(`${harness.url}/libraries/${library}/changes`)).json();
  return (found.groups as { name: string; swatches: Record<string, unknown>[] }[]).map((g) => ({
    name: g.name,
    swatches: g.swatches.map((s) => s.name),
  }));
};

describe('a swatch is added where it is wanted', () => {
  it('by its colour in any notation, name, code and kind, from the keyboard', async () => {
    const { keyboard } = screen.page;
    await screen.text(/5 swatches · saved/);
    await screen.names();
    await keyboard.press('a');
    await expect.poll(() => screen.focused()).toMatch(/^Colour/);
    for (const text of ['cmyk 20 95 85 10', 'Signal red', 'SR-1']) {
      if (text !== 'cmyk 20 95 85 10') await keyboard.press('Tab');
      await keyboard.type(text);
    }
    await keyboard.press('Enter');
    await screen.text(/6 swatches · saved/);
    expect((await screen.names()).at(-1)).toBe('Signal red');
    // and the next one at once
    await keyboard.type('not a colour');
    await keyboard.press('Enter');
    await screen.text(/“not a colour” is not a colour\. Type one as #B3262B/);
    expect((await screen.names()).length).toBe(6);
  });

  it('several at once when they are pasted, which one Undo takes back', async () => {
    await screen.fill('Colour', '');
    // as the browser itself puts what is pasted into a field
    await screen.page.evaluate(() =>
      document.execCommand('insertText', false, 'Dawn #e7cfa6\nDusk rgb 20 30 60\n#0a7f5b'),
    );
    await screen.button('Add 3');
    await screen.text(/9 swatches · saved/);
    expect((await screen.names()).slice(-3, -1)).toEqual(['Dawn', 'Dusk']);
    await screen.button('Undo');
    await screen.text(/6 swatches · saved/);
  });
});

describe('gathered colours are placed', () => {
  const gather = async (text: string, n: number) => {
    await screen.go('/gather?from=codes');
    await screen.fill('Type or paste codes', text);
    await screen.page.keyboard.press('Enter');
    await screen.button(`Put ${n} in the tray`);
    await screen.text(new RegExp(`${n} waiting`));
  };

  it('in any group of any library, without opening it first, and the last place is offered again', async () => {
    await gather('#112233 #445566', 2);
    await screen.button('Place in…');
    await screen.click('radio', 'A library that is there');
    await screen.page.waitForSelector('[aria-label=Library]');
    await screen.page.select('[aria-label=Library]', id);
    await screen.page.waitForSelector('[aria-label=Group]');
    const hull = await screen.page.$eval(
      '[aria-label=Group]',
      (e) => [...(e as HTMLSelectElement).options].find((o) => o.text === 'Hull')!.value,
    );
    await screen.page.select('[aria-label=Group]', hull);
    await screen.button('Place');
    await screen.text(/8 swatches · saved/);
    expect(new URL(screen.page.url()).pathname).toBe(`/libraries/${id}/arrange`);
    await gather('#778899 #99aabb', 4);
    await screen.button('Place in…');
    await screen.page.waitForSelector('[aria-label=Group]');
    await expect
      .poll(() => screen.page.$eval('[aria-label=Group]', (e) => (e as HTMLSelectElement).value))
      .toBe(hull);
    await screen.click('radio', 'Replace what is in it');
    await screen.text(/This removes \d+ swatches: .*Undo brings them back/);
    await screen.button('Replace');
    await screen.text(/swatches · saved/);
    const groups = await swatchesOf(id);
    expect(groups.find((g) => g.name === 'Hull')!.swatches.length).toBe(4);
  });
});

describe('a library among many', () => {
  it('is found by typing, with its colours and when it was changed', async () => {
    for (let i = 0; i < 14; i++)
      await harness.keep(
        libraryOf(`Season ${i + 1}`, {
          Sky: [
            ['Dawn', '#e7cfa6'],
            ['Dusk', '#14203c'],
          ],
        }),
      );
    await screen.go(`/libraries/${id}/arrange`);
    await screen.button('Merge…');
    await screen.text(/15 libraries|14 libraries/);
    await screen.fill('Find a library', 'season 12');
    await screen.text(/Season 12.*2 swatches · today.*1 library/);
    await screen.press('Season 12');
    await screen.button('Compare');
    await screen.text(/Season 12/);
  });
});

it('a new library asks for its name', async () => {
  await screen.go('/');
  await screen.button('New library');
  await screen.page.keyboard.type('Timetables');
  await screen.page.keyboard.press('Enter');
  await screen.text(/No swatches yet/);
  await screen.text(/Timetables/);
});

it('an empty installation offers a picture, a file, codes and a sample', async () => {
  const other = await Harness.start();
  try {
    const empty = await other.page('/');
    await empty.find('button', 'Open a picture or a file');
    await empty.find('link', 'Type or paste codes');
    await empty.button('Open a sample library');
    await empty.text(/9 swatches · saved/);
    expect(await empty.names()).toContain('Boot-top red');
    expect(empty.errors).toEqual([]);
  } finally {
    await other.stop();
  }
});

describe('help', () => {
  it('says what the step is for, with its commonest jobs, and leads to all formats', async () => {
    await screen.go(`/libraries/${id}/check`);
    await screen.page.keyboard.press('?');
    await screen.text(/Shows what may fail.*See what prints differently.*Keys/);
    await screen.click('link', 'All formats: what each keeps, and how to open it');
    await screen.text(/4\d formats/);
    await screen.fill('Find a format', 'gpl');
    await screen.text(/GPL\.gpl · read and written/);
  });
});

it('nothing threw on the way', () => {
  expect(screen.errors).toEqual([]);
});

describe('a file is dropped once', () => {
  const chip = (i: number, hex: string, name: string) =>
    `<rect x="${10 + 60 * i}" y="10" width="40" height="30" fill="${hex}" stroke="#000000"/><text x="${10 + 60 * i}" y="52">${name}</text>`;
  const sheet = `<svg xmlns="http://www.w3.org/2000/svg" width="260" height="60"><rect width="260" height="60" fill="#ffffff"/>${[
    ['#b3262b', 'Signal'],
    ['#14304a', 'Deep'],
    ['#e7cfa6', 'Sand'],
    ['#8a5cc2', 'Heather'],
  ]
    .map(([hex, name], i) => chip(i, hex!, name!))
    .join('')}</svg>`;

  it('a drawing opens as swatches and as artwork of the library, its chips by the names beside them', async () => {
    const own = await harness.keep({ ...fleet, name: 'Signs' });
    await screen.go(`/libraries/${own}/arrange`);
    await screen.names();
    await screen.drop([{ name: 'sheet.svg', bytes: sheet }]);
    await screen.text(/4 swatches/);
    await screen.button('Add');
    await screen.text(/1 file added, and 1 drawing kept as artwork/);
    await screen.text(/9 swatches · saved/);
    expect((await swatchesOf(own)).at(-1)!.swatches).toEqual(['Signal', 'Deep', 'Sand', 'Heather']);
    await screen.go(`/libraries/${own}/apply`);
    await screen.text(/5 parts|9 parts|6 colours/);
  });

  it('all its colours are taken on request', async () => {
    await screen.go('/');
    await screen.drop([{ name: 'sheet.svg', bytes: sheet }]);
    await screen.text(/4 swatches/);
    await screen.click('checkbox', 'Fills only, without page and outlines, named by the text beside them');
    await screen.text(/6 swatches/);
    await screen.button('Cancel');
  });

  it('of several drawings, each is read as it is chosen for it', async () => {
    await screen.drop([
      { name: 'sheet.svg', bytes: sheet },
      { name: 'second.svg', bytes: sheet.replace('#b3262b', '#2b6f3a') },
    ]);
    await screen.text(/sheet\.svg · SVG · 4 swatches.*second\.svg · SVG · 4 swatches/);
    await screen.click('checkbox', 'Fills only, without page and outlines, named by the text beside them');
    await screen.text(/sheet\.svg · SVG · 6 swatches.*second\.svg · SVG · 4 swatches/);
    await screen.button('Cancel');
  });

  it('a kit opens as the library it is of, and the same colours in several formats are taken once', async () => {
    await screen.go(`/libraries/${id}/hand-over`);
    await screen.text(/destination/);
    await screen.button('Download kit');
    const zip = await harness.downloaded('Fleet kit.zip');
    await screen.go('/');
    await screen.drop([{ name: 'Fleet kit.zip', bytes: zip }]);
    await screen.text(/Open 1 file/);
    await screen.button('Cancel');
    await screen.drop([
      {
        name: 'signs.gpl',
        bytes: 'GIMP Palette\nName: Signs\n#\n179 38 43 Red\n20 48 74 Navy\n231 207 166 Sand\n',
      },
      { name: 'signs.csv', bytes: 'Group,Name,Hex\nA,Red,#b3262b\nA,Navy,#14304a\nB,Sand,#e7cfa6\n' },
    ]);
    await screen.text(/Open 2 files/);
    await screen.text(/The same colours as signs\.csv, which carries more with them/);
    await screen.button('Open as a library');
    await screen.text(/3 swatches · saved/);
  });
});

describe('steps in Gather', () => {
  const undo = async () => {
    const { keyboard } = screen.page;
    await keyboard.down('Control');
    await keyboard.press('z');
    await keyboard.up('Control');
  };

  it('are taken back one at a time in a picture, and cost nothing else', async () => {
    const own = await harness.keep({ ...fleet, name: 'Steps' });
    await screen.go(`/libraries/${own}/gather`);
    const parts = ['#b3262b', '#c2a33a', '#102030', '#e7cfa6'].map((background, i) => ({
      input: { create: { width: 40, height: 100, channels: 3 as const, background } },
      left: 45 * i,
      top: 0,
    }));
    const flag = sharp({ create: { width: 200, height: 120, channels: 3, background: '#2f7d6b' } });
    await screen.drop([{ name: 'steps.png', bytes: await flag.composite(parts).png().toBuffer() }]);
    await screen.text(/Put 5 in the tray/);
    await screen.fill('How many colours', '4');
    await screen.page.keyboard.press('Enter');
    await screen.text(/Put 4 in the tray/);
    await new Promise((resolve) => setTimeout(resolve, 600));
    await screen.fill('How many colours', '2');
    await screen.page.keyboard.press('Enter');
    await screen.text(/Put 2 in the tray/);
    await screen.button('One step back');
    await screen.text(/Put 4 in the tray/);
    await screen.page.focus('h1, [data-work], button');
    await undo();
    await screen.text(/Put 5 in the tray/);
    await screen.button('One step forward');
    await screen.text(/Put 4 in the tray/);
    // the library has nothing to undo of this
    await screen.text(/5 swatches · saved/);
  });

  it('and in a harmony, from a base that stays as it was typed', async () => {
    await screen.go('/gather?from=harmony');
    await screen.fill('Colour', 'oklch(0.7 0.3 150)');
    await screen.page.keyboard.press('Enter');
    await screen.text(/Outside .*, and kept as it is/);
    await screen.button('Triadic');
    await screen.button('Bring it inside');
    await expect
      .poll(() => screen.page.evaluate(() => document.body.textContent))
      .not.toMatch(/kept as it is/);
    await screen.button('One step back');
    await screen.text(/Outside .*, and kept as it is/);
  });
});

it('nothing moves while a page comes', async () => {
  for (const path of ['/', `/libraries/${id}/arrange`, `/libraries/${id}/hand-over`, '/books']) {
    const other = await harness.empty();
    await other.page.evaluateOnNewDocument(() => {
      const seen = { shift: 0 };
      Object.assign(window, { seen });
      new PerformanceObserver((list) => {
        for (const e of list.getEntries()) seen.shift += Reflect.get(e, 'value');
      }).observe({ type: 'layout-shift', buffered: true });
    });
    await other.go(path);
    await other.page.waitForNetworkIdle({ idleTime: 500, timeout: 30_000 });
    const shift = await other.page.evaluate(() => Reflect.get(window, 'seen').shift as number);
    expect(shift, path).toBeLessThan(0.05);
    await other.page.browserContext().close();
  }
});
