import ColorJs from 'colorjs.io';
import { describe, expect, it } from 'vitest';
import { deltaE00 } from '../color/index.ts';
import { cxf } from '../formats/cxf/cxf.ts';
import { writeAs } from '../formats/index.ts';
import { tintOf } from '../spectral/index.ts';
import { libraryOf, services } from '../testing.ts';
import {
  compareInks,
  densityAt,
  figuresOf,
  inksOf,
  labUnder,
  type Patch,
  readMeasurements,
  toneValue,
} from './index.ts';

const GRID = { start: 380, step: 10 } as const;
const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
const spectrum = (of: (nm: number) => number) => ({ ...GRID, values: nms.map(of) });
/** Made up: a sheet, a black one, and an orange. */
const sheet = spectrum((nm) => 0.86 - 0.08 * Math.exp(-(((nm - 400) / 40) ** 2)));
const black = spectrum(() => 0.03);
const orange = spectrum((nm) => 0.04 + 0.72 / (1 + Math.exp(-(nm - 575) / 14)));
const dark = spectrum((nm) => 0.03 + 0.25 / (1 + Math.exp(-(nm - 575) / 14)));
const tint = (percent: number, on = sheet, ink = orange) => ({
  ...GRID,
  values: on.values.map((p, i) => p + (ink.values[i]! - p) * (percent / 100)),
});

type Row = [name: string, values: number[], ...more: (string | number)[]];
const table = (rows: Row[], { columns = '', head = '' } = {}) =>
  new TextEncoder().encode(
    `CGATS.17\nORIGINATOR "made up"\n${head}BEGIN_DATA_FORMAT\nSAMPLE_NAME ${nms.map((n) => `SPECTRAL_NM${n}`).join(' ')} ${columns}\nEND_DATA_FORMAT\nNUMBER_OF_SETS ${rows.length}\nBEGIN_DATA\n${rows
      .map(
        ([name, values, ...more]) =>
          `"${name}" ${values.map((v) => v.toFixed(5)).join(' ')} ${more.join(' ')}`,
      )
      .join('\n')}\nEND_DATA\n`,
  );
const read = async (...files: Uint8Array[]) =>
  inksOf(await Promise.all(files.map((bytes, i) => readMeasurements(bytes, `sheet-${i + 1}.txt`))));

describe('ramps', () => {
  it('are recognised by the names of patches, over white and over black', async () => {
    const { inks, warnings } = await read(
      table(
        [
          ['Paper', sheet.values],
          ['Lifebuoy orange 50 %', tint(50).values],
          ['Lifebuoy orange 100', orange.values],
          ['Paper over black', black.values],
          ['Lifebuoy orange 100 over black', dark.values],
        ],
        { head: 'MEASUREMENT_GEOMETRY "45/0"\nMEASUREMENT_SOURCE "M1"\nOPERATOR "J. on the press"\n' },
      ),
    );
    expect(warnings).toEqual([]);
    expect(inks.map((i) => [i.name, i.steps.map((s) => [s.percent, s.backing])])).toEqual([
      [
        'Lifebuoy orange',
        [
          [0, 'white'],
          [50, 'white'],
          [100, 'white'],
          [0, 'black'],
          [100, 'black'],
        ],
      ],
    ]);
    expect(inks[0]!.conditions).toEqual({ geometry: '45/0', mode: 'M1', operator: 'J. on the press' });
  });

  it('are recognised by columns of inks and tints, whatever the patches are called', async () => {
    const byTint = await read(
      table(
        [
          ['A1', sheet.values, 'Orange', 0],
          ['A2', tint(25).values, 'Orange', 25],
          ['A3', orange.values, 'Orange', 100],
          ['B1', dark.values, 'Brown', 100],
        ],
        { columns: 'INK TINT' },
      ),
    );
    expect(byTint.inks.map((i) => [i.name, i.steps.map((s) => s.percent)])).toEqual([
      ['Orange', [0, 25, 100]],
      ['Brown', [100]],
    ]);
    const byDevice = await read(
      table(
        [
          ['1', sheet.values, 0, 0],
          ['2', tint(40).values, 40, 0],
          ['3', orange.values, 100, 0],
          ['4', dark.values, 0, 100],
        ],
        { columns: 'SPOT_ORANGE CMYK_K' },
      ),
    );
    expect(byDevice.inks.map((i) => [i.name, i.steps.map((s) => s.percent)])).toEqual([
      ['ORANGE', [0, 40, 100]],
      ['Black', [0, 100]],
    ]);
  });

  it('that nobody named are inks of their own, or one ramp where the user says so', async () => {
    const file = table(
      [
        ['A3', tint(50).values],
        ['A1', sheet.values],
        ['A4', orange.values],
        ['A2', tint(25).values],
      ].map(([n, v]) => [`${String(n).toLowerCase()}x`, v] as Row),
    );
    const measured = await readMeasurements(file, 'strip.txt');
    const apart = inksOf([measured]);
    expect(apart.unsaid).toEqual([{ title: 'strip', patches: 4 }]);
    expect(apart.inks).toHaveLength(4);
    const together = inksOf([measured], ['strip']);
    expect(together.unsaid).toEqual([]);
    expect(together.inks.map((i) => [i.name, i.steps.map((s) => [Math.round(s.percent), s.name])])).toEqual([
      [
        'strip',
        [
          [0, 'a1x'],
          [33, 'a2x'],
          [67, 'a3x'],
          [100, 'a4x'],
        ],
      ],
    ]);
  });

  it('of white and black lie in two files, where the head says which', async () => {
    const { inks } = await read(
      table(
        [
          ['Paper', sheet.values],
          ['Orange 100', orange.values],
        ],
        { head: 'SAMPLE_BACKING "white"\n' },
      ),
      table(
        [
          ['Paper', black.values],
          ['Orange 100', dark.values],
        ],
        { head: 'SAMPLE_BACKING "black"\n' },
      ),
    );
    expect(inks).toHaveLength(1);
    expect(inks[0]!.steps.map((s) => `${s.percent} ${s.backing}`)).toEqual([
      '0 white',
      '100 white',
      '0 black',
      '100 black',
    ]);
    expect(figuresOf(inks[0]!).opacity).toBeCloseTo(
      figuresOf(inks[0]!).steps[3]!.xyz[1] / figuresOf(inks[0]!).steps[1]!.xyz[1],
      9,
    );
  });

  it('in parts of 1 are percent, and both ways in one file are refused with where', async () => {
    const parts = await read(
      table(
        [
          ['a', sheet.values, 0],
          ['b', tint(50).values, 0.5],
          ['c', orange.values, 1],
        ],
        { columns: 'TINT' },
      ),
    );
    // and of what the file is of, where it does not say of which ink
    expect(parts.inks.map((i) => [i.name, i.steps.map((s) => s.percent)])).toEqual([
      ['sheet-1', [0, 50, 100]],
    ]);
    await expect(
      read(
        table(
          [
            ['a', sheet.values, 0],
            ['b', tint(50).values, 0.5],
            ['c', orange.values, 100],
          ],
          { columns: 'TINT' },
        ),
      ),
    ).rejects.toThrow(/sheet-1\.txt, line 9: a tint of 0\.5 stands among percentages up to 100/);
  });

  it('say what they lack, and invent nothing', async () => {
    const half = await read(
      table([
        ['Orange 10', tint(10).values],
        ['Orange 50', tint(50).values],
      ]),
    );
    expect(half.warnings).toEqual([
      '“Orange” over white ends at 50 %: without its solid it has no tone values.',
      '“Orange” over white begins at 10 %: without the bare sheet it has no tone values.',
    ]);
    expect(figuresOf(half.inks[0]!).steps.map((s) => s.toneValue)).toEqual([null, null]);
    const exchanged = await read(
      table([
        ['Orange 100 over white', dark.values],
        ['Orange 100 over black', orange.values],
      ]),
    );
    expect(exchanged.warnings.at(-1)).toMatch(
      /reflects more over black than over white\. Are the two exchanged/,
    );
    const twice = await read(
      table([
        ['Orange 100', orange.values],
        ['Orange 100 %', dark.values],
      ]),
    );
    expect(twice.warnings[0]).toMatch(/line 9: 100 % over white of “Orange” was measured before/);
  });

  it('are refused where no reflectance is so, with the patch and the band', async () => {
    const wrong = [...orange.values];
    wrong[3] = -0.2;
    await expect(read(table([['Orange 100', wrong]]))).rejects.toThrow(
      /sheet-1\.txt, line 8: the reflectance at 410 nm is -0\.200\. It cannot be below 0/,
    );
    const csv = new TextEncoder().encode('Name,Hex\nRed,#b3262b\n');
    await expect(readMeasurements(csv, 'plain.csv')).rejects.toThrow(
      /plain\.csv has no spectra\. A reading needs/,
    );
  });

  it('come from CxF as well', async () => {
    const library = libraryOf('Inks', {
      A: [
        ['Orange 50', '#f0a060'],
        ['Orange 100', '#e06010'],
      ],
    });
    const [a, b] = library.groups[0]!.swatches;
    Object.assign(a!, { spectrum: tint(50) });
    Object.assign(b!, { spectrum: orange });
    const { inks } = await read(await writeAs(cxf, library, services as never));
    expect(inks.map((i) => [i.name, i.steps.map((s) => s.percent)])).toEqual([['Orange', [50, 100]]]);
    inks[0]!.steps[1]!.spectrum.values.forEach((v, i) => {
      expect(Math.abs(v - orange.values[i]!)).toBeLessThan(1e-6);
    });
  });
});

describe('figures', () => {
  it('Lab is what colorjs.io makes of the XYZ', () => {
    const ink = {
      name: 'x',
      conditions: {},
      steps: [{ percent: 100, backing: 'white' as const, spectrum: orange, name: 'x' }],
    };
    const [{ xyz, lab }] = figuresOf(ink).steps as [ReturnType<typeof figuresOf>['steps'][number]];
    const theirs = new ColorJs('xyz-d50', xyz.map((v) => v / 100) as [number, number, number]).to('lab')
      .coords as number[];
    // its D50 has another last digit
    lab.forEach((v, i) => {
      expect(Math.abs(v - theirs[i]!)).toBeLessThan(0.03);
    });
    expect(labUnder([96.42, 100, 82.52], [96.42, 100, 82.52])).toEqual([100, 0, 0]);
  });

  it('tone values go from the sheet to the solid, and a tint that looks half way is half way', () => {
    expect(toneValue(sheet, sheet, orange)).toBe(0);
    expect(toneValue(orange, sheet, orange)).toBeCloseTo(100, 9);
    const steps = [10, 25, 50, 75, 90].map((p) => toneValue(tint(p), sheet, orange));
    expect(steps).toEqual([...steps].sort((a, b) => a - b));
    // of greys it is lightness itself: L* 100 to 0, and 50 between (by colorjs.io, whose Y of L* 50 is 0.184187)
    const grey = (y: number) => spectrum(() => y);
    const y50 = new ColorJs('lab', [50, 0, 0]).to('xyz-d50').coords[1] as number;
    expect(toneValue(grey(y50), grey(1), grey(0))).toBeCloseTo(50, 6);
    // a dot that spreads in the paper is more than its plate says
    const spread = {
      ...GRID,
      values: tintOf(sheet.values, orange.values, 0.5, { spread: 2, gain: 0.15 } as never),
    };
    expect(toneValue(spread, sheet, orange)).toBeGreaterThan(50);
  });

  it('density is the logarithm of what is not reflected', () => {
    // a tenth is 1, a hundredth is 2 (ISO 5-4)
    expect(
      densityAt(
        spectrum(() => 0.1),
        500,
      ),
    ).toBeCloseTo(1, 9);
    expect(
      densityAt(
        spectrum(() => 0.01),
        500,
      ),
    ).toBeCloseTo(2, 9);
  });

  it('compare two batches step by step', async () => {
    const [first] = (
      await read(
        table([
          ['Paper', sheet.values],
          ['Orange 100', orange.values],
        ]),
      )
    ).inks;
    const [second] = (
      await read(
        table([
          ['Paper', sheet.values],
          ['Orange 100', tint(95).values],
          ['Orange 50', tint(50).values],
        ]),
      )
    ).inks;
    const steps = compareInks(first!, second!);
    expect(steps.map((s) => s.percent)).toEqual([0, 100]);
    expect(steps[0]!.deltaE00).toBe(0);
    const lab = (patch: Pick<Patch, 'spectrum'>) =>
      figuresOf({ name: '', conditions: {}, steps: [{ ...patch, percent: 100, backing: 'white', name: '' }] })
        .steps[0]!.lab;
    const theirs = [orange, tint(95)].map((s) => new ColorJs('lab', lab({ spectrum: s })));
    expect(steps[1]!.deltaE00).toBeCloseTo(theirs[0]!.deltaE(theirs[1]!, '2000'), 2);
    expect(deltaE00([50, 0, 0], [50, 0, 0])).toBe(0);
  });
});
