import ColorJs from 'colorjs.io';
import { describe, expect, it } from 'vitest';
import { METRICS } from '../color/metrics.ts';
import type { MeasuredInk, Step } from '../swatch/reading.ts';
import {
  batchesOf,
  compareInks,
  fluorescence,
  labOfSpectrum,
  metamerism,
  spectralDifference,
  toleranceOf,
} from './index.ts';

const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
const curve = (of: (nm: number) => number) => ({ start: 380, step: 10, values: nms.map(of) });
const edge = (nm: number) => 0.05 + 0.8 / (1 + Math.exp(-(nm - 560) / 18));
const step = (percent: number, of: (nm: number) => number, backing: Step['backing'] = 'white'): Step => ({
  percent,
  backing,
  name: `${percent}`,
  spectrum: curve(of),
});
const ink = (steps: Step[], conditions = {}): MeasuredInk => ({ name: 'Buoy', conditions, steps });

describe('the special index of metamerism', () => {
  it('is what another engine makes of XYZ that a third one gave', () => {
    // Argyll CMS 2.3.1, spec2cie, of a red edge and a wave under D65 and F11, 10°; see spectral/xyz.test.ts
    const [edgeD65, waveD65] = [
      [50.6522, 40.0529, 5.90597],
      [25.7045, 34.3574, 55.972],
    ];
    const [edgeF11, waveF11] = [
      [61.0607, 45.7451, 3.59397],
      [25.0637, 30.8709, 34.0866],
    ];
    // white of F11 for 10°, CIE 015 as Argyll gives it for a perfect diffuser
    const white = [103.863, 100, 65.607];
    const lab = (xyz: number[]) => {
      const f = (t: number) => (t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116);
      const [x, y, z] = xyz.map((v, i) => f(v / white[i]!)) as [number, number, number];
      return new ColorJs('lab', [116 * y - 16, 500 * (x - y), 200 * (y - z)]);
    };
    const there = waveF11!.map((v, i) => (v * edgeD65![i]!) / waveD65![i]!);
    const wave = curve((nm) => 0.3 + 0.25 * Math.sin(nm / 60));
    expect(metamerism(curve(edge), wave, 'D65', 'F11', '10')).toBeCloseTo(
      lab(edgeF11!).deltaE(lab(there), '2000'),
      1,
    );
  });

  it('is nothing between an ink and itself, nor for a grey that is only lighter', () => {
    expect(metamerism(curve(edge), curve(edge))).toBe(0);
    expect(
      metamerism(
        curve(() => 0.4),
        curve(() => 0.5),
      ),
    ).toBeLessThan(1e-9);
  });
});

describe('how far two spectra are apart', () => {
  it('is given for each light and band by band, over what both have', () => {
    const other = {
      start: 400,
      step: 20,
      values: Array.from({ length: 10 }, (_, i) => edge(400 + 20 * i) + 0.03),
    };
    const { each, most, rms } = spectralDifference(curve(edge), other);
    expect(rms).toBeCloseTo(0.03, 12);
    expect(most).toBe(Math.max(...each));
    expect(each[0]).toBeCloseTo(
      new ColorJs('lab', labOfSpectrum(curve(edge))).deltaE(new ColorJs('lab', labOfSpectrum(other)), '2000'),
      6,
    );
  });
});

describe('a tolerance', () => {
  it.each([
    [{ tolerance: '2.0' }, 2, 'ΔE00'],
    [{ tolerance: 'ΔE00 ≤ 1,5' }, 1.5, 'ΔE00'],
    [{ tolerance: '3', formula: 'ΔE*76' }, 3, 'ΔE76'],
    [{ tolerance: 'CMC 2:1 1.2' }, 1.2, 'CMC 2:1'],
    [{}, 2, 'ΔE00'],
    [{ tolerance: 'tight' }, 2, 'ΔE00'],
  ])('%o is %s by %s', (facts, limit, formula) => {
    const found = toleranceOf(facts);
    expect([found.limit, found.metric.name]).toEqual([limit, formula]);
  });
});

describe('two measurements of an ink', () => {
  const one = ink([step(0, () => 0.85), step(50, (nm) => (0.85 + edge(nm)) / 2), step(100, edge)]);

  it('are compared step by step, by the formula of the tolerance, and what only one has is left out', () => {
    const other = ink([step(0, () => 0.85), step(100, (nm) => edge(nm) * 0.9), step(100, edge, 'black')]);
    const de76 = { limit: 3, metric: METRICS.find((m) => m.id === 'de76')! };
    const compared = compareInks(one, other, 'D50', '2', de76);
    expect(compared.map((c) => [c.percent, c.backing, c.isWithin])).toEqual([
      [0, 'white', true],
      [100, 'white', false],
    ]);
    const [a, b] = [labOfSpectrum(curve(edge)), labOfSpectrum(curve((nm) => edge(nm) * 0.9))];
    expect(compared[1]!.difference).toBeCloseTo(Math.hypot(...a.map((v, i) => v - b[i]!)), 9);
    expect(compared[1]!.deltaE00).toBeLessThan(compared[1]!.difference);
  });

  it('in a series say which batch left its limits, and how its tones went', () => {
    const batch = (darker: number, grown: number) =>
      ink([
        step(0, () => 0.85),
        step(50, (nm) => 0.85 + (edge(nm) - 0.85) * (0.5 + grown)),
        step(100, (nm) => edge(nm) * (1 - darker)),
      ]);
    const found = batchesOf(
      one,
      [batch(0, 0), batch(0.02, 0.02), batch(0.3, 0.05)],
      toleranceOf({ tolerance: '2' }),
    );
    expect(found.map((b) => b.isWithin)).toEqual([true, true, false]);
    expect(found[0]!.difference).toBeLessThan(1e-9);
    expect(found[0]!.toneShift).toBeCloseTo(0, 9);
    expect(found[1]!.toneShift).toBeGreaterThan(0.5);
  });
});

describe('fluorescence', () => {
  const glowing = (nm: number) => 0.85 + 0.2 * Math.exp(-(((nm - 440) / 20) ** 2));
  const lit = ink([step(0, glowing), step(100, edge)], { mode: 'M1' });
  const without = ink([step(0, () => 0.85), step(100, edge)], { mode: 'M2' });

  it('is what a mode with ultraviolet reflects more than one without: where, and of which step', () => {
    const found = fluorescence([without, lit])!;
    expect(found.modes).toEqual(['M1', 'M2']);
    expect([found.percent, found.nm]).toEqual([0, 440]);
    expect(found.gain).toBeCloseTo(0.2, 9);
    expect(found.deltaE00).toBeGreaterThan(3);
  });

  it('is not known from one mode alone', () => {
    expect(fluorescence([lit])).toBeNull();
    expect(fluorescence([lit, { ...lit, conditions: { mode: 'M0' } }])).toBeNull();
  });
});
