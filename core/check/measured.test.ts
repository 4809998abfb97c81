import { describe, expect, it } from 'vitest';
import { deltaE00 } from '../color/index.ts';
import { labOfSpectrum } from '../reading/index.ts';
import { reflectanceToXyz } from '../spectral/index.ts';
import { type Library, READING, type Reading, type Spectrum } from '../swatch/index.ts';
import { libraryOf } from '../testing.ts';
import { called, fixed, run } from './testing.ts';

const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
const curve = (of: (nm: number) => number): Spectrum => ({ start: 380, step: 10, values: nms.map(of) });
/** A wave that the eye does not see in daylight: what X, Y and Z see of it is taken out (a metameric black, after Cohen and Kappauf 1982). */
function unseen(wave: number[]): number[] {
  const impulse = (i: number) => ({ start: 380, step: 10, values: nms.map((_, k) => (k === i ? 1 : 0)) });
  const seen = nms.map((_, i) => reflectanceToXyz(impulse(i), 'D65', '10'));
  const rest = [...wave];
  // one after the other, each made square to those before it (Gram and Schmidt)
  const axes: number[][] = [];
  for (const c of [0, 1, 2]) {
    const axis = seen.map((xyz) => xyz[c]!);
    for (const known of [...axes]) {
      const along = axis.reduce((sum, v, i) => sum + v * known[i]!, 0);
      for (const i of axis.keys()) axis[i]! -= along * known[i]!;
    }
    const length = Math.hypot(...axis);
    axes.push(axis.map((v) => v / length));
  }
  for (const axis of axes) {
    const along = rest.reduce((sum, v, i) => sum + v * axis[i]!, 0);
    for (const i of rest.keys()) rest[i]! -= along * axis[i]!;
  }
  return rest;
}
const even = curve(() => 0.3);
const black = unseen(nms.map((nm) => 0.12 * Math.sin((nm - 380) / 17)));
const bands: Spectrum = { ...even, values: even.values.map((v, i) => v + black[i]!) };
const withSpectra = (...spectra: (Spectrum | null)[]): Library => {
  const library = libraryOf('x', { Inks: spectra.map((_, i) => [`Ink ${i + 1}`, '#888888'] as const) });
  library.groups[0]!.swatches.forEach((s, i) => {
    if (spectra[i]) s.spectrum = spectra[i];
  });
  return library;
};

describe('metamerism', () => {
  it('finds pairs that match in daylight and part under a lamp or tubes', async () => {
    const [day, tubes] = (['D65', 'F11'] as const).map((light) =>
      deltaE00(labOfSpectrum(even, light, '10'), labOfSpectrum(bands, light, '10')),
    );
    expect(day).toBeLessThan(0.1);
    expect(tubes).toBeGreaterThan(2);
    const found = await run('metamerism', withSpectra(even, bands, null));
    expect(called(found)).toEqual(['Ink 1 · Ink 2']);
    expect(found.findings[0]!.measure).toBeGreaterThanOrEqual(tubes!);
    expect(found.findings[0]!.says).toMatch(/in daylight, .* under/);
    expect(found.detail).toMatch(/1 swatch has none/);
  });

  it('leaves alone what is alike in every light, and says when there is nothing to compare', async () => {
    const lighter = curve(() => 0.302);
    expect((await run('metamerism', withSpectra(even, lighter))).total).toBe(0);
    expect((await run('metamerism', withSpectra(even, null))).title).toMatch(/Fewer than two/);
  });
});

describe('out of tolerance', () => {
  const orange = (nm: number) => 0.05 + 0.75 / (1 + Math.exp(-(nm - 585) / 13));
  const reading = (date: string, darker: number, more: Partial<Reading> = {}, tolerance = '2'): Reading => ({
    id: date,
    kind: READING,
    name: 'Orange',
    data: {
      ink: {
        name: 'Orange',
        conditions: {},
        steps: [
          { percent: 100, backing: 'white', name: '100', spectrum: curve((nm) => orange(nm) * (1 - darker)) },
        ],
      },
      facts: { date, tolerance },
      from: 'x.txt',
    },
    ...more,
  });

  it('names the batches that left their limits, whatever order they are kept in', async () => {
    const library: Library = {
      ...libraryOf('x', { Inks: [['Red', '#b3262b']] }),
      items: [reading('2026-03-01', 0.25), reading('2026-01-01', 0), reading('2026-02-01', 0.03)],
    };
    const found = await run('out-of-tolerance', library);
    expect(called(found)).toEqual(['Orange, 2026-03-01']);
    expect(found.findings[0]!.says).toMatch(/from the first batch, 2026-01-01, where 2 is allowed/);
    // a wider tolerance lets it pass
    const wide = {
      ...library,
      items: library.items!.map((r) => reading(r.id, r.id === '2026-03-01' ? 0.25 : 0, {}, '20')),
    };
    expect((await run('out-of-tolerance', wide)).total).toBe(0);
  });

  it('finds a swatch that is not what was measured, and sets it to that', async () => {
    const library = libraryOf('x', { Inks: [['Orange', '#b3262b']] });
    const [swatch] = library.groups[0]!.swatches;
    library.items = [reading('2026-01-01', 0, { refs: [swatch!.id] })];
    const found = await run('out-of-tolerance', library);
    expect(called(found)).toEqual(['Orange']);
    const after = fixed(library, found);
    expect(after.groups[0]!.swatches[0]!.spectrum).toEqual(
      library.items[0]!.kind === READING ? curve(orange) : null,
    );
    expect((await run('out-of-tolerance', after)).total).toBe(0);
  });

  it('says so where nothing was measured', async () => {
    const found = await run('out-of-tolerance', libraryOf('x', { Inks: [['Red', '#b3262b']] }));
    expect([found.total, found.title]).toEqual([0, 'No measured inks in this library']);
  });
});
