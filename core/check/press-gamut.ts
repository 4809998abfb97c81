import {
  type Color,
  type Condition,
  convert,
  nearestPrints,
  type Printed,
  toHex,
  toLab,
} from '../color/index.ts';
import { optionOf } from '../options.ts';
import type { Swatch } from '../swatch/index.ts';
import { swatchLabel } from '../swatch/model.ts';
import {
  type Asked,
  type Check,
  type Finding,
  figure,
  keyOf,
  lookOf,
  placed,
  plural,
  settled,
  Worst,
} from './check.ts';

const AT_ONCE = 1000;

/** Whether a color is stated in inks: a gray is black alone. */
const isInk = ({ space }: Color) => space === 'cmyk' || space === 'gray';

/** How near a press comes to each swatch; inks of the very condition are there. */
async function prints(
  swatches: Swatch[],
  here: Condition,
  press: Condition,
  breathe: (done: number) => Promise<void>,
): Promise<(Printed | null)[]> {
  const found: (Printed | null)[] = [];
  for (let at = 0; at < swatches.length; at += AT_ONCE) {
    await breathe(at);
    const some = swatches.slice(at, at + AT_ONCE);
    const wanted = some.filter(({ color }) => !(isInk(color) && !color.profile && press === here));
    const near = nearestPrints(
      wanted.map(({ color }) => toLab(isInk(color) ? convert(color, 'cmyk', here) : color, here)),
      press,
      press.setting.inkLimit / 100,
    );
    const by = new Map(wanted.map((s, i) => [s, near[i]!]));
    for (const s of some) found.push(by.get(s) ?? null);
  }
  return found;
}

export const pressGamut: Check = {
  id: 'press-gamut',
  title: 'Press gamut',
  options: [
    {
      id: 'tolerance',
      label: 'Tolerance',
      type: 'number',
      min: 0.5,
      max: 10,
      step: 0.5,
      initial: 2,
      unit: 'ΔE00',
    },
    { id: 'beside', label: 'Beside', type: 'profile', none: 'no other', initial: '' },
    { id: 'spots', label: 'Spot colours too', type: 'boolean', initial: false },
  ],
  about: (_, condition) => condition.name,

  async find({ library, condition, options, beside, alone, breathe }: Asked) {
    const tolerance = Number(optionOf(pressGamut, options, 'tolerance'));
    const spots = optionOf(pressGamut, options, 'spots') === true;
    const other = beside.get(String(optionOf(pressGamut, options, 'beside')));
    const swatches = placed(library)
      .map((p) => p.swatch)
      .filter((s) => s.kind === 'process' || (spots && s.kind === 'spot'));
    const rounds = other ? 2 : 1;
    const first = await prints(swatches, condition, condition, (done) =>
      breathe(done, swatches.length * rounds),
    );
    const second =
      other &&
      (await prints(swatches, condition, other, (done) =>
        breathe(swatches.length + done, swatches.length * 2),
      ));
    const worst = new Worst<{ swatch: Swatch; own: Printed | null; beside: Printed | null }>();
    swatches.forEach((swatch, i) => {
      const [own, beside] = [first[i]!, second?.[i] ?? null];
      const far = Math.max(own?.deltaE00 ?? 0, beside?.deltaE00 ?? 0);
      if (far > tolerance) worst.add(far, { swatch, own, beside });
    });
    const findings = worst.take().map(({ measure, of: { swatch, own, beside } }): Finding => {
      // the press that is worse off is shown
      const press = other && (beside?.deltaE00 ?? 0) > (own?.deltaE00 ?? 0) ? other : condition;
      const print = (press === condition ? own : beside)!;
      const inks = { space: 'cmyk' as const, components: print.inks.map((v) => Math.round(v * 1e4) / 1e4) };
      const spot = swatch.kind === 'spot';
      return {
        key: keyOf([swatch], condition, press.setting.profile.slice(0, 8)),
        swatches: [swatch.id],
        name: swatchLabel(swatch, condition),
        measure,
        figure: figure(measure),
        says: `The press comes no nearer than ΔE00 ${figure(print.deltaE00)}.`,
        left: lookOf(swatch.color, 'here', condition),
        right: { label: 'on the press', hex: toHex(inks, press), lab: print.lab },
        facts: [
          ['C M Y K', `${print.inks.map((v) => Math.round(v * 100)).join(' ')} %`],
          ...(other
            ? ([
                [condition.name, `ΔE00 ${figure(own?.deltaE00 ?? 0)}`],
                [other.name, `ΔE00 ${figure(beside?.deltaE00 ?? 0)}`],
              ] as [string, string][])
            : []),
        ],
        fixes:
          press === condition
            ? [
                {
                  label: 'Take the nearest inside',
                  steps: [
                    {
                      set: swatch.id,
                      // a spot ink keeps to measured numbers
                      fields: { color: spot ? { space: 'lab', components: [...print.lab] } : inks },
                    },
                  ],
                },
              ]
            : [],
      };
    });
    const done = settled(findings, worst.total, alone);
    const inside = swatches.length - worst.total;
    return {
      ...done,
      title:
        swatches.length === 0
          ? 'No process colours to print'
          : done.total === 0
            ? `All ${plural(swatches.length, 'colour')} print within ΔE00 ${figure(tolerance)}`
            : `${plural(done.total, 'colour')} the press cannot reach`,
      detail:
        worst.total === 0
          ? `On ${condition.name}${other ? ` and ${other.name}` : ''}.`
          : `${inside.toLocaleString('en-GB')} of ${swatches.length.toLocaleString('en-GB')} print within ΔE00 ${figure(tolerance)} on ${condition.name}${other ? ` and on ${other.name}` : ''}. Measured, with the paper.`,
    };
  },
};
