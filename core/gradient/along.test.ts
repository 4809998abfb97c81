import { describe, expect, it } from 'vitest';
import { type Color, deltaE00, toLab } from '../color/index.ts';
import { coated } from '../testing.ts';
import { shading, stopsAlong } from './index.ts';

const gray = (v: number): Color => ({ space: 'rgb', components: [v, v, v] });

describe('a gradient along a line', () => {
  it('has as few stops as keep what is between them', () => {
    // even in OKLab from end to end: two are enough
    const even = Array.from(
      { length: 20 },
      (_, i): Color => ({ space: 'oklab', components: [0.3 + i * 0.03, 0.02, 0.01] }),
    );
    expect(stopsAlong(even, coated).length).toBe(2);
    // an edge in the middle wants two more, at the edge
    const edge = Array.from({ length: 20 }, (_, i) => gray(i < 10 ? 0.2 : 0.8));
    expect(stopsAlong(edge, coated).map((s) => Number(s.at.toFixed(3)))).toEqual([0, 0.474, 0.526, 1]);
  });

  it('shows at every place what was there, to ΔE00 2, or takes the most it may', () => {
    const wave = Array.from(
      { length: 33 },
      (_, i): Color => ({ space: 'oklch', components: [0.6 + 0.2 * Math.sin(i / 5), 0.08, i * 6] }),
    );
    const stops = stopsAlong(wave, coated);
    expect(stops.length).toBeLessThanOrEqual(16);
    const shade = shading(
      { way: 'oklab' },
      stops.map((s) => ({ ...s, middle: 0.5, alpha: 1, swatch: null })),
      coated,
    );
    wave.forEach((color, i) => {
      const here = toLab({ space: 'oklab', components: [...shade(i / 32).color] }, coated);
      expect(deltaE00(here, toLab(color, coated))).toBeLessThan(2.01);
    });
  });

  it('of one colour or none is what there is', () => {
    expect(stopsAlong([gray(0.5)], coated)).toEqual([{ color: gray(0.5), at: 0 }]);
  });
});
