import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ColorJs from 'colorjs.io';
import { afterAll, describe, expect, it } from 'vitest';
import { openSwatchFile } from '../../core/formats/index.ts';
import { allSwatches, countingIds } from '../../core/swatch/index.ts';
import { runCommand } from '../testing.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-reading-'));
afterAll(() => rmSync(folder, { recursive: true }));
const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
const edge = (low: number, high: number) => nms.map((nm) => low + high / (1 + Math.exp(-(nm - 575) / 14)));
/** Made up, as an instrument's program writes its tables. */
const table = (name: string, rows: [string, number[]][]) => {
  const path = join(folder, name);
  writeFileSync(
    path,
    `CGATS.17\nDESCRIPTOR "Lifebuoy"\nMEASUREMENT_SOURCE "M1"\nBEGIN_DATA_FORMAT\nSAMPLE_NAME ${nms.map((n) => `SPECTRAL_NM${n}`).join(' ')}\nEND_DATA_FORMAT\nNUMBER_OF_SETS ${rows.length}\nBEGIN_DATA\n${rows.map(([n, v]) => `"${n}" ${v.map((x) => x.toFixed(6)).join(' ')}`).join('\n')}\nEND_DATA\n`,
  );
  return path;
};
const ramp = table('lifebuoy.txt', [
  ['Paper', nms.map(() => 0.85)],
  ['Orange 50', edge(0.4, 0.42)],
  ['Orange 100', edge(0.04, 0.72)],
  ['Orange 100 over black', edge(0.03, 0.25)],
]);
const batch = table('batch.txt', [
  ['Paper', nms.map(() => 0.85)],
  ['Orange 100', edge(0.05, 0.72)],
]);

const run = (...args: string[]) => runCommand(args);

describe('reading', () => {
  it('says of every step what it is, for machines', async () => {
    const { code, out } = await run('reading', ramp, '--json');
    expect(code).toBe(0);
    const { inks, warnings } = JSON.parse(out);
    expect(warnings).toEqual([]);
    const [ink] = inks;
    expect([ink.name, ink.condition]).toEqual(['Orange', 'M1']);
    expect(ink.steps.map((s: { percent: number; backing: string }) => [s.percent, s.backing])).toEqual([
      [0, 'white'],
      [50, 'white'],
      [100, 'white'],
      [100, 'black'],
    ]);
    const [sheet, half, solid] = ink.steps;
    // what reflects alike everywhere has the Y of its reflectance, and L* of it (colorjs.io)
    expect(sheet.xyz[1]).toBeCloseTo(85, 6);
    expect(sheet.lab[0]).toBeCloseTo(
      new ColorJs('xyz-d50', [0.82, 0.85, 0.7]).to('lab').coords[0] as number,
      3,
    );
    expect([sheet.toneValue, solid.toneValue]).toEqual([0, expect.closeTo(100, 9)]);
    expect(half.toneValue).toBeGreaterThan(30);
    expect(solid.density).toEqual({ band: 380, value: expect.closeTo(-Math.log10(0.04), 3) });
    expect(ink.opacity).toBeGreaterThan(0.2);
    expect(ink.opacity).toBeLessThan(0.6);
  });

  it('shows them as a table, and how far another batch is off', async () => {
    const { code, out } = await run('reading', ramp, '--compare', batch, '--light', 'A', '--observer', '10');
    expect(code).toBe(0);
    expect(out).toMatch(/^Orange \(M1\)\n {4}% {2}over/);
    expect(out).toMatch(/ {2}100 {2}white .* 100\.0 .* 1\.40 +[\d.]+\n/);
    expect(out).toMatch(/ {3}50 {2}white .*–\n/);
    expect(out).toMatch(/Opacity 0\.\d\d/);
  });

  it('writes a report whose ramps are tints on the ink’s own plate', async () => {
    const path = join(folder, 'report.pdf');
    const { code } = await run('reading', ramp, '--compare', batch, '--report', path, '--json');
    expect(code).toBe(0);
    // read by pdf-lib, page by page
    const pdf = await openSwatchFile(new Uint8Array(readFileSync(path)), 'report.pdf', countingIds());
    const spots = allSwatches(pdf.library).filter((s) => s.kind === 'spot' && s.name);
    expect(spots.map((s) => s.name)).toEqual(['Orange']);
    expect(spots[0]!.color.space).toBe('lab');
  });

  it('writes CxF/X-4 that holds the same figures, and says what that lacks', async () => {
    const path = join(folder, 'orange.cxf');
    const { code, err } = await run('reading', ramp, '--to', 'cxf', '--out', path);
    expect(code).toBe(0);
    expect(err).toMatch(/CxF\/X-4 of “Orange” lacks: Substrate, Date, Instrument, Geometry\./);
    const [before, after] = await Promise.all([
      run('reading', ramp, '--json'),
      run('reading', path, '--json'),
    ]);
    const steps = (text: string) => JSON.parse(text).inks[0].steps;
    expect(steps(after.out)).toEqual(
      steps(before.out).map((s: { xyz: number[]; lab: number[] }) => ({
        ...s,
        xyz: s.xyz.map((v) => expect.closeTo(v, 4)),
        lab: s.lab.map((v) => expect.closeTo(v, 4)),
      })),
    );
  });

  it.each([
    ['two things on one stream', ['--to', 'csv', '--json'], /--out/],
    ['a format it does not write', ['--to', 'gpl'], /cxf, cgats, csv/],
    ['a place for nothing', ['--out', 'x.cxf'], /--to/],
  ])('%s is wrong usage, with the reason', async (_, args, reason) => {
    const { code, err } = await run('reading', ramp, ...args);
    expect(code).toBe(2);
    expect(err).toMatch(reason);
  });

  it('refuses files without measurements and says what it needs; wrong options exit with 2', async () => {
    const csv = join(folder, 'plain.csv');
    writeFileSync(csv, 'Name,Hex\nRed,#b3262b\n');
    const plain = await run('reading', csv);
    expect(plain.code).toBe(1);
    expect(plain.err).toMatch(/plain\.csv has no spectra\. A reading needs reflectance by wavelength/);
    expect((await run('reading', ramp, '--light', 'candle')).code).toBe(2);
    const other = table('other.txt', [['Blue 100', edge(0.1, 0.2)]]);
    expect((await run('reading', ramp, '--compare', other)).err).toMatch(/has no “Orange”; it has “Blue”/);
  });
});
