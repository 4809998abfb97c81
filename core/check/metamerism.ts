import { deltaE00, type Lab, NearIndex, toHex } from '../color/index.ts';
import { optionOf } from '../options.ts';
import { labOfSpectrum } from '../reading/figures.ts';
import type { Illuminant } from '../spectral/index.ts';
import type { Spectrum, Swatch } from '../swatch/index.ts';
import { swatchLabel } from '../swatch/model.ts';
import {
  type Check,
  type Finding,
  figure,
  keyOf,
  type Look,
  placed,
  plural,
  settled,
  Worst,
} from './check.ts';

/** At most this many spectra are compared before others come in. */
const AT_ONCE = 50;
/** What a pair that matches in daylight is looked at under. */
const OTHERS: readonly (readonly [Illuminant, string])[] = [
  ['A', 'a lamp (A)'],
  ['F11', 'shop tubes (F11)'],
];
type Measured = Swatch & { spectrum: Spectrum };

export const metamerismCheck: Check = {
  id: 'metamerism',
  title: 'Metamerism',
  options: [
    {
      id: 'within',
      label: 'Alike in daylight, within',
      type: 'number',
      min: 0.5,
      max: 5,
      step: 0.1,
      initial: 2,
      unit: 'ΔE00',
    },
    {
      id: 'apart',
      label: 'Apart under a lamp by',
      type: 'number',
      min: 0.5,
      max: 10,
      step: 0.1,
      initial: 2,
      unit: 'ΔE00',
    },
  ],
  about: () => 'alike in daylight alone',

  async find({ library, condition, options, alone, breathe }) {
    const within = Number(optionOf(metamerismCheck, options, 'within'));
    const apart = Number(optionOf(metamerismCheck, options, 'apart'));
    const all = placed(library)
      .map((p) => p.swatch)
      .filter((s): s is Measured => s.spectrum !== undefined && !s.tint);
    const labs: Lab[] = [];
    for (const [i, { spectrum }] of all.entries()) {
      if (i % AT_ONCE === 0) await breathe(i, all.length);
      labs.push(labOfSpectrum(spectrum, 'D65', '10'));
    }
    const under = new Map<string, Lab>();
    const labUnder = (i: number, light: Illuminant) => {
      const key = `${i} ${light}`;
      let lab = under.get(key);
      if (!lab) {
        lab = labOfSpectrum(all[i]!.spectrum, light, '10');
        under.set(key, lab);
      }
      return lab;
    };
    const index = new NearIndex(labs);
    const worst = new Worst<{ a: number; b: number; day: number; light: (typeof OTHERS)[number] }>();
    for (let i = 0; i < all.length; i++) {
      if (i % AT_ONCE === 0) await breathe(i, all.length);
      index.within(
        labs[i]!,
        within,
        (j, day) => {
          for (const light of OTHERS) {
            const there = deltaE00(labUnder(i, light[0]), labUnder(j, light[0]));
            // what is as far apart as in daylight is only another colour
            if (there >= apart && there - day >= apart / 2) worst.add(there, { a: i, b: j, day, light });
          }
        },
        i + 1,
      );
    }
    const seen = new Set<string>();
    const findings = worst.take().flatMap(({ measure, of: { a, b, day, light } }): Finding[] => {
      const [x, y] = [all[a]!, all[b]!];
      const key = keyOf([x, y], condition);
      // a pair counts once, in the light where it is furthest apart
      if (seen.has(key)) return [];
      seen.add(key);
      const names = [swatchLabel(x, condition), swatchLabel(y, condition)];
      const look = (i: number, label: string): Look => {
        const lab = labUnder(i, light[0]);
        return { label, lab, hex: toHex({ space: 'lab', components: lab }, condition) };
      };
      return [
        {
          key,
          swatches: [x.id, y.id],
          name: `${names[0]} · ${names[1]}`,
          measure,
          figure: figure(measure),
          says: `ΔE00 ${figure(day)} apart in daylight, ${figure(measure)} under ${light[1]}. Print or dye the two from one ink where they meet.`,
          left: look(a, names[0]!),
          right: look(b, names[1]!),
          facts: [['shown under', light[1]]],
          fixes: [],
        },
      ];
    });
    const done = settled(findings, findings.length, alone);
    const without = placed(library).length - all.length;
    return {
      ...done,
      title:
        all.length < 2
          ? 'Fewer than two swatches have spectra'
          : done.total === 0
            ? 'Colours that match in daylight match under lamps'
            : `${plural(done.total, 'pair')} that ${done.total === 1 ? 'matches' : 'match'} in daylight alone`,
      detail: `Of ${plural(all.length, 'swatch', 'swatches')} with spectra, for the 10° observer.${without > 0 ? ` ${plural(without, 'swatch has', 'swatches have')} none: their colours under a lamp are not known.` : ''}`,
    };
  },
};
