import { totalInk, withLessInk } from '../../color/index.ts';
import type { Swatch } from '../../swatch/index.ts';
import {
  type Check,
  type Finding,
  figure,
  keyOf,
  lookOf,
  nameOf,
  placed,
  plural,
  settled,
  Worst,
} from '../check.ts';

const MOST_MENDED = 100;
/** Rounding of separated inks is no ink too much, %. */
const ROOM = 0.5;

export const ink: Check = {
  id: 'ink',
  title: 'Total ink',
  options: [],
  about: (_, { setting }) => `over ${setting.inkLimit} %`,

  async find({ library, condition, alone, breathe }) {
    const limit = condition.setting.inkLimit;
    const worst = new Worst<{ swatch: Swatch; total: number }>();
    const swatches = placed(library)
      .map((p) => p.swatch)
      .filter((s) => s.kind === 'process');
    for (const [i, swatch] of swatches.entries()) {
      if (i % 1000 === 0) await breathe(i, swatches.length);
      const total = totalInk(swatch.color, condition);
      if (total > limit + ROOM) worst.add(total - limit, { swatch, total });
    }
    const findings: Finding[] = [];
    for (const [i, { measure, of }] of worst.take().entries()) {
      if (i % 5 === 0) await breathe(i, MOST_MENDED);
      const { swatch, total } = of;
      const less = i < MOST_MENDED ? withLessInk(swatch.color, condition, limit / 100) : null;
      const mix = less && {
        space: 'cmyk' as const,
        // never rounded up, so that the limit holds
        components: less.inks.map((v) => Math.floor(v * 1e4) / 1e4),
      };
      findings.push({
        key: keyOf([swatch], condition, String(limit)),
        swatches: [swatch.id],
        name: nameOf(swatch, condition),
        measure,
        figure: `${Math.round(total)} %`,
        says: mix
          ? `${Math.round(total)} % of ink where ${limit} % may lie. More black gives the same colour, ΔE00 ${figure(less.deltaE00)} away.`
          : `${Math.round(total)} % of ink where ${limit} % may lie. No mix within ΔE00 1 has less.`,
        left: lookOf(swatch.color, 'here', condition),
        right: mix && lookOf(mix, 'with more black', condition),
        facts: mix
          ? [
              ['C M Y K', `${less.inks.map((v) => Math.round(v * 100)).join(' ')} %`],
              ['total', `${Math.round(less.inks.reduce((a, b) => a + b) * 100)} %`],
            ]
          : [],
        mends: mix
          ? [{ label: 'Take the one with more black', steps: [{ set: swatch.id, fields: { color: mix } }] }]
          : [],
      });
    }
    const done = settled(findings, worst.total, alone);
    return {
      ...done,
      title:
        done.total === 0
          ? `No colour has more than ${limit} % of ink`
          : `${plural(done.total, 'colour')} over ${limit} % of ink`,
      detail: `Process colours, as they are written or as ${condition.name} separates them. Coated papers usually take 300–330 %, uncoated 280–300 % (common practice).`,
    };
  },
};
