import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { INTERPOLATIONS } from '../../core/color/index.ts';
import { css } from '../../core/formats/css/css.ts';
import { svg } from '../../core/formats/svg/svg.ts';
import { paintGradient } from '../../core/gradient/index.ts';
import { gradientsOf, gradientThrough, resolvedStops } from '../../core/swatch/index.ts';
import type { Library } from '../../core/swatch/model.ts';
import { coated, libraryOf, services } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

let harness: Harness;
let screen: Screen;
let id = '';
const harbour = libraryOf('Harbour signs', {
  Hull: [
    ['Boot-top', '#9a4a44'],
    ['Kelp', '#2f7d6b'],
    ['Night', '#14304a'],
  ],
});
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(harbour);
  screen = await harness.page(`/libraries/${id}/gather?from=harmony`);
});
afterAll(() => harness?.stop());

const press = async (...list: string[]) => {
  for (const key of list) await screen.page.keyboard.press(key as 'Enter');
};
/** The handles of the ribbon: what they are called, with the hue in degrees. */
const handles = () =>
  screen.page.$$eval('[aria-label="Hue and lightness"] button', (list) =>
    list.map((e) => {
      const [, name, hue] = /^(.*): hue (\d+)°/.exec(e.getAttribute('aria-label')!)!;
      return [name!, Number(hue)] as [string, number];
    }),
  );
const hues = async () => (await handles()).map(([, hue]) => hue);
const tray = () =>
  screen.page.$$eval('section[aria-label=Tray] button[aria-label^=Remove]', (list) => list.length);

describe('Gather › Harmony', () => {
  it('begins with a colour of the library, and has the whole family at once', async () => {
    await screen.text(/One colour, and the rest of its family/);
    await screen.button('Boot-top');
    await expect
      .poll(async () => (await handles()).map(([name]) => name))
      .toEqual(['Boot-top', 'left companion', 'right companion', 'lighter', 'neutral']);
    const [base, left, right] = await hues();
    expect([(left! - base! + 360) % 360, (right! - base! + 360) % 360]).toEqual([
      expect.toSatisfy((v: number) => Math.abs(v - 150) <= 1),
      expect.toSatisfy((v: number) => Math.abs(v - 210) <= 1),
    ]);
    // the press is there after a while, and every member inside it
    await screen.text(/line: Coated offset/);
    await screen.text(/lost chroma to fit the gamut|Every member is inside/);
  });

  it('is played by keys alone: a handle moves, finer with Shift, and past one end in at the other', async () => {
    await screen.page.focus('[data-key="0"]');
    const before = await hues();
    await press('ArrowRight', 'ArrowRight', 'ArrowRight');
    await expect.poll(async () => (await hues())[0]! - before[0]!).toBe(6);
    // the companions come along
    await expect
      .poll(async () => (await hues())[1]! - before[1]!)
      .toSatisfy((v: number) => Math.abs(v - 6) <= 1);
    for (let i = 0; i < 30; i++) await press('ArrowLeft');
    await expect.poll(async () => (await hues())[0]!).toBeGreaterThan(300);
    for (let i = 0; i < 27; i++) await press('ArrowRight');
    await expect.poll(async () => (await hues())[0]!).toBe(before[0]);
  });

  it('turns with a companion that is dragged, or bends the rule’s angle', async () => {
    const drag = async (key: string, by: number) => {
      const box = (await (await screen.page.$(`[data-key="${key}"]`))!.boundingBox())!;
      const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
      await screen.page.mouse.move(x, y);
      await screen.page.mouse.down();
      for (let i = 1; i <= 5; i++) await screen.page.mouse.move(x + (by * i) / 5, y);
      await screen.page.mouse.up();
    };
    const before = await hues();
    await drag('0.1', 40);
    await expect.poll(async () => (await hues())[0]! - before[0]!).toBeGreaterThan(10);
    await screen.button('bends the angle');
    const turned = await hues();
    await drag('0.2', 20);
    await expect.poll(async () => (await hues())[2]! - turned[2]!).toBeGreaterThan(4);
    const bent = await hues();
    expect(bent[0]).toBe(turned[0]);
    // the other companion goes the other way
    expect(bent[1]!).toBeLessThan(turned[1]!);
  });

  it('takes exact numbers, holds a member where it is, and shows all three orders of hue', async () => {
    await screen.page.focus('[data-key="0"]');
    await screen.fill('hue °', '120');
    await press('Enter');
    await expect.poll(async () => (await hues())[0]).toBe(120);
    await screen.page.focus('[data-key="0.2"]');
    await screen.click('checkbox', 'hold it here');
    const held = (await hues())[2];
    await screen.page.focus('[data-key="0"]');
    await screen.fill('hue °', '30');
    await press('Enter');
    await expect.poll(async () => (await hues())[0]).toBe(30);
    expect((await hues())[2]).toBe(held);
    const before = await handles();
    await screen.press('pigment');
    await expect.poll(async () => JSON.stringify(await handles())).not.toBe(JSON.stringify(before));
    await screen.press('perceptual');
  });

  it('moves the joints between members, and keeps takes beside each other through a reload', async () => {
    const joint = 'Joint between base and left companion';
    await (await screen.find('slider', joint)).focus();
    const at = () =>
      screen.page.$eval(`[aria-label="${joint}"]`, (e) => Number(e.getAttribute('aria-valuenow')));
    const before = await at();
    await press('ArrowRight', 'ArrowRight', 'ArrowRight');
    await expect.poll(at).toBe(before + 3);
    await screen.button('New take');
    await screen.button('Triadic');
    await expect.poll(async () => (await handles()).length).toBe(5);
    await new Promise((r) => setTimeout(r, 500));
    await screen.reload();
    await expect.poll(async () => (await handles()).map(([n]) => n)).toContain('second');
    const takes = await screen.page.$$eval('section[aria-label=Takes] [aria-pressed]', (l) =>
      l.map((e) => e.textContent),
    );
    expect(takes).toEqual(['Split', 'Triadic']);
    await screen.page.evaluate(() =>
      (document.querySelector('section[aria-label=Takes] [aria-pressed]') as HTMLElement).click(),
    );
    await expect.poll(at).toBe(before + 3);
  });

  it('goes to the tray with names, roles and where it came from, and is opened there again', async () => {
    await screen.button('Put 5 in the tray');
    await expect.poll(tray).toBe(5);
    await screen.button('Place in…');
    await screen.page.waitForSelector('[role=dialog]');
    await screen.page.evaluate(() =>
      ([...document.querySelectorAll('[role=dialog] button')].at(-1) as HTMLElement).click(),
    );
    await expect.poll(tray).toBe(0);
    await screen.go(`/libraries/${id}/arrange`);
    const names = await screen.names();
    expect(new Set(names).size).toBe(names.length);
    await screen.choose(names.at(-2)!);
    await screen.text(/Made by Split, perceptual/);
    await screen.click('link', 'Open its family');
    await expect.poll(async () => (await handles()).length).toBe(5);
    expect(screen.page.url()).toMatch(/from=harmony$/);
    expect(screen.errors).toEqual([]);
  });

  it('says which rule a group follows, and pulls it there in one undo', async () => {
    await screen.button('Which rule is it…');
    await screen.text(/The colours are ΔE00 \d/);
    const slider = await screen.page.waitForSelector('[role=dialog] input[type=range]');
    await slider!.focus();
    await press('End');
    await screen.text(/100 %/);
    await screen.button('Pull in place');
    await screen.text(/pulled towards/);
    await screen.click('link', 'Arrange');
    const hex = () => screen.page.$$eval('[role=option]', (l) => l.map((e) => e.innerHTML).join());
    const after = await hex();
    await screen.page.keyboard.down('Control');
    await press('z');
    await screen.page.keyboard.up('Control');
    await expect.poll(hex).not.toBe(after);
  });
});

describe('scales', () => {
  it('lead from colour to colour with names by a pattern, and go to the tray', async () => {
    await screen.go(`/libraries/${id}/gather?from=harmony`);
    await screen.button('Scale');
    await screen.button('Kelp');
    await screen.text(/Kelp-9\d/);
    await screen.fill('Pattern of the names', 'sea {n}');
    await screen.text(/sea 11/);
    const before = await tray();
    await screen.button('Put 11 in the tray');
    await expect.poll(tray).toBe(before + 11);
  });

  it('have their contrast on the ground, and say where it allows no more', async () => {
    await screen.button('Contrast scale');
    await screen.fill('ratios', '1.5 3 4.5 7 18');
    await screen.text(/4\.5\d/);
    await screen.fill('on', '#777777');
    await screen.text(/more than this ground allows/);
    await screen.fill('ratios', '1.5 99');
    await screen.text(/A ratio lies between 1 and 21/);
    expect(screen.errors).toEqual([]);
  });
});

describe('gradients', () => {
  it('are made of the groups in one step, recolour with their swatches, and undo at once', async () => {
    await screen.go(`/libraries/${id}/arrange`);
    await screen.button('Make…');
    await screen.page.waitForSelector('[role=menuitem]');
    await screen.page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('[role=menuitem]')]
        .find((e) => /gradient for each/.test(e.textContent!))!
        .click(),
    );
    await screen.page.waitForSelector('[aria-label="Gradient Hull"]');
    const first = () =>
      screen.page.$eval('[aria-label="Gradient Hull"] canvas', (canvas) => {
        const c = canvas as HTMLCanvasElement;
        return [...c.getContext('2d')!.getImageData(0, 0, 1, 1).data].slice(0, 3);
      });
    await expect
      .poll(first)
      .toEqual([154, 74, 68].map((v) => expect.toSatisfy((x: number) => Math.abs(x - v) <= 2)));
    await screen.page.reload();
    await screen.page.waitForSelector('[aria-label="Gradient Hull"]');
    await (await screen.page.$('[aria-label="Gradient Hull"]'))!.click();
    const stop = await screen.find('slider', 'Stop Kelp');
    await stop.focus();
    await press('ArrowRight', 'ArrowRight');
    await expect
      .poll(() => screen.page.$eval('[aria-label="Stop Kelp"]', (e) => e.getAttribute('aria-valuenow')))
      .toBe('52');
    await screen.button('Done');
    expect(screen.errors).toEqual([]);
  });

  it('are taken along a line that is drawn on a picture', async () => {
    const { default: sharp } = await import('sharp');
    const ramp = Buffer.alloc(120 * 80 * 3);
    for (let y = 0; y < 80; y++)
      for (let x = 0; x < 120; x++) ramp.set([40 + x, 60, 200 - x], (y * 120 + x) * 3);
    const bytes = await sharp(ramp, { raw: { width: 120, height: 80, channels: 3 } })
      .png()
      .toBuffer();
    await screen.go(`/libraries/${id}/gather`);
    await screen.drop([{ name: 'tide.png', bytes }]);
    await screen.text(/Put \d+ in the tray/);
    await screen.button('along a line');
    const area = (await (await screen.page.waitForSelector('[role=application]'))!.boundingBox())!;
    const at = (x: number) => [area.x + area.width * x, area.y + area.height / 2] as const;
    await screen.page.mouse.move(...at(0.2));
    await screen.page.mouse.down();
    for (const x of [0.4, 0.6, 0.8]) await screen.page.mouse.move(...at(x));
    await screen.page.mouse.up();
    await screen.text(/The gradient “tide, a line” is in the library, with [2-6] stops/);
    // and by its ends in pixels, without a mouse
    await screen.button('along a line');
    await screen.button('Make the gradient');
    await screen.text(/The gradient “tide, a line 2”/);
    await screen.button('Look at it');
    await screen.page.waitForSelector('[aria-label="Gradient tide, a line 2"]');
    expect(screen.errors).toEqual([]);
  });

  it('look in Chromium as they do here, to 1 of 255, as CSS and as SVG', async () => {
    // a page without the rules of ours for inline styles
    const page = await screen.page.browser().newPage();
    const swatches = harbour.groups[0]!.swatches;
    const width = 512;
    for (const way of INTERPOLATIONS) {
      const made = gradientThrough('g', 'Ramp', swatches, way);
      const stops = made.data.stops.map((s, i) => ({ ...s, ...(i === 0 ? { middle: 0.35 } : {}) }));
      const gradient = { ...made, data: { ...made.data, stops } };
      const library: Library = { ...harbour, items: [gradient] };
      const byId = new Map(swatches.map((s) => [s.id, s]));
      expect(gradientsOf(library).length).toBe(1);
      const wanted = paintGradient(
        gradient.data,
        resolvedStops(gradient, (s) => byId.get(s)),
        coated,
        width,
      );
      const sheet = new TextDecoder().decode(css.encode(library, services));
      const drawing = new TextDecoder()
        .decode(svg.encode({ ...library, groups: [] }, services))
        .replace(
          /width="[\d.]+mm" height="[\d.]+mm"/,
          `width="${width}" height="8" preserveAspectRatio="none"`,
        );
      await page.setContent(
        `<style>${sheet} body { margin: 0 } div, svg { display: block; width: ${width}px; height: 8px }</style><div style="background: var(--ramp)"></div>${drawing}`,
      );
      const shot = await page.screenshot({ clip: { x: 0, y: 0, width, height: 16 } });
      const { default: sharp } = await import('sharp');
      const { data } = await sharp(shot).removeAlpha().raw().toBuffer({ resolveWithObject: true });
      for (const [what, y] of [
        ['css', 4],
        ['svg', 12],
      ] as const) {
        let worst = 0;
        for (let x = 0; x < width; x++)
          for (let c = 0; c < 3; c++)
            worst = Math.max(worst, Math.abs(data[(y * width + x) * 3 + c]! - wanted[4 * x + c]!));
        expect([way, what, worst]).toEqual([way, what, expect.toSatisfy((v: number) => v <= 1)]);
      }
    }
    await page.close();
  });
});
