import { type Lab, NearIndex, toLab } from '../color/index.ts';
import { optionOf } from '../options.ts';
import { swatchLabel } from '../swatch/model.ts';
import { type Check, type Finding, figure, keyOf, lookOf, placed, plural, settled, Worst } from './check.ts';

/** At most this many colours are compared before others come in. */
const AT_ONCE = 200;

export const lookAlikes: Check = {
  id: 'look-alikes',
  title: 'Look-alikes',
  options: [
    { id: 'within', label: 'Within', type: 'number', min: 0.1, max: 5, step: 0.1, initial: 2, unit: 'ΔE00' },
    { id: 'groups', label: 'Only inside a group', type: 'boolean', initial: false },
  ],
  about: (options) => `within ΔE00 ${figure(Number(optionOf(lookAlikes, options, 'within')))}`,

  async find({ library, condition, options, alone, breathe }) {
    const within = Number(optionOf(lookAlikes, options, 'within'));
    const inside = optionOf(lookAlikes, options, 'groups') === true;
    const all = placed(library);
    const labs = all.map(({ swatch }) => toLab(swatch.color, condition));
    const index = new NearIndex(labs);
    const worst = new Worst<{ a: number; b: number; deltaE00: number }>();
    for (let i = 0; i < all.length; i++) {
      if (i % AT_ONCE === 0) await breathe(i, all.length);
      index.within(
        labs[i]!,
        within,
        (j, deltaE00) => {
          // a technical separation is identified by its name, never by its colour
          if (all[i]!.swatch.kind === 'technical' || all[j]!.swatch.kind === 'technical') return;
          if (inside && all[i]!.group !== all[j]!.group) return;
          worst.add(within - deltaE00, { a: i, b: j, deltaE00 });
        },
        i + 1,
      );
    }
    const findings = worst.take().map(({ measure, of: { a, b, deltaE00 } }): Finding => {
      const [left, right] = [all[a]!, all[b]!];
      const [x, y] = [left.swatch, right.swatch];
      const names = [swatchLabel(x, condition), swatchLabel(y, condition)];
      const mean = labs[a]!.map((v, i) => (v + labs[b]![i]!) / 2) as Lab;
      return {
        key: keyOf([x, y], condition),
        swatches: [x.id, y.id],
        name: `${names[0]} · ${names[1]}`,
        measure,
        figure: figure(deltaE00),
        says:
          deltaE00 < 0.05
            ? 'One colour twice.'
            : `ΔE00 ${figure(deltaE00)} apart: hardly anyone tells them apart side by side.`,
        left: lookOf(x.color, names[0]!, condition),
        right: lookOf(y.color, names[1]!, condition),
        facts:
          left.group === right.group
            ? []
            : [['in', `${left.group.name || 'no group'} · ${right.group.name || 'no group'}`]],
        fixes: [
          { label: `Keep ${names[0]}`, steps: [{ drop: y.id }] },
          { label: `Keep ${names[1]}`, steps: [{ drop: x.id }] },
          {
            label: 'Keep the mean',
            steps: [{ set: x.id, fields: { color: { space: 'lab', components: mean } } }, { drop: y.id }],
          },
        ],
      };
    });
    const done = settled(findings, worst.total, alone);
    return {
      ...done,
      title:
        done.total === 0
          ? `No two colours are closer than ΔE00 ${figure(within)}`
          : `${plural(done.total, 'pair')} within ΔE00 ${figure(within)}`,
      detail: inside
        ? 'Inside each group. Technical separations are left out.'
        : 'Across all groups. Technical separations are left out.',
    };
  },
};
