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
  toLab,
  VISIONS,
  type Vision,
  visionMatrix,
  visionNames,
} from '../color/index.ts';
import { type Options, optionOf } from '../options.ts';
import { labOfSpectrum } from '../reading/figures.ts';
import type { Illuminant } from '../spectral/index.ts';
import type { Swatch } from '../swatch/index.ts';
import { swatchLabel } from '../swatch/model.ts';
import {
  type Check,
  COMPLETE,
  type Finding,
  type Fix,
  figure,
  keyOf,
  placed,
  plural,
  settled,
  swatchesOf,
  Worst,
} from './check.ts';

/** Pairs that usual eyes see closer than this are look-alikes, and not this check's business (common practice, no source). */
const APART = 10;
const AT_ONCE = 100;

const hexOf = ({ rgb }: Seen) =>
  toHex(fromRgb8(...(rgb.map((v) => Math.round(v * 255)) as [number, number, number])), screenOnly);

/** The color that differs least in lightness and is distinguished from the other by all such eyes. */
function toldApart(
  color: Color,
  other: Color,
  within: number,
  matrices: number[][],
  condition: Condition,
): Color | null {
  const from = matrices.map((m) => seenBy(other, m, condition).lab);
  const [l, c, h] = convert(color, 'oklch', condition).components as [number, number, number];
  for (let by = 0.02; by <= 0.6; by += 0.02)
    for (const lightness of [l + by, l - by]) {
      if (lightness < 0 || lightness > 1) continue;
      const tried = convert({ space: 'oklch', components: [lightness, c, h] }, 'rgb', condition);
      if (matrices.every((m, i) => deltaE00(seenBy(tried, m, condition).lab, from[i]!) >= within))
        return tried;
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
    {
      id: 'light',
      label: 'Light',
      type: 'choice',
      values: [
        ['D50', 'daylight'],
        ['A', 'a lamp'],
        ['F11', 'shop tubes'],
      ],
      initial: 'D50',
    },
  ],
  about: () => 'pairs that collapse',

  async find({ library, condition, options, alone, breathe }) {
    const { within, severity, eye, eyes, light } = chosenOf(options);
    const every = placed(library)
      .map((p) => inLight(p.swatch, light))
      .filter((s) => s.kind !== 'technical');
    const all =
      every.length > MAX_COMPARED_COLORS
        ? standIns(every.map((s) => toLab(s.color, condition))).map((i) => every[i]!)
        : every;
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
    const findings = worst.take().map(({ measure, of }, i): Finding => {
      const [x, y] = [all[of.a]!, all[of.b]!];
      const matrix = visionMatrix(of.eye, severity);
      const [left, right] = [seenBy(x.color, matrix, condition), seenBy(y.color, matrix, condition)];
      const names = [swatchLabel(x, condition), swatchLabel(y, condition)] as const;
      const finding: Finding = {
        key: keyOf([x, y], condition, `${of.eye} ${severity}${light === 'D50' ? '' : ` ${light}`}`),
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
        fixes: [],
      };
      return i < COMPLETE && light === 'D50' ? withFixes(finding, x, y, options, condition) : finding;
    });
    const done = settled(findings, worst.total, alone);
    return {
      ...done,
      title:
        done.total === 0
          ? 'No two colours collapse'
          : `${plural(done.total, 'pair')} ${done.total === 1 ? 'collapses' : 'collapse'} for ${eye === 'all' ? 'some eyes' : `${eye} eyes`}`,
      detail: `Pairs at least ΔE00 ${APART} apart that are seen within ${figure(within)} (Machado, Oliveira and Fernandes 2009).${light === 'D50' ? '' : ` Measured swatches as they are under ${light}; others as in daylight, as nothing else is known of them.`}${all.length < every.length ? ` Of ${every.length.toLocaleString('en-GB')} colours ${all.length.toLocaleString('en-GB')} that stand for all were compared.` : ''}`,
    };
  },

  complete(finding, { library, condition, options }) {
    const [x, y] = swatchesOf(finding, library);
    return x && y && chosenOf(options).light === 'D50'
      ? withFixes(finding, x, y, options, condition)
      : finding;
  },
};

const chosenOf = (options: Options) => {
  const eye = String(optionOf(vision, options, 'eye'));
  return {
    within: Number(optionOf(vision, options, 'within')),
    severity: Number(optionOf(vision, options, 'severity')) / 100,
    eye,
    eyes: eye === 'all' ? VISIONS : [eye as Vision],
    light: String(optionOf(vision, options, 'light')) as Illuminant,
  };
};

/** A measured swatch as it is in another light; fixes are left out there, as they would change the swatch in daylight. */
const inLight = (swatch: Swatch, light: Illuminant): Swatch =>
  light === 'D50' || !swatch.spectrum
    ? swatch
    : { ...swatch, color: { space: 'lab', components: labOfSpectrum(swatch.spectrum, light) } };

function withFixes(finding: Finding, x: Swatch, y: Swatch, options: Options, condition: Condition): Finding {
  const { within, severity, eyes } = chosenOf(options);
  const matrices = eyes.map((eye) => visionMatrix(eye, severity));
  const fixes = (
    [
      [y, x],
      [x, y],
    ] as const
  ).flatMap(([swatch, other]): Fix[] => {
    const color = toldApart(swatch.color, other.color, within, matrices, condition);
    const label = `Change ${swatchLabel(swatch, condition)}`;
    return color ? [{ label, steps: [{ set: swatch.id, fields: { color } }] }] : [];
  });
  return { ...finding, fixes };
}

/** More colours than this are compared by some that stand for all. */
const MAX_COMPARED_COLORS = 2500;

/** Of very many colours the first of each cube of Lab, as small as it can be. */
function standIns(labs: readonly Lab[]): number[] {
  for (let side = 2; ; side *= 1.25) {
    const cubes = new Map<string, number>();
    labs.forEach((lab, i) => {
      const key = lab.map((v) => Math.floor(v / side)).join();
      if (!cubes.has(key)) cubes.set(key, i);
    });
    if (cubes.size <= MAX_COMPARED_COLORS) return [...cubes.values()];
  }
}
