import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { formatById, writeAs } from '../../core/formats/index.ts';
import { inksOf, readMeasurements, writeCxf } from '../../core/reading/index.ts';
import { libraryOf } from '../../core/testing.ts';
import { localServices } from '../engine.ts';
import { runCommand } from '../testing.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-inks-'));
afterAll(() => rmSync(folder, { recursive: true }));
const pdf = join(folder, 'livery.pdf');
const out = join(folder, 'out.pdf');
beforeAll(async () => {
  const library = libraryOf('Livery', {
    Inks: [
      ['Orange 2', '#e8601c'],
      ['Hull navy', '#14304a'],
      ['Sand', '#d9c7a0'],
    ],
  });
  for (const s of library.groups[0]!.swatches.slice(0, 2)) s.kind = 'spot';
  writeFileSync(pdf, await writeAs(formatById('pdf'), library, await localServices()));
});

const run = (...args: string[]) => runCommand(args);
const namesIn = async (file: string) =>
  JSON.parse((await run('inks', file, '--json')).out).inks.map((i: { name: string }) => i.name);

describe('inks', () => {
  it('says what is in a PDF, for machines and for people', async () => {
    const { code, out: text } = await run('inks', pdf, '--json');
    expect(code).toBe(0);
    const found = JSON.parse(text);
    expect(found.pages).toEqual([{ width: 210, height: 297, unit: 'mm' }]);
    expect(found.outputIntent).toEqual({ name: 'FOGRA39', profile: false });
    const orange = found.inks.find((i: { name: string }) => i.name === 'Orange 2');
    expect(orange).toMatchObject({ kind: 'spot', spectral: false });
    expect(orange.coverage).toHaveLength(1);
    // a chip of 119 by 54 points on A4
    expect(orange.coverage[0]).toBeCloseTo((119 * 54) / (595 * 842), 2);
    expect((await run('inks', pdf)).out).toMatch(/Orange 2 .* spot .* #\w{6} .* \d\.\d %/);
  });

  it('renames, orders and embeds in one go, behind the old file', async () => {
    const cxf = join(folder, 'orange.cxf');
    const spectrum = { start: 380, step: 10, values: Array.from({ length: 36 }, (_, i) => 0.05 + i / 50) };
    const steps = [0, 50, 100].map((percent) => ({
      percent,
      backing: 'white' as const,
      spectrum,
      name: `${percent}`,
    }));
    writeFileSync(
      cxf,
      writeCxf(
        [{ ink: { name: 'Lifebuoy orange', conditions: {}, steps }, facts: {} }],
        '2026-11-24T09:12:00Z',
      ),
    );
    const { code } = await run(
      'inks',
      pdf,
      out,
      '--rename',
      'Orange 2=Lifebuoy orange',
      '--order',
      'Hull navy,Lifebuoy orange',
      '--cxf-in',
      cxf,
      '--json',
    );
    expect(code).toBe(0);
    const [old, now] = [readFileSync(pdf), readFileSync(out)];
    expect(now.subarray(0, old.length).equals(old)).toBe(true);
    expect((await namesIn(out)).slice(0, 2)).toEqual(['Hull navy', 'Lifebuoy orange']);
    const back = join(folder, 'back.cxf');
    expect((await run('inks', out, '--cxf-out', back)).code).toBe(0);
    const [ink] = inksOf([await readMeasurements(new Uint8Array(readFileSync(back)), 'back.cxf')]).inks;
    expect(ink!.name).toBe('Lifebuoy orange');
    ink!.steps[1]!.spectrum.values.forEach((v, i) => {
      expect(Math.abs(v - spectrum.values[i]!)).toBeLessThan(1e-6);
    });
  });

  it('replaces an ink with a swatch of a library', async () => {
    const library = join(folder, 'fleet.gpl');
    writeFileSync(library, 'GIMP Palette\nName: Fleet\n#\n17 136 68\tSignal green\n');
    expect((await run('inks', pdf, out, '--swap', 'Hull navy=Signal green', '--with', library)).code).toBe(0);
    expect(await namesIn(out)).toContain('Signal green');
    const missing = await run('inks', pdf, out, '--swap', 'Hull navy=Red', '--with', library);
    expect([missing.code, missing.err]).toEqual([
      1,
      expect.stringMatching(/fleet\.gpl: no swatch is called “Red”/),
    ]);
  });

  it.each([
    ['a change without a file to write', [pdf, '--rename', 'a=b'], 2, /needs a file to write/],
    ['a file to write without a change', [pdf, out], 2, /nothing is to be changed/],
    ['half a pair', [pdf, out, '--rename', 'a'], 2, /OLD=NEW/],
    ['--swap alone', [pdf, out, '--swap', 'a=b'], 2, /--with/],
    [
      'an ink that is not there',
      [pdf, out, '--rename', 'Red=Blue'],
      1,
      /livery\.pdf: the PDF has no ink “Red”/,
    ],
    ['no profile', [pdf, '--profile-out', out], 1, /livery\.pdf: its output intent has no profile/],
    ['no measurement', [pdf, '--cxf-out', out], 1, /no measurement travels/],
  ])('%s says so', async (_, args, code, message) => {
    const result = await run('inks', ...args);
    expect(result.code).toBe(code);
    expect(result.err).toMatch(message);
  });
});
