import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { aco } from '../../core/formats/aco/aco.ts';
import { act } from '../../core/formats/act/act.ts';
import { ase } from '../../core/formats/ase/ase.ts';
import { gpl } from '../../core/formats/gpl/gpl.ts';
import { openSwatchFile } from '../../core/formats/index.ts';
import { countingIds, countSwatches } from '../../core/swatch/model.ts';
import { services } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;

/** A flag of twelve flat colours, two of them alike. */
const colors = [
  '#8a1c24',
  '#8b1d25',
  '#14304a',
  '#2f7d6b',
  '#d9a441',
  '#6d4a7c',
  '#3d3a34',
  '#8fb6c6',
  '#f3ecdf',
  '#c76a9b',
  '#7a8b2f',
  '#4a6fb5',
];
const flag = () =>
  sharp({ create: { width: 240, height: 60, channels: 3, background: '#000' } })
    .composite(
      colors.map((c, i) => ({
        input: { create: { width: 20, height: 60, channels: 3, background: c } },
        left: 20 * i,
        top: 0,
      })),
    )
    .png()
    .toBuffer();

beforeAll(async () => {
  harness = await Harness.start();
});
afterAll(() => harness?.stop());

describe('from a picture to a file and back', () => {
  it('an empty home says what to do', async () => {
    screen = await harness.page('/');
    await screen.text(/No libraries yet/);
    await screen.text(/Drop a picture here to take colours from it/);
  });

  it('a dropped picture becomes a palette at once', async () => {
    await screen.drop([{ name: 'signal flag.png', bytes: await flag() }]);
    await screen.text(/Put 10 in the tray/);
    expect(screen.page.url()).toContain('/gather');
  });

  it('any count, again and again, always from the picture', async () => {
    await screen.fill('How many colours', '256');
    await screen.text(/Put 12 in the tray/);
    await screen.fill('How many colours', '4');
    await screen.text(/Put 4 in the tray/);
    await screen.fill('How many colours', '24');
    await screen.text(/Put 12 in the tray/);
  });

  it('look-alikes are shown before they go, and starting over brings them back', async () => {
    await screen.text(/1 pair would merge/);
    await screen.button('Merge into the larger');
    await screen.text(/Put 11 in the tray/);
    await screen.button('Start over');
    await screen.text(/Put 12 in the tray/);
    await screen.button('Merge into the larger');
    await screen.page.click('.PaletteList-row[title="#F3ECDF"] .PaletteList-remove');
    await screen.text(/Put 10 in the tray/);
  });

  it('the picture and what was done to its palette are still there after a reload', async () => {
    // written down a moment after the last change, later on a machine that has much to do
    await expect.poll(() => screen.keptColors(), { timeout: 20_000 }).toContain('24: 10');
    await screen.reload();
    await screen.text(/signal flag\.png/);
    await screen.text(/Put 10 in the tray/);
    await screen.button('Put 10 in the tray');
    await screen.text(/10 waiting/);
    // the next test stops the server without a warning
    await expect
      .poll(async () => (await (await fetch(`${harness.url}/libraries/tray/changes`)).json()).undo)
      .toBe('add 10 swatches');
  });

  it('the tray outlives a restart, and is placed in a new library', async () => {
    await harness.serve();
    await screen.reload();
    await screen.text(/10 waiting/);
    await screen.button('Place in…');
    await screen.fill('Name of the library', 'Signal flags');
    await screen.button('Place');
    await screen.text(/10 swatches · saved/);
    await screen.text(/empty · gathered colours wait here/);
    expect((await screen.names()).length).toBe(10);
  });

  it('a swatch is dragged to another place, and undo holds after a reload', async () => {
    const before = await screen.names();
    const chips = await screen.page.$$('[role=option]');
    const [from, to] = [await chips[0].boundingBox(), await chips[3].boundingBox()];
    await screen.page.mouse.move(from!.x + 20, from!.y + 20);
    await screen.page.mouse.down();
    await screen.page.mouse.move(from!.x + 40, from!.y + 25, { steps: 4 });
    await screen.page.mouse.move(to!.x + to!.width - 8, to!.y + 20, { steps: 8 });
    // a hand lets go when it sees where the swatch would come to lie
    await new Promise((resolve) => setTimeout(resolve, 400));
    await screen.page.mouse.move(to!.x + to!.width - 7, to!.y + 20);
    await new Promise((resolve) => setTimeout(resolve, 200));
    await screen.page.mouse.up();
    const moved = [...before.slice(1, 4), before[0], ...before.slice(4)];
    await expect.poll(() => screen.names()).toEqual(moved);
    await screen.text(/· saved/);
    await screen.reload();
    expect(await screen.names()).toEqual(moved);
    await screen.button('Undo');
    await expect.poll(() => screen.names()).toEqual(before);
    await screen.button('Redo');
    await expect.poll(() => screen.names()).toEqual(moved);
  });

  it('with the keyboard alone: go, choose, rename, move, delete, undo', async () => {
    const { keyboard } = screen.page;
    const before = await screen.names();
    await screen.page.focus('[role=listbox]');
    await keyboard.press('Home');
    await keyboard.press('Enter');
    await keyboard.type('قارب الليل 🚢');
    await keyboard.press('Enter');
    await expect.poll(async () => (await screen.names())[0]).toBe('قارب الليل 🚢');
    // Escape leaves the name as it is, and the keyboard where it was
    await keyboard.press('Enter');
    await keyboard.type('Never mind');
    await keyboard.press('Escape');
    expect((await screen.names())[0]).toBe('قارب الليل 🚢');
    await keyboard.down('Alt');
    await keyboard.press('ArrowRight');
    await keyboard.up('Alt');
    await expect.poll(async () => (await screen.names())[1]).toBe('قارب الليل 🚢');
    await keyboard.press('Home');
    await keyboard.down('Shift');
    await keyboard.press('ArrowRight');
    await keyboard.press('ArrowRight');
    await keyboard.up('Shift');
    await keyboard.press('Delete');
    await expect.poll(async () => (await screen.names()).length).toBe(7);
    await keyboard.down('Control');
    for (let i = 0; i < 3; i++) await keyboard.press('z');
    await keyboard.up('Control');
    await expect.poll(() => screen.names()).toEqual(before);
  });

  it('leaves as ASE and comes back as the same library', async () => {
    const names = await screen.names();
    await screen.click('link', 'Hand over');
    await screen.text(/All 10 swatches arrive exactly as they are/);
    await screen.button('Download ASE only');
    const bytes = new Uint8Array(await harness.downloaded('Signal flags.ase'));
    const { library } = await openSwatchFile(bytes, 'x', countingIds());
    expect(library.groups.flatMap((g) => g.swatches.map((s) => s.name))).toEqual(names);
    await screen.go('/');
    await screen.drop([{ name: 'Signal flags.wrong-ending', bytes }]);
    await screen.text(/Open 1 file/);
    await screen.fill('Name for Signal flags.wrong-ending', 'Come back');
    await screen.button('Open as a library');
    await screen.text(/Come back/);
    await expect.poll(() => screen.names()).toEqual(names);
  });

  it('a format without groups offers one file per group', async () => {
    const group = (name: string, hex: string) => ({
      id: name,
      name,
      swatches: [
        {
          id: hex,
          name: hex,
          kind: 'process' as const,
          color: { space: 'rgb' as const, components: [1, 0, 0] },
        },
      ],
    });
    const two = ase.encode(
      {
        id: 'l',
        name: '',
        groups: [group('Port', 'a'), group('Starboard', 'b')],
      },
      services,
    );
    await screen.drop([{ name: 'sides.ase', bytes: two }]);
    await screen.button('Open as a library');
    await screen.text(/Starboard/);
    await screen.click('link', 'Hand over');
    await screen.button('Painting ACO · GPL');
    await screen.click('tab', 'GPL');
    await screen.click('checkbox', 'one file per group, 2');
    await screen.text(/swatches arrive; their groups do not/);
    await screen.click('checkbox', 'one file per group, 2');
    await screen.button('Download GPL only');
    const entries = unzipSync(new Uint8Array(await harness.downloaded('sides.zip')));
    expect(Object.keys(entries)).toEqual(['sides, Port.gpl', 'sides, Starboard.gpl']);
  });

  it('the whole path with the keyboard alone: picture, palette, library, ASE', async () => {
    const { keyboard } = screen.page;
    const path = join(harness.folder, 'pennant.png');
    writeFileSync(path, await flag());
    await screen.go('/');
    const [chooser] = await Promise.all([
      screen.page.waitForFileChooser(),
      screen.tabTo(/Open/).then(() => keyboard.press('Enter')),
    ]);
    await chooser.accept([path]);
    await screen.text(/Put 10 in the tray/);
    await screen.tabTo(/How many colours/);
    await keyboard.down('Control');
    await keyboard.press('a');
    await keyboard.up('Control');
    await keyboard.type('4');
    await screen.text(/Put 4 in the tray/);
    // the slider comes next
    await keyboard.press('Tab');
    await keyboard.press('ArrowLeft');
    await screen.text(/Put 3 in the tray/);
    await screen.tabTo(/Put 3 in the tray/);
    await keyboard.press('Enter');
    await screen.text(/3 waiting/);
    await screen.tabTo(/Place in…/);
    await keyboard.press('Enter');
    await screen.find('textbox', 'Name of the library');
    await keyboard.type('Pennant');
    await keyboard.press('Enter');
    await screen.text(/3 swatches · saved/);
    await screen.tabTo(/Hand over/);
    await keyboard.press('Enter');
    await screen.text(/All 3 swatches arrive/);
    await screen.tabTo(/Download ASE only/);
    await keyboard.press('Enter');
    const file = await openSwatchFile(
      new Uint8Array(await harness.downloaded('Pennant.ase')),
      'x',
      countingIds(),
    );
    expect(countSwatches(file.library)).toBe(3);
  });

  it('nothing threw on the way', () => {
    expect(screen.errors).toEqual([]);
  });
});

describe('opening', () => {
  const samples: [string, () => Promise<Uint8Array | string> | Uint8Array | string, RegExp][] = [
    ['ASE', () => ase.encode(library, services), /ASE · 1 swatch/],
    ['ACO', () => aco.encode(library, services), /ACO · 1 swatch/],
    ['ACT', () => act.encode(library, services), /ACT · 1 swatch/],
    ['GPL', () => gpl.encode(library, services), /GPL · 1 swatch/],
    ['hex list', () => '#8a1c24\n', /Hex list · 1 swatch/],
    ['CSS', () => ':root { --hull: #8a1c24 }', /CSS · 1 swatch/],
    ['damaged', () => ase.encode(library, services).slice(0, 30), /x\.bin: read as ASE, block 1 of 1/],
    ['empty', () => '', /x\.bin: the file is empty/],
    ['picture', flag, /Put 10 in the tray/],
    [
      'broken picture',
      async () => (await flag()).subarray(0, 60),
      /x\.bin: it begins like a PNG, but does not decode/,
    ],
  ];
  const library = {
    id: 'l',
    name: 'Hull',
    groups: [
      {
        id: 'g',
        name: '',
        swatches: [
          {
            id: 's',
            name: 'Red',
            kind: 'process' as const,
            color: { space: 'rgb' as const, components: [138 / 255, 28 / 255, 36 / 255] },
          },
        ],
      },
    ],
  };
  let id = '';
  beforeAll(async () => {
    screen = await harness.page('/');
    id = await harness.keep(library);
  });

  it.each(['/', '/gather', 'gather', 'arrange', 'hand-over'])(
    'every kind of file can be dropped on %s',
    async (path) => {
      for (const [kind, bytes, expected] of samples) {
        // one page load for all that ends in a dialog; a picture leads away
        if (kind === 'ASE' || kind.endsWith('picture'))
          await screen.go(path.startsWith('/') ? path : `/libraries/${id}/${path}`);
        await screen.drop([{ name: 'x.bin', bytes: await bytes() }]);
        await screen.text(expected);
        if (!kind.endsWith('picture')) await screen.dismissDialog();
      }
      expect(screen.errors).toEqual([]);
    },
  );

  it('adds to the open library and replaces nothing; several files at once, one of them bad', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.drop([
      { name: 'one.gpl', bytes: 'GIMP Palette\n1 2 3\tFirst\n' },
      { name: 'two.txt', bytes: '#aabbcc' },
      { name: 'three.ase', bytes: 'ASEF' },
    ]);
    await screen.text(/Open 2 files/);
    await screen.text(/three\.ase: read as ASE, it is cut short/);
    await screen.click('radio', 'Add to Hull. Nothing is replaced.');
    await screen.button('Add');
    await expect.poll(() => screen.names()).toEqual(['Red', 'First', '#AABBCC']);
    await screen.button('Undo');
    await expect.poll(() => screen.names()).toEqual(['Red']);
  });

  it('pasted codes open too', async () => {
    await screen.page.evaluate(() => {
      const data = new DataTransfer();
      data.setData('text/plain', '#112233 #445566');
      document.body.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }),
      );
    });
    await screen.text(/Hex list · 2 swatches/);
    await screen.button('Cancel');
  });

  it('two tabs see the same library', async () => {
    const other = await harness.page(`/libraries/${id}/arrange`);
    await screen.page.bringToFront();
    await screen.choose('Red');
    await screen.fill('Name', 'Boot-top');
    await screen.page.keyboard.press('Enter');
    await expect.poll(() => other.names()).toEqual(['Boot-top']);
    await other.page.close();
  });

  it('a photograph is never sent to the server', async () => {
    const sent: number[] = [];
    screen.page.on('request', (request) => sent.push(request.postData()?.length ?? 0));
    await screen.go('/gather');
    await screen.drop([
      { name: 'photo.png', bytes: readFileSync(new URL('../photos/chelsea.png', import.meta.url)) },
    ]);
    await screen.text(/Put 10 in the tray/);
    expect(Math.max(...sent)).toBeLessThan(1000);
  });
});

describe('five thousand swatches', () => {
  it('open, draw only what is seen, and scroll to the end', async () => {
    const lines = Array.from(
      { length: 5000 },
      (_, i) => `${i % 256} ${(i * 7) % 256} ${(i * 13) % 256}\tswatch ${i}`,
    );
    screen = await harness.page('/');
    await screen.drop([{ name: 'large.gpl', bytes: `GIMP Palette\nName: Large\n${lines.join('\n')}` }]);
    await screen.text(/5000 swatches|5,000 swatches/);
    await screen.button('Open as a library');
    await screen.text(/5,000 swatches · saved/);
    const drawn = (await screen.names()).length;
    expect(drawn).toBeGreaterThan(20);
    expect(drawn).toBeLessThan(300);
    await screen.page.focus('[role=listbox]');
    await screen.page.keyboard.press('End');
    await expect.poll(async () => (await screen.names()).at(-1)).toBe('swatch 4999');
    expect(screen.errors).toEqual([]);
  });
});
