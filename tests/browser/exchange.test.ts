import { strToU8, unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { computedCss } from '../../core/color/computed-css.ts';
import { fromCss, spaces, toCss } from '../../core/color/index.ts';
import { ase } from '../../core/formats/ase/ase.ts';
import { openSwatchFile } from '../../core/formats/index.ts';
import { countingIds, type Library } from '../../core/swatch/model.ts';
import { coated, libraryOf, services } from '../../core/testing.ts';
import { cssColors } from './css-colors.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;
beforeAll(async () => {
  harness = await Harness.start();
  screen = await harness.page('/');
});
afterAll(() => harness?.stop());

const fleet = () =>
  libraryOf('Fleet', {
    Hull: [
      ['Navy', '#14304a'],
      ['Red', '#b3262b'],
    ],
    Deck: [['Teak', 'C 20 M 60 Y 90 K 30']],
  });
const names = async (id: string) => {
  const state = await (await fetch(`${harness.url}/libraries/${id}/changes`)).json();
  return state.library.groups.map((g: Library['groups'][number]) =>
    [g.name, ...g.swatches.map((s) => s.name)].join(' '),
  );
};
const gpl = (name: string, ...lines: string[]) =>
  strToU8(`GIMP Palette\nName: ${name}\n${lines.join('\n')}\n`);

describe('a colour of a style sheet', () => {
  it('is what the browser computes, whatever its numbers and however it is made of others', async () => {
    const computed = await screen.page.evaluate((list) => {
      const probe = document.body.appendChild(document.createElement('i'));
      const found = list.map((color) => {
        probe.style.color = '';
        probe.style.color = color;
        return probe.style.color ? getComputedStyle(probe).color : null;
      });
      probe.remove();
      return found;
    }, cssColors);
    const wrong = cssColors.flatMap((text, i) => {
      const [ours, theirs] = [computedCss(text), computed[i] ? fromCss(computed[i]) : null];
      if (!ours || !theirs)
        return ours || theirs ? [`${text}: ${JSON.stringify(ours)}, browser ${computed[i]}`] : [];
      const [a, b] = [ours, theirs].map(({ color: { space, components } }) =>
        spaces.rgb.fromCulori(spaces[space].toCulori(components)),
      );
      // the browser keeps the older notations in eight bits
      return a!.every((v, k) => Math.abs(v - b![k]!) < 0.0021) &&
        Math.abs((ours.alpha ?? 1) - (theirs.alpha ?? 1)) < 0.003
        ? []
        : [`${text}: ${toCss(ours.color, coated)}, browser ${computed[i]}`];
    });
    expect(wrong).toEqual([]);
  });
});

describe('the kit', () => {
  let id = '';
  beforeAll(async () => {
    id = await harness.keep(fleet());
    await screen.go(`/libraries/${id}/hand-over`);
  });

  it('is taken for the destinations ticked, and remembered with the revision', async () => {
    await screen.text(/All 3 swatches arrive exactly as they are/);
    await screen.click('checkbox', 'Painting');
    await screen.click('checkbox', 'Print and spot');
    await screen.text(/3 destinations · 7 files/);
    await screen.button('Download kit');
    const files = unzipSync(new Uint8Array(await harness.downloaded('Fleet kit.zip')));
    expect(Object.keys(files).sort()).toEqual(
      [
        'Chips.pdf',
        'Chips.png',
        'Painting/Fleet, Deck.aco',
        'Painting/Fleet, Deck.gpl',
        'Painting/Fleet, Hull.aco',
        'Painting/Fleet, Hull.gpl',
        'Painting/READ ME.txt',
        'Print and spot/Fleet.cxf',
        'Print and spot/Fleet.pdf',
        'Print and spot/READ ME.txt',
        'Vector drawing/Fleet.ase',
        'Vector drawing/READ ME.txt',
        'manifest.json',
      ].sort(),
    );
    expect(new TextDecoder('latin1').decode(files['Chips.pdf'].subarray(0, 5))).toBe('%PDF-');
    const deck = (await openSwatchFile(files['Painting/Fleet, Deck.aco'], 'Deck.aco', countingIds())).library;
    expect(deck.groups[0].swatches[0].color.space).toBe('cmyk');
    await screen.text(/handed over today \d\d:\d\d at revision 0, unchanged since/);
  });

  it('says after a reload that the library changed since, and takes the same again', async () => {
    await screen.click('link', 'Arrange');
    await screen.choose('Navy');
    await screen.fill('Name', 'Night');
    await screen.page.keyboard.press('Enter');
    // at the moment it happens, and from then on beside the step
    await screen.text(/The kit handed over today \d\d:\d\d does not have this change/);
    await screen.text(/saved/);
    expect(await screen.page.$eval('nav[aria-label=Steps] a[href$=hand-over]', (a) => a.title)).toMatch(
      /^Changed since the kit/,
    );
    await screen.button('Update kit');
    await screen.text(/at revision 0, changed since/);
    await screen.go(`/libraries/${id}/hand-over`);
    await screen.text(/at revision 0, changed since/);
    await screen.button('What changed');
    await screen.text(/rename/);
    await screen.page.keyboard.press('Escape');
    await screen.text(/3 destinations · 7 files/);
    await screen.button('Update kit');
    await screen.text(/at revision 1, unchanged since/);
  });

  it('keeps destinations as a preset that other libraries can use', async () => {
    await screen.button('Presets');
    await screen.click('menuitem', 'Keep these destinations as a preset…');
    await screen.fill('Name of the preset', 'Printer');
    await screen.button('Keep');
    await screen.text(/Kept as the preset Printer/);
    const other = await harness.keep(libraryOf('Other', { '': [['Sea', '#2f7d6b']] }));
    await screen.go(`/libraries/${other}/hand-over`);
    await screen.text(/1 destination · 1 file/);
    await screen.button('Presets');
    await screen.click('menuitem', 'Printer');
    await screen.text(/3 destinations · 5 files/);
  });

  it('writes names in the case and with the beginning that are chosen', async () => {
    await screen.button('Web and interface CSS · Design tokens');
    await screen.click('tab', 'SCSS');
    await screen.page.waitForSelector('input[placeholder="color-"]');
    await screen.page.select('select:has(option[value=camel])', 'camel');
    await screen.fill('begin with', 'ui');
    await screen.page.keyboard.press('Enter');
    await screen.text(/the name becomes “uiSea”/);
    await screen.button('Download SCSS only');
    const text = (await harness.downloaded('Other.scss')).toString();
    expect(text).toBe('$uiSea: #2f7d6b; // "Sea"\n');
  });

  it('carries only what is in scope', async () => {
    await screen.go(`/libraries/${id}/hand-over`);
    await screen.button('Everything goes');
    await screen.click('menuitemcheckbox', 'Hull · 2');
    await screen.page.keyboard.press('Escape');
    await screen.text(/The swatch arrives exactly as it is|1 group: 1 swatch/);
    expect(screen.errors).toEqual([]);
  });
});

/** A table that promises a second set and ends before. */
const torn = strToU8(
  'CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_NAME LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nNUMBER_OF_SETS 2\nBEGIN_DATA\nFlax 80 0 20\n',
);

describe('opening many files', () => {
  const zip = () =>
    zipSync({
      'job/ropes.gpl': gpl('Ropes', '1 2 3\tHemp'),
      'job/more/ropes.gpl': gpl('More ropes', '4 5 6\tTar'),
      'job/letter.txt': strToU8('Dear crew'),
      'job/torn.txt': torn,
    });

  it('shows what was recognised, what was passed over, and opens a damaged file only if told to', async () => {
    await screen.go('/');
    await screen.drop([{ name: 'job.zip', bytes: zip() }]);
    await screen.text(/Open 3 files/);
    await screen.text(/1 file was passed over/);
    await screen.text(/promises 2 sets of values, but has 1.*1 swatch before the damage is sound/);
    await screen.click('radio', 'Groups of one new library');
    await screen.button('Open as a library');
    await screen.text(/2 swatches · saved/);
    expect(await screen.names()).toEqual(['Hemp', 'Tar']);
  });

  it('opens the sound part when its box is ticked', async () => {
    await screen.go('/');
    await screen.drop([{ name: 'torn.txt', bytes: torn }]);
    await screen.click('checkbox', 'Open torn.txt');
    await screen.button('Open as a library');
    await expect.poll(() => screen.names()).toEqual(['Flax']);
  });

  it('opens every file as a library, two of one name too', async () => {
    await screen.go('/');
    await screen.drop([
      { name: 'x.gpl', bytes: gpl('Twin', '1 2 3\tOne') },
      { name: 'x.gpl', bytes: gpl('Twin', '4 5 6\tTwo') },
    ]);
    await screen.button('Open as libraries');
    await screen.page.waitForFunction(() => document.body.textContent!.split('Twin').length >= 3);
    expect(screen.errors).toEqual([]);
  });
});

describe('between libraries', () => {
  it('merges one into another with a choice for each kind of meeting', async () => {
    const id = await harness.keep(fleet());
    await harness.keep(
      libraryOf('Refit', {
        Hull: [
          ['Navy', '#14304a'],
          ['Red', '#c03030'],
          ['Gold', '#d9a441'],
        ],
      }),
    );
    await screen.go(`/libraries/${id}/arrange`);
    await screen.button('Merge…');
    await screen.text(/Refit · 3 swatches/);
    await screen.button('Compare');
    await screen.text(/Same name and same colour · 1/);
    await screen.text(/Same name, another colour · 1/);
    const [, takeTheirs] = await screen.page.$$('[role=dialog] button[value=theirs]');
    await takeTheirs.click();
    await screen.text(/1 swatch added, 1 replaced/);
    await screen.button('Merge');
    await expect.poll(() => screen.names()).toEqual(['Navy', 'Red', 'Gold', 'Teak']);
    await screen.button('Undo');
    await expect.poll(() => screen.names()).toEqual(['Navy', 'Red', 'Teak']);
  });

  it('a group is moved to another library in one step, and undone in both', async () => {
    const id = await harness.keep(fleet());
    const target = await harness.keep(libraryOf('Yard', { Paint: [['Primer', '#887766']] }));
    await screen.go(`/libraries/${id}/arrange`);
    await screen.button('Group Hull');
    await screen.click('menuitem', 'Send to a file or library…');
    await screen.click('radio', 'Another library');
    await screen.text(/Yard · 1 swatch/);
    await screen.click('radio', 'Move. They leave this library.');
    await screen.button('Move');
    await expect.poll(() => screen.names()).toEqual(['Teak']);
    await expect.poll(() => names(target)).toEqual(['Paint Primer', 'Hull Navy Red']);
    await (await screen.page.waitForSelector('.toast-toast button'))!.click();
    await expect.poll(() => screen.names()).toEqual(['Navy', 'Red', 'Teak']);
    await expect.poll(() => names(target)).toEqual(['Paint Primer']);
  });

  it('a group becomes a file of its own in one step', async () => {
    await screen.button('Group Hull');
    await screen.click('menuitem', 'Send to a file or library…');
    await screen.button('Download');
    const { library: hull } = await openSwatchFile(
      new Uint8Array(await harness.downloaded('Hull.ase')),
      'x',
      countingIds(),
    );
    expect(hull.groups.flatMap((g) => g.swatches.map((s) => s.name))).toEqual(['Navy', 'Red']);
    expect(screen.errors).toEqual([]);
  });
});

describe('converting without opening', () => {
  it('takes any files, shows what changes in each, and gives one zip', async () => {
    await screen.go('/');
    const before = (await (await fetch(`${harness.url}/libraries`)).json()).length;
    await screen.click('link', 'Convert files');
    await screen.text(/Drop the files to convert/);
    await screen.drop([
      { name: 'fleet.ase', bytes: ase.encode(fleet(), services) },
      { name: 'ropes.zip', bytes: zipSync({ 'ropes.gpl': gpl('Ropes', '1 2 3\tHemp') }) },
      { name: 'torn.ase', bytes: strToU8('ASEF\0') },
    ]);
    await screen.text(/torn\.ase: read as ASE, it is cut short/);
    await screen.text(/All 3 swatches arrive exactly/);
    await screen.click('checkbox', 'GPL');
    await screen.text(/1 of 3 swatches changes on the way.*Groups are lost/);
    await screen.click('checkbox', 'SCSS');
    await screen.text(/2 files to GPL, SCSS · 4 files in one zip/);
    await screen.button('Download zip');
    const files = unzipSync(new Uint8Array(await harness.downloaded('converted.zip')));
    expect(Object.keys(files).sort()).toEqual([
      'GPL/Ropes.gpl',
      'GPL/fleet.gpl',
      'SCSS/Ropes.scss',
      'SCSS/fleet.scss',
    ]);
    expect((await (await fetch(`${harness.url}/libraries`)).json()).length).toBe(before);
    expect(screen.errors).toEqual([]);
  });

  it('takes files that are dropped while the screen is still on its way', async () => {
    const { page } = screen;
    let arrive = () => {};
    const there = new Promise<void>((resolve) => {
      arrive = resolve;
    });
    const hold = (request: import('puppeteer-core').HTTPRequest) => {
      const go = () => void request.continue();
      if (request.url().endsWith('.icc')) void there.then(go);
      else go();
    };
    // what the service worker has is not asked for here
    await page.setBypassServiceWorker(true);
    await page.setCacheEnabled(false);
    await page.setRequestInterception(true);
    page.on('request', hold);
    await screen.go('/convert');
    await screen.drop([{ name: 'fleet.ase', bytes: ase.encode(fleet(), services) }]);
    await new Promise((resolve) => setTimeout(resolve, 500));
    const before = await page.evaluate(() => document.body.textContent);
    expect(before).not.toMatch(/Drop the files to convert|Open 1 file/);
    arrive();
    page.off('request', hold);
    await page.setRequestInterception(false);
    await page.setCacheEnabled(true);
    await page.setBypassServiceWorker(false);
    await screen.text(/All 3 swatches arrive exactly/);
  });
});
