import { describe, expect, it } from 'vitest';
import { densityOf, FILTERS, mainDensity, STATUSES, statusDensity } from './density.ts';

const nms = Array.from({ length: 44 }, (_, i) => 340 + 10 * i);
const curve = (of: (nm: number) => number) => ({ start: 340, step: 10, values: nms.map(of) });

describe('density', () => {
  it('of a grey is the logarithm of its reflectance, through every filter', () => {
    for (const status of STATUSES)
      for (const filter of FILTERS)
        for (const r of [1, 0.5, 0.1, 0.01])
          expect(
            statusDensity(
              curve(() => r),
              status,
              filter,
            ),
          ).toBeCloseTo(-Math.log10(r), 9);
    // ISO 5-4: a tenth of the light is density 1
    expect(densityOf(0.1)).toBe(1);
  });

  it('sees an ink where the standard’s filters do: cyan by red, magenta by green, yellow by blue', () => {
    const inks = {
      red: curve((nm) => (nm > 580 ? 0.04 : 0.7)),
      green: curve((nm) => (nm > 490 && nm < 590 ? 0.04 : 0.75)),
      blue: curve((nm) => (nm < 490 ? 0.05 : 0.85)),
    };
    for (const status of STATUSES)
      for (const [filter, ink] of Object.entries(inks)) expect(mainDensity(ink, status).filter).toBe(filter);
  });

  it('of a yellow is higher by status E, whose blue filter is narrower (ISO 5-3, the reason for having two)', () => {
    // a yellow that lets some green-blue through, as inks do
    const yellow = curve((nm) => 0.04 + 0.8 / (1 + Math.exp(-(nm - 495) / 12)));
    const [e, t] = STATUSES.map((s) => statusDensity(yellow, s, 'blue'));
    expect(e! - t!).toBeGreaterThan(0.1);
    // magenta and cyan have the same filters in both
    const magenta = curve((nm) => (nm > 490 && nm < 590 ? 0.05 : 0.8));
    expect(statusDensity(magenta, 'E', 'green')).toBe(statusDensity(magenta, 'T', 'green'));
  });

  it('never is without end, and takes what lies beyond the measured bands from the ends', () => {
    expect(
      statusDensity(
        curve(() => 0),
        'T',
        'red',
      ),
    ).toBe(4);
    expect(statusDensity({ start: 400, step: 10, values: Array(31).fill(0.25) }, 'T', 'blue')).toBeCloseTo(
      0.602,
      3,
    );
  });
});
