import {
  type Color,
  type Condition,
  convert,
  deltaE00,
  fromRgb8,
  type Lab,
  NearIndex,
  type Seen,
  screenOnly,
  seenBy,
  toHex,
  VISIONS,
  type Vision,
  visionMatrix,
  visionNames,
} from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import {
  type Check,
  type Finding,
  figure,
  keyOf,
  type Mend,
  nameOf,
  placed,
  plural,
  settled,
  Worst,
} from '../check.ts';

/** Pairs that usual eyes see closer than this are look-alikes, and not this check's business (common practice, no source). */
const APART = 10;
const AT_ONCE = 100;
const MOST_MENDED = 100;

const hexOf = ({ rgb }: Seen) =>
  toHex(fromRgb8(...(rgb.map((v) => Math.round(v * 255)) as [number, number, number])), screenOnly);

/** The color that differs least in lightness and is told from the other by such an eye. */
function toldApart(
  color: Color,
  from: Lab,
  within: number,
  matrix: number[],
  condition: Condition,
): Color | null {
  const [l, c, h] = convert(color, 'oklch', condition).components as [number, number, number];
  for (let by = 0.02; by <= 0.6; by += 0.02)
    for (const lightness of [l + by, l - by]) {
      if (lightness < 0 || lightness > 1) continue;
      const tried = convert({ space: 'oklch', components: [lightness, c, h] }, 'rgb', condition);
      if (deltaE00(seenBy(tried, matrix, condition).lab, from) >= within) return tried;
    }
  return null;
}

export const vision: Check = {
  id: 'vision',
  title: 'Colour vision',
  options: [
    {
      id: 'eye',
      label: 'Eye',
      type: 'choice',
      values: [['all', 'all three'], ...VISIONS.map((v) => [v, visionNames[v]] as const)],
      initial: 'all',
    },
    {
      id: 'severity',
      label: 'Severity',
      type: 'number',
      min: 10,
      max: 100,
      step: 10,
      initial: 100,
      unit: '%',
    },
    { id: 'within', label: 'Within', type: 'number', min: 1, max: 10, step: 0.5, initial: 4, unit: 'ΔE00' },
  ],
  about: () => 'pairs that collapse',

  async find({ library, condition, options, alone, breathe }) {
    const within = Number(optionOf(vision, options, 'within'));
    const severity = Number(optionOf(vision, options, 'severity')) / 100;
    const eye = String(optionOf(vision, options, 'eye'));
    const eyes = eye === 'all' ? VISIONS : [eye as Vision];
    const all = placed(library)
      .map((p) => p.swatch)
      .filter((s) => s.kind !== 'technical');
    const usual = visionMatrix('deutan', 0);
    const plain = all.map((s) => seenBy(s.color, usual, condition).lab);
    const worst = new Worst<{ a: number; b: number; eye: Vision; seen: number; apart: number }>();
    for (const [n, one] of eyes.entries()) {
      const matrix = visionMatrix(one, severity);
      const labs = all.map((s) => seenBy(s.color, matrix, condition).lab);
      const index = new NearIndex(labs);
      for (let i = 0; i < all.length; i++) {
        if (i % AT_ONCE === 0) await breathe(n * all.length + i, eyes.length * all.length);
        index.within(
          labs[i]!,
          within,
          (j, seen) => {
            const apart = deltaE00(plain[i]!, plain[j]!);
            if (apart >= APART) worst.add(apart - seen, { a: i, b: j, eye: one, seen, apart });
          },
          i + 1,
        );
      }
    }
    const findings: Finding[] = [];
    for (const [i, { measure, of }] of worst.take().entries()) {
      if (i % 10 === 0) await breathe(i, MOST_MENDED);
      const [x, y] = [all[of.a]!, all[of.b]!];
      const matrix = visionMatrix(of.eye, severity);
      const [left, right] = [seenBy(x.color, matrix, condition), seenBy(y.color, matrix, condition)];
      const names = [nameOf(x, condition), nameOf(y, condition)] as const;
      const mends: Mend[] = [];
      if (i < MOST_MENDED)
        for (const [swatch, other, name] of [
          [y, left, names[1]],
          [x, right, names[0]],
        ] as const) {
          const color = toldApart(swatch.color, other.lab, within, matrix, condition);
          if (color) mends.push({ label: `Change ${name}`, steps: [{ set: swatch.id, fields: { color } }] });
        }
      findings.push({
        key: keyOf([x, y], condition, `${of.eye} ${severity}`),
        swatches: [x.id, y.id],
        name: `${names[0]} · ${names[1]}`,
        measure,
        figure: figure(of.seen),
        says: `ΔE00 ${figure(of.apart)} to most people, ${figure(of.seen)} to ${of.eye} eyes${severity < 1 ? ` at ${severity * 100} %` : ''}.`,
        left: { label: names[0], hex: hexOf(left), lab: left.lab },
        right: { label: names[1], hex: hexOf(right), lab: right.lab },
        facts: [
          ['shown', `as ${of.eye} eyes see it`],
          ['to most people', `ΔE00 ${figure(of.apart)}`],
        ],
        mends,
      });
    }
    const done = settled(findings, worst.total, alone);
    return {
      ...done,
      title:
        done.total === 0
          ? 'No two colours collapse'
          : `${plural(done.total, 'pair')} ${done.total === 1 ? 'collapses' : 'collapse'} for ${eye === 'all' ? 'some eyes' : `${eye} eyes`}`,
      detail: `Pairs at least ΔE00 ${APART} apart that are seen within ${figure(within)} (Machado, Oliveira and Fernandes 2009).`,
    };
  },
};
