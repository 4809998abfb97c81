import { afterAll, beforeAll, describe, expect, it } from 'vitest';
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
