import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { deltaE00, screenOnly, toLab } from '../../core/color/index.ts';
import type { Color } from '../../core/color/model.ts';
import { gradientThrough } from '../../core/swatch/index.ts';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// Colours moved by hand and eye in Arrange.

let harness: Harness;
let screen: Screen;
let id = '';
const library = libraryOf('Harbour', {
  Sky: [
    ['Slate', '#455a66'],
    ['Night', '#263a46'],
    ['Fog', '#83948f'],
  ],
  Hull: [['Red', '#b3262b']],
});
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(library);
  screen = await harness.page(`/libraries/${id}/arrange`);
});
afterAll(() => harness?.stop());

const kept = async () => {
  const { library: found } = await (await fetch(`${harness.url}/libraries/${id}/changes`)).json();
  return found.groups as {
    name: string;
    swatches: { name: string; color: { components: number[] }; origin?: { from: string; name: string } }[];
  }[];
};
const press = (key: Parameters<Screen['page']['keyboard']['press']>[0]) => screen.page.keyboard.press(key);
const chooseSky = async () => {
  await screen.choose('Slate');
  await screen.page.keyboard.down('Shift');
  await screen.choose('Fog');
  await screen.page.keyboard.up('Shift');
};

describe('Tune', () => {
  it('shows before and after of all that is chosen, and is saved as one edit that says what was done', async () => {
    await screen.names();
    await chooseSky();
    const before = await kept();
    await press('t');
    await screen.text(/3 swatches · nothing changed yet/);
    await screen.fill('Lightness', '4');
    await screen.fill('Chroma, times', '1.3');
    await screen.text(/3 swatches · largest ΔE00 \d\.\d · all inside sRGB/);
    // the board, too: a face for what is and one for what would be
    await expect
      .poll(() => screen.page.$$eval('[role=option] .wing-pair-pair', (pairs) => pairs.length))
      .toBe(3);
    expect(await kept()).toEqual(before);
    await screen.button('Save');
    await screen.text(/Tuned: lightness \+4, chroma × 1\.30/);
    await screen.text(/4 swatches · saved/);
    const after = await kept();
    expect(after[0]!.swatches.map((s) => s.name)).toEqual(before[0]!.swatches.map((s) => s.name));
    expect(after[0]!.swatches[0]!.color).not.toEqual(before[0]!.swatches[0]!.color);
    expect(after[1]).toEqual(before[1]);
    // and every number comes back to the last bit
    await screen.click('button', 'Undo');
    await expect.poll(kept).toEqual(before);
  });

  it('is left with Escape, and changes nothing', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.names();
    const before = await kept();
    await screen.choose('Red');
    await press('t');
    await screen.button('Darker');
    await screen.text(/largest ΔE00/);
    await screen.page.focus('[role=listbox]');
    await press('Escape');
    await screen.text(/gathered colours wait here/);
    // what was chosen still is
    expect(await screen.page.$$eval('[role=option][aria-selected=true]', (all) => all.length)).toBe(1);
    expect(await kept()).toEqual(before);
  });

  it('a swatch’s own values stay with it when another is chosen', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.names();
    await screen.choose('Red');
    await press('t');
    await screen.button('values');
    await screen.fill('G', '200');
    await screen.text(/1 swatch · largest ΔE00/);
    await screen.choose('Slate');
    await screen.text(/1 swatch · nothing changed yet/);
    // of several there are none, and something else is shown
    await chooseSky();
    await screen.text(/3 swatches · nothing changed yet/);
    await screen.find('textbox', 'Lightness');
    await screen.button('Cancel');
  });

  it('makes a group of its own, whose swatches know what they come from', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.names();
    await chooseSky();
    await screen.button('Tune');
    await screen.button('reverse');
    await screen.click('checkbox', 'light becomes dark');
    await screen.button('Save as new');
    await screen.text(/7 swatches · saved/);
    const group = (await kept()).find((g) => g.name === 'Sky, tuned')!;
    expect(group.swatches.map((s) => [s.name, s.origin?.from])).toEqual([
      ['Slate', 'tune'],
      ['Night', 'tune'],
      ['Fog', 'tune'],
    ]);
    expect(group.swatches[0]!.origin!.name).toBe('Slate, reversed');
  });
});

describe('Tune is reached', () => {
  it('from a finding of Check, with its swatches chosen', async () => {
    const alike = await harness.keep(
      libraryOf('Alike', {
        A: [
          ['One', '#263a46'],
          ['Other', '#263b47'],
          ['Far', '#e0cba0'],
        ],
      }),
    );
    await screen.go(`/libraries/${alike}/check`);
    await screen.press('Look-alikes');
    await screen.button('Tune…');
    await screen.text(/2 swatches · nothing changed yet/);
    expect(new URL(screen.page.url()).pathname).toMatch(/arrange$/);
  });

  it('from a colour of artwork, with the swatch that it becomes', async () => {
    await screen.go(`/libraries/${id}/apply`);
    await screen.drop([
      {
        name: 'badge.svg',
        bytes:
          '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="150"><rect id="badge" width="300" height="150" fill="#b3262b"/></svg>',
      },
    ]);
    await screen.text(/1 colour in 1 part/);
    await screen.page.click('#color-0');
    const field = await screen.find('combobox', 'What badge becomes');
    await field.type('Red');
    await press('Enter');
    await screen.button('Tune…');
    await screen.text(/1 swatch · nothing changed yet/);
  });
});

describe('one swatch', () => {
  let own = '';
  const there = async () => {
    const { library: found } = await (await fetch(`${harness.url}/libraries/${own}/changes`)).json();
    return found.groups.flatMap((g: { swatches: object[] }) => g.swatches) as {
      name: string;
      kind: string;
      color: Color;
      tint?: { of: string; percent: number };
    }[];
  };
  const field = (name: string) =>
    screen.find('textbox', name).then((f) => f.evaluate((e) => (e as HTMLInputElement).value));
  beforeAll(async () => {
    const made = libraryOf('Signs', {
      A: [
        ['Slate', '#455a66'],
        ['Letters', '#6d7377'],
        ['Sheet', '#f2eee2'],
        ['Rust', '#a84b2a'],
      ],
    });
    const [slate, letters, sheet, rust] = made.groups[0]!.swatches;
    letters!.role = 'text';
    sheet!.role = 'ground';
    Object.assign(rust!, { kind: 'spot', color: { space: 'lab', components: [44, 37, 36] } });
    own = await harness.keep({ ...made, items: [gradientThrough('g', 'Dusk', [slate!, sheet!], 'oklab')] });
    await screen.go(`/libraries/${own}/arrange`);
    await screen.names();
  });
  const tune = async (name: string) => {
    await screen.choose(name);
    await press('t');
  };

  it('is moved by arrow keys: by one, by ten with Shift, by a tenth with Alt', async () => {
    await tune('Slate');
    await (await screen.find('slider', 'Lightness')).focus();
    const { keyboard } = screen.page;
    await press('ArrowRight');
    await expect.poll(() => field('Lightness')).toBe('1.0');
    await keyboard.down('Shift');
    await press('ArrowRight');
    await keyboard.up('Shift');
    await expect.poll(() => field('Lightness')).toBe('11.0');
    await keyboard.down('Alt');
    await press('ArrowLeft');
    await keyboard.up('Alt');
    await expect.poll(() => field('Lightness')).toBe('10.9');
    await screen.button('Start over');
    await screen.text(/1 swatch · nothing changed yet/);
  });

  it('is put where the chart of its hue is pressed', async () => {
    const chart = (await screen.page.$('.SliceChart-slice'))!;
    const { x, y, width, height } = (await chart.boundingBox())!;
    await screen.page.mouse.click(x + width * (0.06 / 0.34), y + height * 0.4);
    await expect.poll(() => field('Lightness')).toMatch(/^1\d\.\d$/);
    await screen.text(/1 swatch · largest ΔE00/);
    await screen.button('Start over');
  });

  it('shows what uses it as it would be: a gradient, and text on its ground', async () => {
    await screen.button('Cancel');
    await tune('Letters');
    await screen.fill('Lightness', '-20');
    await screen.text(/Letters on Sheet 4\.1 → 1?\d\.\d : 1/);
    await screen.text(/1 pair of text and ground now readable/);
    await screen.button('Cancel');
    await tune('Slate');
    await screen.find('region', 'In use');
    const painted = () =>
      screen.page.$eval('[aria-label="In use"] canvas', (e) => {
        const { width } = e as HTMLCanvasElement;
        return (
          width > 0 && [...(e as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, 1, 1).data].join()
        );
      });
    await expect.poll(painted).toBe('69,90,102,255');
    await screen.fill('Lightness', '20');
    await expect.poll(painted).not.toBe('69,90,102,255');
    await screen.button('Cancel');
  });

  it('takes what an eye just tells apart, so far off as it says', async () => {
    await tune('Slate');
    await screen.button('By sight…');
    await screen.button('lighter, ΔE00 2');
    await screen.text(/ΔE00 2\.0/);
    await screen.button('Done');
    await screen.button('Save');
    await screen.text(/Tuned: values to/);
    await expect
      .poll(async () =>
        deltaE00(
          toLab((await there())[0]!.color, screenOnly),
          toLab({ space: 'rgb', components: [69 / 255, 90 / 255, 102 / 255] }, screenOnly),
        ),
      )
      .toBeCloseTo(2, 1);
    await screen.click('button', 'Undo');
  });

  it('that is an ink keeps its colour, and becomes a tint or process colours only on request', async () => {
    await tune('Rust');
    await screen.text(/Rust is an ink, and keeps its colour/);
    expect(
      await (await screen.find('button', 'Save')).evaluate((b) => (b as HTMLButtonElement).disabled),
    ).toBe(true);
    await screen.fill('Tint, %', '40');
    await screen.button('Add 40 % of it');
    await expect
      .poll(async () => (await there()).find((s) => s.tint)?.tint)
      .toEqual({ of: 'Rust', percent: 40 });
    expect((await there()).find((s) => s.name === 'Rust')!.color.components).toEqual([44, 37, 36]);
    await tune('Rust');
    await screen.button('Convert to process');
    await expect
      .poll(async () => {
        const rust = (await there()).find((s) => s.name === 'Rust')!;
        return [rust.kind, rust.color.space];
      })
      .toEqual(['process', 'cmyk']);
  });
});

describe('the bar', () => {
  it('says which checks would find more or less', async () => {
    const alike = await harness.keep(
      libraryOf('Close', {
        A: [
          ['One', '#263a46'],
          ['Other', '#263b47'],
          ['Far', '#e0cba0'],
        ],
      }),
    );
    await screen.go(`/libraries/${alike}/arrange`);
    await screen.names();
    await screen.choose('One');
    await press('t');
    await screen.fill('Lightness', '20');
    await screen.text(/Look-alikes 1 → 0/);
    await screen.button('Cancel');
  });
});

describe('a tuning', () => {
  it('is kept by a name, and repeated on others after a reload', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.names();
    await screen.choose('Red');
    await press('t');
    await screen.fill('Lightness', '-6');
    await screen.button('Tunings…');
    await screen.click('menuitem', 'keep this one by a name…');
    await (await screen.find('textbox', 'Name of the tuning')).type('dusk');
    await press('Enter');
    await screen.button('Cancel');
    // written down a moment after the hand has rested
    await expect.poll(() => screen.shelf('notes').then((n) => JSON.stringify(n))).toMatch(/dusk/);
    await screen.reload();
    await screen.names();
    await screen.choose('Slate');
    await press('t');
    await screen.button('Tunings…');
    await screen.click('menuitem', 'dusk: lightness −6');
    await screen.text(/1 swatch · largest ΔE00/);
    await screen.button('Cancel');
  });

  it('is done in the tray, as one edit, and to a take before it is put there', async () => {
    await screen.go(`/libraries/${id}/gather?from=codes`);
    for (const code of ['#102030', '#c8102e']) {
      await (await screen.find('textbox', 'Type or paste codes')).type(code);
      await press('Enter');
    }
    await screen.text(/Put 2 in the tray/);
    await screen.button('Tune');
    await screen.fill('Lightness', '10');
    await screen.page.click('[role=dialog] [type=submit]');
    await screen.text(/2 waiting/);
    await screen.button('Tune…');
    await screen.text(/Tune the tray/);
    await screen.button('Calmer');
    await screen.page.click('[role=dialog] [type=submit]');
    await screen.page.waitForSelector('[role=dialog]', { hidden: true });
    const colors = async () => {
      const { library: found } = await (await fetch(`${harness.url}/libraries/tray/changes`)).json();
      return found.groups[0].swatches.map((s: { color: Color }) => toLab(s.color, screenOnly)[0]) as number[];
    };
    // lighter than what was typed: #102030 has L* 11.9 and #c8102e 42.7 (colorjs.io)
    await expect.poll(async () => (await colors()).map((L, i) => L > [13, 45][i]!)).toEqual([true, true]);
    const n = (await colors()).length;
    await screen.button('Empty');
    expect(n).toBe(2);
  });
});
