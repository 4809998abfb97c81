import axe from 'axe-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { ase } from '../../core/formats/ase/ase.ts';
import { formatById, writeAs } from '../../core/formats/index.ts';
import { fleet, libraryOf, services } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// Every main screen in all three surrounds, by axe-core: WCAG 2.2 A and AA, and its best practices.
const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  screen = await harness.page('/');
  id = await harness.keep({ ...fleet, name: 'Fleet with a name that is long, قارب الليل, and goes on' });
  for (const name of ['Harbour', 'Gone']) await harness.keep(libraryOf(name, { Sky: [['Dawn', '#e7cfa6']] }));
});
afterAll(() => harness?.stop());

interface Found {
  id: string;
  nodes: { target: unknown[]; failureSummary?: string }[];
}

/** What is found on the screen as it is. @param only the ids of some rules */
async function found(only?: string[]): Promise<string[]> {
  await screen.page.evaluate(`window.axe || (() => { ${axe.source} })()`);
  const run = only ? { type: 'rule', values: only } : TAGS;
  const violations = (await screen.page.evaluate(
    `axe.run(document, { runOnly: ${JSON.stringify(run)} }).then((r) => r.violations)`,
  )) as Found[];
  return violations.flatMap((v) =>
    v.nodes.map((n) => `${v.id}: ${n.target.join(' ')}\n  ${n.failureSummary?.replaceAll('\n', '\n  ')}`),
  );
}

/** What a finger or a shaking hand would miss: targets under 24 px, whatever lies around them, but for words in a text. */
const small = () =>
  screen.page.evaluate(() =>
    [
      ...document.querySelectorAll<HTMLElement>(
        'button, a[href], input, select, textarea, summary, [role=option], [role=tab]',
      ),
    ]
      .map((e) => ({ e, box: (e.closest('label, .MuiSlider-root') ?? e).getBoundingClientRect() }))
      .filter(
        ({ e, box }) =>
          box.width > 0 &&
          box.height > 0 &&
          (box.width < 23.9 || box.height < 23.9) &&
          e.checkVisibility({ visibilityProperty: true, opacityProperty: true }) &&
          !e.matches(':disabled, [aria-hidden=true] *') &&
          // what is seen only while it has the focus
          !e.matches('.Header-skip:not(:focus)') &&
          !e.closest('p, .caption:not(button)'),
      )
      .map(
        ({ e, box }) =>
          `${e.localName}.${e.className} “${(e.getAttribute('aria-label') ?? e.textContent ?? '').slice(0, 40)}” ${box.width.toFixed(0)} × ${box.height.toFixed(0)}`,
      ),
  );

/** All rules, and in the other surrounds those that are about colours: nothing else is different there. */
async function inAllSurrounds(): Promise<void> {
  expect([...new Set(await small())]).toEqual([]);
  for (const surround of ['light', 'mid', 'dark']) {
    await screen.page.evaluate((s) => document.documentElement.setAttribute('data-surround', s), surround);
    expect(
      await found(surround === 'light' ? undefined : ['color-contrast', 'link-in-text-block']),
      surround,
    ).toEqual([]);
  }
}

const picture = () =>
  sharp({ create: { width: 90, height: 60, channels: 3, background: '#2f7d6b' } })
    .composite([
      { input: { create: { width: 30, height: 60, channels: 3, background: '#b3262b' } }, left: 0, top: 0 },
      { input: { create: { width: 30, height: 60, channels: 3, background: '#c2333a' } }, left: 30, top: 0 },
    ])
    .png()
    .toBuffer();

const badge =
  '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="150"><rect id="badge" width="300" height="150" fill="#102030"/><circle id="buoy" cx="80" cy="70" r="30" fill="#c8102e"/></svg>';

const screens: [string, () => Promise<unknown>][] = [
  ['the libraries', () => screen.go('/')],
  [
    'the libraries with deleted ones and a message',
    async () => {
      await screen.go('/');
      await screen.button('Delete Gone');
      await screen.text(/Gone is deleted/);
      await screen.click('link', 'Bin 1');
    },
  ],
  [
    'libraries chosen, and put on a shelf',
    async () => {
      await screen.go('/');
      await screen.click('checkbox', 'Choose Harbour');
      await screen.find('region', 'Chosen libraries');
      expect(await found()).toEqual([]);
      await screen.button('Shelve…');
      await screen.find('textbox', 'Name of a new shelf');
    },
  ],
  ['a search that finds nothing', () => screen.go('/?q=nothing-is-named-so')],
  ['an address that is none', () => screen.go('/no/such/page')],
  ['a library that is none', () => screen.go('/libraries/none/arrange')],
  ['all formats', () => screen.go('/formats')],
  [
    'Arrange, a swatch being added',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.button('Add…');
      await screen.fill('Colour', '#8a1c24 #102030');
    },
  ],
  [
    'boards, none yet',
    async () => {
      await screen.go(`/libraries/${id}/arrange?view=board`);
      await screen.text(/lays itself out/);
    },
  ],
  [
    'a board, with something chosen',
    async () => {
      await screen.button('Make a board of the library');
      await screen.page.waitForSelector('[role=img] rect[data-of]');
      await screen.page.click('[aria-label="On this board"] button');
      await screen.text(/on this board/);
    },
  ],
  ['a board, being added to', () => screen.button('Add to the board…')],
  [
    'a board, presented',
    async () => {
      await screen.button('Cancel');
      await screen.button('Present');
      await screen.page.waitForSelector('[role=dialog] [aria-label$="page 1"]');
    },
  ],
  [
    'Tune, each way of it',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.names();
      await screen.choose('Old brass');
      await screen.button('Tune');
      for (const way of ['blend', 'equalise', 'reverse', 'match', 'relight', 'shift']) {
        await screen.button(way);
        expect(await found(), way).toEqual([]);
      }
      await screen.fill('Lightness', '5');
      await screen.text(/largest ΔE00/);
    },
  ],
  ['Tune, by sight', () => screen.button('By sight…')],
  [
    'the tray, tuned',
    async () => {
      await screen.button('Done');
      await screen.go('/gather?from=codes');
      await (await screen.find('textbox', 'Type or paste codes')).type('#102030 ');
      await screen.page.keyboard.press('Enter');
      await screen.text(/Put 1 in the tray/);
      await screen.button('Tune');
      await screen.find('slider', 'Lightness');
    },
  ],
  [
    'commands',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.button('Commands');
      await screen.text(/arrow keys to choose/);
    },
  ],
  [
    'a new library being named',
    async () => {
      await screen.go('/');
      await screen.button('New library');
      await screen.find('textbox', 'Name of the library');
    },
  ],
  ['Convert, empty', () => screen.go('/convert')],
  [
    'Convert, with a file',
    async () => {
      await screen.go('/convert');
      await screen.drop([{ name: 'fleet.ase', bytes: ase.encode(fleet, services) }]);
      await screen.text(/change on the way|arrive/);
    },
  ],
  ['PDF, empty', () => screen.go('/pdf')],
  [
    'PDF, with its inks',
    async () => {
      await screen.go('/pdf');
      const library = libraryOf('Fleet', { Inks: [['Orange', '#e8601c']] });
      library.groups[0]!.swatches[0]!.kind = 'spot';
      const bytes = await writeAs(formatById('pdf'), library, await localServices());
      await screen.drop([{ name: 'fleet.pdf', bytes }]);
      await screen.text(/Orangespot/);
    },
  ],
  ['Gather, Reading, nothing measured', () => screen.go(`/libraries/${id}/gather?from=reading`)],
  [
    'Gather, a measured ink',
    async () => {
      const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
      const row = (name: string, value: (nm: number) => number) =>
        `"${name}" ${nms.map((nm) => value(nm).toFixed(4)).join(' ')}`;
      const rows = [
        row('Paper', () => 0.86),
        row('Orange 50', (nm) => (nm > 580 ? 0.83 : 0.45)),
        row('Orange 100', (nm) => (nm > 580 ? 0.8 : 0.05)),
        row('Orange 100 over black', (nm) => (nm > 580 ? 0.3 : 0.03)),
      ];
      await screen.drop([
        {
          name: 'orange.txt',
          bytes: `CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_NAME ${nms.map((n) => `SPECTRAL_NM${n}`).join(' ')}\nEND_DATA_FORMAT\nNUMBER_OF_SETS 4\nBEGIN_DATA\n${rows.join('\n')}\nEND_DATA\n`,
        },
      ]);
      await screen.text(/4 patches/);
    },
  ],
  ['Apply, no artwork', () => screen.go(`/libraries/${id}/apply`)],
  [
    'Apply, with a drawing and a chosen colour',
    async () => {
      await screen.go(`/libraries/${id}/apply`);
      await screen.drop([{ name: 'badge.svg', bytes: badge }]);
      await screen.text(/2 colours in 2 parts/);
      await screen.page.click('#color-1');
      await screen.find('combobox', 'What buoy becomes');
      await screen.page.waitForSelector('[data-work] img');
    },
  ],
  ['Apply, before and after', () => screen.button('Before and after')],
  [
    'Apply, separations',
    async () => {
      await screen.button('Separations');
      await screen.text(/Total ink/);
    },
  ],
  [
    'Apply, a new colourway',
    async () => {
      await screen.button('Recolour');
      await screen.button('New colourway');
      await screen.page.waitForSelector('.Dialogs-preview[src]');
    },
  ],
  ['Gather, artwork', () => screen.go(`/libraries/${id}/gather?from=artwork`)],
  ['Gather, no library', () => screen.go('/gather')],
  ['Gather, no picture', () => screen.go(`/libraries/${id}/gather`)],
  [
    'Gather, Reduce',
    async () => {
      await screen.go(`/libraries/${id}/gather`);
      await screen.drop([{ name: 'flag.png', bytes: await picture() }]);
      await screen.text(/Put \d in the tray/);
      await screen.text(/on average/);
    },
  ],
  ...(['Exact', 'Chart', 'Point'] as const).map((method): [string, () => Promise<unknown>] => [
    `Gather, ${method}`,
    async () => {
      await screen.button(method);
      await screen.text(
        method === 'Exact' ? /A chart of 3 squares/ : method === 'Chart' ? /chip/ : /No colour taken/,
      );
    },
  ]),
  [
    'Gather, Codes',
    async () => {
      await screen.go(`/libraries/${id}/gather?from=codes`);
      await inAllSurrounds();
      await screen.fill('Type or paste codes', '#8a1c24 hull');
      await screen.page.keyboard.press('Enter');
      await screen.fill('Type or paste codes', '0x8a1c24ff');
      await screen.page.keyboard.press('Enter');
      await screen.text(/2 lines|1 code waits/);
    },
  ],
  [
    'the tray and where to place it',
    async () => {
      await screen.page.evaluate(() =>
        [...document.querySelectorAll('button')].find((b) => /^Put/.test(b.textContent ?? ''))?.click(),
      );
      await screen.button('Place in…');
      await screen.page.waitForSelector('[role=dialog]');
    },
  ],
  [
    'Arrange, two chosen',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.choose('Boot-top red');
      await screen.page.keyboard.down('Control');
      await screen.choose('Old brass');
      await screen.page.keyboard.up('Control');
      await screen.text(/Contrast/);
    },
  ],
  [
    'Check, something found',
    async () => {
      await screen.go(`/libraries/${id}/check`);
      await screen.text(/print within|cannot reach/);
      await screen.press('Look-alikes');
    },
  ],
  [
    'Check, the grid of contrast',
    async () => {
      await screen.press('Contrast');
      await screen.text(/of 6 pairs pass/);
    },
  ],
  [
    'the print condition',
    async () => {
      await screen.press('Printed on');
      await screen.page.waitForSelector('[role=dialog]');
    },
  ],
  [
    'Gather, no family yet',
    async () => {
      await screen.go(`/libraries/${id}/gather?from=harmony`);
      await screen.text(/One colour, and the rest of its family/);
    },
  ],
  [
    'Gather, a family',
    async () => {
      await screen.button('Boot-top red');
      await screen.page.waitForSelector('[aria-label="Hue and lightness"] button');
      await screen.text(/line: Coated/);
    },
  ],
  [
    'which rule it is',
    async () => {
      await screen.button('Which rule is it…');
      await screen.page.waitForSelector('[role=dialog]');
    },
  ],
  [
    'Gather, a scale',
    async () => {
      await screen.dismissDialog();
      await screen.button('Scale');
      await screen.button('Old brass');
      await screen.text(/from each step to the next/);
    },
  ],
  [
    'Gather, a contrast scale',
    async () => {
      await screen.button('Contrast scale');
      await screen.text(/Every step has its ratio/);
    },
  ],
  [
    'a gradient',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.choose('Boot-top red');
      await screen.page.keyboard.down('Control');
      await screen.choose('Old brass');
      await screen.page.keyboard.up('Control');
      await screen.button('Make…');
      await screen.page.waitForSelector('[role=menuitem]');
      await screen.page.keyboard.press('Enter');
      await screen.page.waitForSelector('[aria-label^="Stop "]');
    },
  ],
  [
    'materials',
    async () => {
      await screen.button('Done');
      await screen.button('Make…');
      await screen.page.waitForSelector('[role=menuitem]');
      await screen.page.keyboard.press('End');
      await screen.page.keyboard.press('Enter');
      await screen.page.waitForSelector('[role=dialog] input[type=range]');
    },
  ],
  [
    'Gather, no book yet',
    async () => {
      await screen.go(`/libraries/${id}/gather?from=book`);
      await screen.text(/No books yet/);
    },
  ],
  [
    'Gather, a leaf of a book',
    async () => {
      await screen.button('Add the Kestrelmere Inks');
      await screen.text(/Leaf \d+ of \d+/);
      await screen.page.waitForSelector('fieldset[aria-label=Tints] button');
      await screen.page.waitForSelector('.recharts-line');
    },
  ],
  ['Gather, a book as a list', () => screen.button('List')],
  ['Gather, sets of a book', () => screen.button('Sets')],
  [
    'what is closest to a colour',
    async () => {
      await screen.button('Closest to…');
      await screen.page.waitForSelector('[role=dialog]');
    },
  ],
  [
    'the nearest, to swap for',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.choose('Boot-top red');
      await screen.page.keyboard.press('n');
      await screen.page.waitForSelector('#nearest-7');
    },
  ],
  [
    'Check, nearest in a book',
    async () => {
      await screen.go(`/libraries/${id}/check`);
      await screen.press('Nearest in a book');
      await screen.page.waitForSelector('[data-swatch]');
      await screen.text(/Also near/);
    },
  ],
  [
    'where to look',
    async () => {
      await screen.press('in Kestrelmere');
      await screen.page.waitForSelector('[role=dialog]');
    },
  ],
  [
    'the links of a library, with a new one and its downloads',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.button('Share');
      await screen.button('New link');
      await screen.text(/all formats/);
      await screen.button('comment');
      expect(await found()).toEqual([]);
      await screen.button('all formats');
      await screen.button('some');
      await screen.find('checkbox', 'ASE');
    },
  ],
  [
    'a file link being made',
    async () => {
      await screen.page.keyboard.press('Escape');
      await screen.button('New file link…');
      await screen.find('group', 'New file link');
      expect(await found()).toEqual([]);
      await screen.button('Make the file link');
      await screen.find('textbox', 'Address of CSS');
    },
  ],
  [
    'all comments, a choice and its question',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.page.waitForSelector('[data-swatch]');
      const all = await screen.page.$$('[data-swatch]');
      await all[0]!.click();
      await screen.page.keyboard.down('Control');
      await all[1]!.click();
      await screen.page.keyboard.up('Control');
      await screen.button('Comments');
      await screen.button('Ask for a choice…');
      await screen.find('textbox', 'Question');
      expect(await found()).toEqual([]);
      await screen.button('Ask');
      await screen.text(/Close/);
    },
  ],
  [
    'a comment being written, and its thread',
    async () => {
      await screen.page.keyboard.press('Escape');
      await screen.page.keyboard.press('Escape');
      await screen.go(`/libraries/${id}/arrange`);
      await screen.page.waitForSelector('[data-swatch]');
      await (await screen.page.$('[data-swatch]'))!.click();
      await (await screen.page.waitForSelector('textarea'))!.type('Is it within reach?');
      expect(await found()).toEqual([]);
      await screen.fill('Your name', 'Marit');
      await screen.page.keyboard.press('Enter');
      await screen.text(/1 open/);
    },
  ],
  [
    'the linked folder that could be',
    async () => {
      await screen.go(`/libraries/${id}/hand-over`);
      await screen.press('Folder…');
      await screen.find('dialog', 'Linked folder');
    },
  ],
  [
    'the page of a link',
    async () => {
      const kept = await screen.page.evaluate(
        () => Object.values(JSON.parse(localStorage.getItem('papillon-links')!))[0],
      );
      await screen.go(`/s/${kept}`);
      await screen.text(/CMYK for/);
    },
  ],
  ['a link that has ended', () => screen.page.goto(`${harness.url}/s/${'x'.repeat(22)}`)],
  ['the books', () => screen.go('/books')],
  ['a book', () => screen.go('/books/kestrelmere-coated')],
  ['processing steps', () => screen.go('/books/processing-steps')],
  ['a book that is none', () => screen.go('/books/none')],
  ['Print profiles', () => screen.go('/profiles')],
  ['Backups', () => screen.go('/backups')],
  [
    'Arrange, mosaic',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      // what says that it is being read comes in softly, and is too pale half-way
      await screen.page.waitForSelector('[role=option]');
    },
  ],
  [
    'Arrange, one chosen',
    async () => {
      await screen.choose('Boot-top red');
      await screen.page.focus('[role=listbox]');
    },
  ],
  ['Arrange, list', () => screen.button('List')],
  [
    'what several swatches have in common',
    async () => {
      await screen.page.keyboard.down('Control');
      await screen.choose('Old brass');
      await screen.page.keyboard.up('Control');
    },
  ],
  [
    'a menu',
    async () => {
      await screen.button('Sort 2 chosen');
      await screen.page.waitForSelector('[role=menu]');
    },
  ],
  [
    'sending swatches',
    async () => {
      await screen.page.keyboard.press('Escape');
      await screen.page.waitForSelector('[role=menu]', { hidden: true });
      await screen.button('Send…');
      await screen.page.waitForSelector('[role=dialog]');
    },
  ],
  [
    'merging libraries',
    async () => {
      await screen.dismissDialog();
      await screen.button('Merge…');
      await screen.page.waitForSelector('[role=dialog] select');
    },
  ],
  [
    'what the keyboard does',
    async () => {
      await screen.dismissDialog();
      await screen.button('Help and keys');
      await screen.page.waitForSelector('[role=dialog]');
    },
  ],
  [
    'files that came in',
    async () => {
      await screen.dismissDialog();
      await screen.drop([
        { name: 'fleet.ase', bytes: ase.encode(fleet, services) },
        { name: 'torn.ase', bytes: 'ASEF\0' },
        { name: 'flag.svg', bytes: '<svg xmlns="http://www.w3.org/2000/svg"><path fill="#8a1c24"/></svg>' },
      ]);
      await screen.text(/Open 2 files/);
    },
  ],
  [
    'Hand over',
    async () => {
      await screen.go(`/libraries/${id}/hand-over`);
      await screen.text(/change on the way|arrive/);
    },
  ],
  [
    'the history',
    async () => {
      await screen.go(`/libraries/${id}/arrange`);
      await screen.choose('Boot-top red');
      await screen.fill('Role', 'hull');
      await screen.page.keyboard.press('Enter');
      await screen.go(`/libraries/${id}/history`);
      await screen.page.waitForSelector('.History-row');
      await screen.page.click('.History-row');
      await screen.text(/After “/);
    },
  ],
];

describe('nothing is in anyone’s way', () => {
  it.each(screens)('%s', async (_, go) => {
    await go();
    await inAllSurrounds();
  });
});

describe('on an upright tablet', () => {
  it.each([
    ['the libraries', '/'],
    ['Gather', '/gather'],
    ['Codes', '/gather?from=codes'],
    ['Harmony', '/gather?from=harmony'],
    ['Arrange', '/libraries/ID/arrange'],
    ['Apply', '/libraries/ID/apply'],
    ['Check', '/libraries/ID/check'],
    ['Hand over', '/libraries/ID/hand-over'],
    ['the history', '/libraries/ID/history'],
  ])('%s', async (_, path) => {
    await screen.page.setViewport({ width: 820, height: 1180, hasTouch: true, isMobile: true });
    await screen.go(path.replace('ID', id));
    await inAllSurrounds();
    const groups = await screen.page.$('button[aria-label="Groups"]');
    if (!groups) return;
    await groups.click();
    await screen.page.waitForSelector('[data-open=true]');
    await inAllSurrounds();
  });
});
