import { type Condition, totalInk, withLessInk } from '../color/index.ts';
import type { Swatch } from '../swatch/index.ts';
import { swatchLabel } from '../swatch/model.ts';
import {
  type Check,
  COMPLETE,
  type Finding,
  figure,
  keyOf,
  lookOf,
  placed,
  plural,
  settled,
  swatchesOf,
  Worst,
} from './check.ts';

/** Rounding of inks is not ink too much, %: of those that a profile separates, and of those that are written. */
const [SEPARATED_ROOM, WRITTEN_ROOM] = [0.5, 0.001];
/** A sum of inks, to the tenth where it has one. */
const percent = (total: number) => `${Number(total.toFixed(1))} %`;

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
      const room = swatch.color.space === 'cmyk' ? WRITTEN_ROOM : SEPARATED_ROOM;
      if (total > limit + room) worst.add(total - limit, { swatch, total });
    }
    const findings = worst.take().map(({ measure, of: { swatch, total } }, i): Finding => {
      const finding: Finding = {
        key: keyOf([swatch], condition, String(limit)),
        swatches: [swatch.id],
        name: swatchLabel(swatch, condition),
        measure,
        figure: percent(total),
        says: `${percent(total)} of ink where ${limit} % may lie.`,
        left: lookOf(swatch.color, 'here', condition),
        right: null,
        facts: [],
        fixes: [],
      };
      return i < COMPLETE ? withMix(finding, swatch, condition) : finding;
    });
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

  complete(finding, { library, condition }) {
    const [swatch] = swatchesOf(finding, library);
    return swatch ? withMix(finding, swatch, condition) : finding;
  },
};

function withMix(finding: Finding, { id, color }: Swatch, condition: Condition): Finding {
  const less = withLessInk(color, condition, condition.setting.inkLimit / 100);
  if (!less) return { ...finding, says: `${finding.says} No mix within ΔE00 1 has less.` };
  // never rounded up, so that the limit holds
  const mix = { space: 'cmyk' as const, components: less.inks.map((v) => Math.floor(v * 1e4) / 1e4) };
  return {
    ...finding,
    says: `${finding.says} More black gives the same colour, ΔE00 ${figure(less.deltaE00)} away.`,
    right: lookOf(mix, 'with more black', condition),
    facts: [
      ['C M Y K', `${less.inks.map((v) => Math.round(v * 100)).join(' ')} %`],
      ['total', `${Math.round(less.inks.reduce((a, b) => a + b) * 100)} %`],
    ],
    fixes: [{ label: 'Take the one with more black', steps: [{ set: id, fields: { color: mix } }] }],
  };
}
