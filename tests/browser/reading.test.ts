import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ColorJs from 'colorjs.io';
import type { ElementHandle } from 'puppeteer-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { inksOf, labUnder, readMeasurements } from '../../core/reading/index.ts';
import { reflectanceToXyz, whiteOf } from '../../core/spectral/index.ts';
import { libraryOf } from '../../core/testing.ts';
import { Harness, type Screen } from './harness.ts';

// Gather › Reading: an ink as an instrument measured it.

let harness: Harness;
let screen: Screen;
let id = '';
beforeAll(async () => {
  harness = await Harness.start();
  id = await harness.keep(libraryOf('Fleet', { Hull: [['Red', '#b3262b']] }));
  screen = await harness.page(`/libraries/${id}/gather?from=reading`);
});
afterAll(() => harness?.stop());

const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
const sheet = nms.map(() => 0.86);
const orange = nms.map((nm) => 0.05 + 0.75 / (1 + Math.exp(-(nm - 585) / 13)));
const part = (percent: number, on: number[], times = 1) =>
  on.map((p, i) => p + (orange[i]! * times - p) * (percent / 100));
/** Made up, as an instrument's program writes its tables. */
const table = (rows: [string, number[]][]) =>
  `CGATS.17\nDESCRIPTOR "Lifebuoy"\nMEASUREMENT_SOURCE "M1"\nOPERATOR "J. on the press"\nBEGIN_DATA_FORMAT\nSAMPLE_NAME ${nms.map((n) => `SPECTRAL_NM${n}`).join(' ')}\nEND_DATA_FORMAT\nNUMBER_OF_SETS ${rows.length}\nBEGIN_DATA\n${rows.map(([n, v]) => `"${n}" ${v.map((x) => x.toFixed(5)).join(' ')}`).join('\n')}\nEND_DATA\n`;
const ramp = table([
  ['Paper', sheet],
  ['Orange 50', part(50, sheet)],
  ['Orange 100', orange],
  ['Paper over black', nms.map(() => 0.03)],
  ['Orange 100 over black', part(100, sheet, 0.4)],
]);
const stored = async (library: string) =>
  (await (await fetch(`${harness.url}/libraries/${library}/changes`)).json()).library.groups.flatMap(
    (g: { swatches: object[] }) => g.swatches,
  ) as {
    id: string;
    name: string;
    note: string;
    kind: string;
    color: { space: string; components: number[] };
    spectrum?: { values: number[] };
    tint?: { of: string; percent: number };
  }[];

describe('a measured ink', () => {
  it('shows its ramps over white and black, and the figures of each step', async () => {
    await screen.text(/Measured inks/);
    await screen.drop([{ name: 'lifebuoy.txt', bytes: ramp }]);
    await screen.text(/lifebuoy\.txt · 5 patches · 36 bands · M1/);
    // the solid over white is looked at first
    const lab = labUnder(reflectanceToXyz({ start: 380, step: 10, values: orange }), whiteOf('D50', '2'));
    await screen.text(new RegExp(`Lab D50 2°${lab.map((v) => v.toFixed(1).replace('.', '\\.')).join(' ')}`));
    await screen.text(/tone value100\.0 %/);
    await screen.button('50 % over white');
    await screen.text(/50 % over white/);
    await screen.button('0 % over white');
    await screen.text(/tone value0\.0 %/);
    // the tables for those who cannot see the charts
    await screen.text(/Reflectance by wavelength, %/);
    await screen.text(/In the file, %On the sheet, %0/);
  });

  it('is looked at under another light and by the other observer', async () => {
    await screen.button('100 % over white');
    await (await screen.find('combobox', 'under')).select('A');
    await (await screen.find('combobox', 'observer')).select('10');
    const lab = labUnder(
      reflectanceToXyz({ start: 380, step: 10, values: orange }, 'A', '10'),
      whiteOf('A', '10'),
    );
    await screen.text(new RegExp(`Lab A 10°${lab.map((v) => v.toFixed(1).replace('.', '\\.')).join(' ')}`));
  });

  it('keeps what is written of it after a reload, and comes back when it was removed', async () => {
    await screen.fill('Stock number', 'KM-0417');
    await screen.page.keyboard.press('Enter');
    await expect.poll(() => screen.shelf('notes').then((n) => JSON.stringify(n))).toMatch(/KM-0417/);
    await screen.reload();
    await screen.text(/5 patches/);
    const field = await screen.find('textbox', 'Stock number');
    expect(await field.evaluate((f) => (f as HTMLInputElement).value)).toBe('KM-0417');
    await screen.button('Remove');
    await screen.text(/Orange is removed/);
    // that of the message, not that of the library
    await screen.page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('.toast-toast button')]
        .find((b) => b.textContent === 'Undo')!
        .click(),
    );
    await screen.text(/5 patches/);
  });

  it('goes into the library as a spot with its spectrum, and with its tints into the tray', async () => {
    await screen.button('Add as a spot swatch');
    await expect.poll(async () => (await stored(id)).map((s) => s.name)).toEqual(['Red', 'Orange']);
    const [, ink] = await stored(id);
    expect([ink!.kind, ink!.color.space]).toEqual(['spot', 'lab']);
    ink!.spectrum!.values.forEach((v, i) => {
      expect(Math.abs(v - orange[i]!)).toBeLessThan(1e-5);
    });
    await screen.button('Put 2 in the tray');
    await screen.text(/2 waiting/);
    await expect
      .poll(async () => (await stored('tray')).map((s) => s.tint))
      .toEqual([undefined, { of: 'Orange', percent: 50 }]);
  });

  it('says what is missing of another, and refuses what is no reflectance with the place', async () => {
    await screen.drop([
      {
        name: 'half.txt',
        bytes: table([
          ['Blue 20', part(20, sheet)],
          ['Blue 60', part(60, sheet)],
        ]),
      },
    ]);
    await screen.text(/“Blue” over white ends at 60 %: without its solid it has no tone values/);
    await screen.text(/needs sheet and solid/);
    await screen.drop([
      { name: 'bad.txt', bytes: table([['Green 100', orange.map((v, i) => (i === 4 ? -0.4 : v))]]) },
    ]);
    await screen.text(/bad\.txt, line 10: the reflectance at 420 nm is -0\.400/);
    // and what was there still is
    await screen.find('button', 'Orange');
  });
});

describe('a reading in the library', () => {
  const items = async () =>
    ((await (await fetch(`${harness.url}/libraries/${id}/changes`)).json()).library.items ?? []) as {
      kind: string;
      name: string;
      refs?: string[];
      data: { facts: Record<string, string>; ink: { steps: object[] } };
    }[];

  it('is kept with its swatch, and what is written of it is an edit that can be undone', async () => {
    const [kept] = await items();
    expect([kept!.kind, kept!.name, kept!.data.ink.steps.length]).toEqual(['reading', 'Orange', 5]);
    const orangeSwatch = (await stored(id)).find((s) => s.name === 'Orange')!;
    expect(kept!.refs).toEqual([orangeSwatch.id]);
    await screen.button('Orange');
    await screen.fill('Substrate', 'coated, 150 g');
    await screen.page.keyboard.press('Enter');
    await expect.poll(async () => (await items())[0]!.data.facts.substrate).toBe('coated, 150 g');
    await screen.reload();
    await screen.button('Orange');
    await screen.text(/5 patches/);
    await screen.page.keyboard.down('Control');
    await screen.page.keyboard.press('z');
    await screen.page.keyboard.up('Control');
    await expect.poll(async () => (await items())[0]!.data.facts.substrate).toBeUndefined();
  });

  it('says what CxF/X-4 still asks for, and goes out with every band', async () => {
    await screen.text(/Missing for CxF\/X-4: Substrate, Date, Instrument, Geometry\./);
    await screen.button('CxF/X-4');
    const file = await readMeasurements(new Uint8Array(await harness.downloaded('Orange.cxf')), 'Orange.cxf');
    const [ink] = inksOf([file]).inks;
    expect(ink!.steps.map((s) => [s.percent, s.backing])).toEqual([
      [0, 'white'],
      [50, 'white'],
      [100, 'white'],
      [0, 'black'],
      [100, 'black'],
    ]);
    ink!.steps[2]!.spectrum.values.forEach((v, i) => {
      expect(Math.abs(v - orange[i]!)).toBeLessThan(1e-5);
    });
    await screen.button('Report');
    expect((await harness.downloaded('Orange.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
  });

  it('is compared with another batch, step by step, by its tolerance', async () => {
    await screen.drop([
      {
        name: 'batch.txt',
        bytes: table([
          ['Paper', sheet],
          ['Orange 50', part(50, sheet)],
          ['Orange 100', orange.map((v) => v * 0.8)],
        ]),
      },
    ]);
    await screen.text(/batch\.txt · 3 patches/);
    await screen.button('Compare');
    await screen.text(/Fails: 1 of 3 steps above ΔE00 ≤ 2/);
    await screen.fill('Tolerance', '20');
    await screen.page.keyboard.press('Enter');
    await screen.text(/Passes: every step ΔE00 ≤ 20/);
    await screen.text(/metamerism, D65 to A\d/);
  });

  it('says what its ink makes over another, and what it is mixed from, as estimates', async () => {
    const black = nms.map(() => 0.03);
    const blue = nms.map((nm) => 0.06 + 0.6 * Math.exp(-(((nm - 460) / 50) ** 2)));
    await screen.drop([
      {
        name: 'navy.txt',
        bytes: table([
          ['Paper', sheet],
          ['Navy 100', blue],
          ['Paper over black', black],
          ['Navy 100 over black', blue.map((v) => 0.03 + v * 0.2)],
        ]),
      },
    ]);
    await screen.button('Mixtures');
    await screen.text(/Overprint/);
    // what was measured over black says how it covers
    await screen.text(/estimated: cellular Yule–Nielsen–Neugebauer/);
    await screen.button('Put it in the tray');
    await expect
      .poll(async () => (await stored('tray')).map((s) => s.name))
      .toContain('Orange 100 over Navy 100');
    // no orange makes it any bluer
    await screen.text(/make nothing near/);
    await screen.drop([
      {
        name: 'apricot.txt',
        bytes: table([
          ['Paper', sheet],
          ['Apricot 100', part(50, sheet)],
        ]),
      },
    ]);
    await screen.button('Mixtures');
    await screen.text(/estimated: two-constant Kubelka–Munk/);
    await screen.text(/Orange \d+\.\d %, medium \d+\.\d %ΔE00 [\d.]+ · metamerism [\d.]+/);
  });
});

describe('the bench', () => {
  it('calibrates first, reads patch by patch and as a strip, and keeps the ink', async () => {
    await screen.button('Measure again');
    await screen.text(/Connect an instrument to begin/);
    await screen.button('Connect the simulated one');
    await screen.text(/Lay the instrument on its white tile/);
    await screen.button('Calibrate on the tile');
    await screen.text(/Next: 0 % over white, patch 1 of 22/);
    await screen.fill('steps', '3');
    await screen.page.keyboard.press('Tab');
    await screen.text(/patch 1 of 6/);
    await screen.button('Read this patch');
    await screen.text(/Next: 50 % over white, patch 2 of 6/);
    await screen.button('Back one patch');
    await screen.text(/patch 1 of 6/);
    await screen.button('Read the rest as a strip');
    await screen.text(/All patches are read/);
    await screen.button('Keep');
    await screen.text(/bench instrument, simulated · 6 patches · 36 bands · M1/);
  });
});

it('a swatch file that is dropped there opens as it does anywhere', async () => {
  await screen.drop([{ name: 'ropes.gpl', bytes: 'GIMP Palette\nName: Ropes\n#\n138 106 60\tHemp\n' }]);
  await screen.text(/Open 1 file/);
  await screen.button('Cancel');
});

describe('swatches with spectra', () => {
  it('show what they are in other lights, and how far two are apart in each', async () => {
    const library = libraryOf('Lights', {
      A: [
        ['One', '#8a8a80'],
        ['Other', '#8a8a80'],
      ],
    });
    // greys that a lamp tells apart: a flat one, and one of two humps
    const flat = nms.map(() => 0.3);
    const humps = nms.map((nm) => 0.3 + 0.06 * Math.sin((nm - 380) / 22));
    const [one, other] = library.groups[0]!.swatches;
    for (const [swatch, values] of [
      [one!, flat],
      [other!, humps],
    ] as const)
      swatch.spectrum = { start: 380, step: 10, values };
    const own = await harness.keep(library);
    await screen.go(`/libraries/${own}/arrange`);
    await screen.names();
    await screen.choose('One');
    // what reflects alike everywhere is grey in every light
    await screen.text(/Lab in daylight, D5061\.7 -?0\.0 -?0\.0/);
    await screen.text(/Lab in a lamp, A61\.7 -?0\.0 -?0\.0/);
    await screen.page.keyboard.down('Shift');
    await screen.choose('Other');
    await screen.page.keyboard.up('Shift');
    const lab = (values: number[], light: 'D50' | 'A') =>
      labUnder(reflectanceToXyz({ start: 380, step: 10, values }, light), whiteOf(light, '2'));
    const apart = (light: 'D50' | 'A') =>
      new ColorJs('lab', lab(flat, light)).deltaE(new ColorJs('lab', lab(humps, light)), '2000').toFixed(1);
    await screen.text(new RegExp(`ΔE00 in daylight, D50${apart('D50')}ΔE00 in a lamp, A${apart('A')}`));
  });
});

describe('a photograph as a reading', () => {
  // 24 patches by their Lab, and a camera in yellow light whose channels see a little of each other's
  const labs = Array.from({ length: 24 }, (_, i): [number, number, number] => [
    25 + ((i * 17) % 65),
    -45 + ((i * 31) % 90),
    -40 + ((i * 47) % 85),
  ]);
  const light = ([r, g, b]: number[]) => [
    0.86 * r! + 0.1 * g!,
    0.06 * r! + 0.78 * g! + 0.04 * b!,
    0.08 * g! + 0.5 * b!,
  ];
  const linear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
  const encoded = (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
  const photographed = (lab: number[]) => {
    const srgb = new ColorJs('lab', lab as [number, number, number])
      .to('srgb')
      .coords.map((v) => Math.min(1, Math.max(0, v ?? 0)));
    const [r, g, b] = light(srgb.map(linear)).map((v) =>
      Math.round(255 * encoded(Math.min(1, Math.max(0, v)))),
    );
    return { r: r!, g: g!, b: b! };
  };
  /** What sRGB can show of it: the camera saw no more. */
  const shown = labs.map((lab) =>
    new ColorJs(new ColorJs('lab', lab).to('srgb').toGamut({ method: 'clip' }))
      .to('lab')
      .coords.map((v) => v ?? 0),
  );

  it('is corrected by the chart in it: what is gathered is Lab, and says that it is estimated', async () => {
    await screen.go(`/libraries/${id}/gather`);
    const page = sharp({
      create: { width: 6 * 40 + 20, height: 4 * 40 + 20, channels: 3, background: photographed([92, 0, 2]) },
    });
    const photo = await page
      .composite(
        shown.map((lab, i) => ({
          input: { create: { width: 30, height: 30, channels: 3 as const, background: photographed(lab) } },
          left: 15 + 40 * (i % 6),
          top: 15 + 40 * Math.floor(i / 6),
        })),
      )
      .png()
      .toBuffer();
    await screen.drop([{ name: 'table.png', bytes: photo }]);
    await screen.button('Chart');
    await screen.text(/24 chips, read row by row/);
    const folder = mkdtempSync(join(tmpdir(), 'papillon-chart-'));
    const path = join(folder, 'chart.txt');
    writeFileSync(
      path,
      `CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\n${shown.map((lab, i) => `P${i + 1} ${lab.map((v) => v.toFixed(3)).join(' ')}`).join('\n')}\nEND_DATA\n`,
    );
    const input = (await screen.page.$(
      'input[aria-label="Values of the reference chart"]',
    )) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(path);
    await screen.text(/Corrected by chart\.txt: colours are Lab, estimated\. ΔE00 \d\.\d on average/);
    const before = (await stored('tray')).length;
    await screen.button('Put 24 in the tray');
    await expect.poll(async () => (await stored('tray')).length).toBe(before + 24);
    const came = (await stored('tray')).slice(before);
    const off = came.map(({ color }, i) =>
      new ColorJs('lab', color.components as [number, number, number]).deltaE(
        new ColorJs('lab', shown[i] as [number, number, number]),
        '2000',
      ),
    );
    expect(came.every((c) => c.color.space === 'lab')).toBe(true);
    expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(1.5);
    expect(came[0]!.note).toMatch(/Estimated from a photograph with chart\.txt: ΔE00/);
    // the chart is found where it is, and says of itself what the fit says
    const second = (await screen.page.$(
      'input[aria-label="Values of the second chart"]',
    )) as ElementHandle<HTMLInputElement>;
    await second.uploadFile(path);
    await screen.text(/On chart\.txt, 24 patches: ΔE00 \d\.\d on average/);
    rmSync(folder, { recursive: true });
  });

  it('is left as it is by the chart of another, with the reason', async () => {
    await screen.button('As the picture is');
    const folder = mkdtempSync(join(tmpdir(), 'papillon-chart-'));
    const path = join(folder, 'small.txt');
    writeFileSync(
      path,
      `CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\nA1 50 0 0\nA2 60 0 0\nEND_DATA\n`,
    );
    const input = (await screen.page.$(
      'input[aria-label="Values of the reference chart"]',
    )) as ElementHandle<HTMLInputElement>;
    await input.uploadFile(path);
    await screen.text(/has 24 patches, and small\.txt has 2/);
    expect(screen.errors).toEqual([]);
    rmSync(folder, { recursive: true });
  });
});
