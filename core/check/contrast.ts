import { CONTRAST_STEPS, type Condition, contrastOf, luminance, withContrast } from '../color/index.ts';
import { optionOf } from '../options.ts';
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

/** Roles that speak for themselves, where none is chosen. */
const TEXT = /\b(text|type|lettering|letters|ink|caption|label)\b/i;
const GROUND = /\b(ground|background|paper|surface|page|fill)\b/i;

/** The swatches that are to be read, and those they are read on; both empty where no role says so. */
export function sides(
  swatches: Swatch[],
  text: string,
  ground: string,
): { text: Swatch[]; ground: Swatch[] } {
  // few of a hundred thousand have one
  const withRole = swatches.filter((s) => s.role);
  const of = (role: string, usual: RegExp) =>
    withRole.filter((s) => (role ? s.role === role : usual.test(s.role!)));
  return { text: of(text, TEXT), ground: of(ground, GROUND) };
}

export const contrastCheck: Check = {
  id: 'contrast',
  title: 'Contrast',
  options: [
    {
      id: 'step',
      label: 'At least',
      type: 'choice',
      values: CONTRAST_STEPS.map((s) => [String(s), `${s} : 1`] as const),
      initial: '4.5',
    },
    { id: 'text', label: 'Role of the text', type: 'role', none: 'any that means text', initial: '' },
    { id: 'ground', label: 'Role of the ground', type: 'role', none: 'any that means a ground', initial: '' },
  ],
  about: (options) => `pairs that pass ${optionOf(contrastCheck, options, 'step')}`,

  async find({ library, condition, options, alone, breathe }) {
    const least = Number(optionOf(contrastCheck, options, 'step'));
    const swatches = placed(library)
      .map((p) => p.swatch)
      .filter((s) => s.kind !== 'technical');
    const lights = swatches.map((s) => luminance(s.color, condition)).sort((a, b) => a - b);
    // pairs that pass, counted from both ends
    let passing = 0;
    for (let i = 0, j = 0; i < lights.length; i++) {
      while (j < lights.length && contrastOf(lights[i]!, lights[j]!) < least) j++;
      if (j <= i) j = i + 1;
      while (j < lights.length && contrastOf(lights[i]!, lights[j]!) < least) j++;
      passing += lights.length - j;
    }
    await breathe(0, 1);
    const { text, ground } = sides(
      swatches,
      String(optionOf(contrastCheck, options, 'text')),
      String(optionOf(contrastCheck, options, 'ground')),
    );
    const worst = new Worst<{ text: Swatch; ground: Swatch; ratio: number }>();
    for (const t of text)
      for (const g of ground) {
        if (t === g) continue;
        const ratio = contrastOf(luminance(t.color, condition), luminance(g.color, condition));
        if (ratio < least) worst.add(least - ratio, { text: t, ground: g, ratio });
      }
    const findings = worst.take().map(({ measure, of: { text: t, ground: g, ratio } }, i): Finding => {
      const [name, on] = [swatchLabel(t, condition), swatchLabel(g, condition)];
      const finding: Finding = {
        key: keyOf([t, g], condition, String(least)),
        swatches: [t.id, g.id],
        name: `${name} on ${on}`,
        measure,
        figure: figure(ratio),
        says: `${figure(ratio, 2)} : 1 where ${least} : 1 is asked for (WCAG 2.2).`,
        left: lookOf(t.color, name, condition),
        right: lookOf(g.color, on, condition),
        facts: [['contrast', `${figure(ratio, 2)} : 1`]],
        fixes: [],
      };
      return i < COMPLETE ? withFixes(finding, t, g, least, condition) : finding;
    });
    const done = settled(findings, worst.total, alone);
    const pairs = (lights.length * (lights.length - 1)) / 2;
    const asked = text.length > 0 && ground.length > 0;
    return {
      ...done,
      count: asked ? done.total : passing,
      ...(asked ? { counts: `text on ground under ${least}` } : {}),
      title: !asked
        ? `${passing.toLocaleString('en-GB')} of ${plural(pairs, 'pair')} pass ${least} : 1`
        : done.total === 0
          ? `Everything to be read passes ${least} : 1`
          : `${plural(done.total, 'pair')} of text and ground ${done.total === 1 ? 'does' : 'do'} not pass ${least} : 1`,
      detail: asked
        ? `${plural(text.length, 'text')} on ${plural(ground.length, 'ground')}, by their roles. ${passing.toLocaleString('en-GB')} of all ${plural(pairs, 'pair')} pass.`
        : 'No swatch has the role of text, or none that of ground: give roles in Arrange, or choose them here, and those pairs are checked.',
    };
  },

  complete(finding, { library, condition, options }) {
    const [t, g] = swatchesOf(finding, library);
    const least = Number(optionOf(contrastCheck, options, 'step'));
    return t && g ? withFixes(finding, t, g, least, condition) : finding;
  },
};

function withFixes(
  finding: Finding,
  text: Swatch,
  ground: Swatch,
  least: number,
  condition: Condition,
): Finding {
  const ways = [
    ['Change', text, withContrast(text.color, ground.color, least, condition)],
    ['Change the ground', ground, withContrast(ground.color, text.color, least, condition)],
  ] as const;
  return {
    ...finding,
    fixes: ways.flatMap(([label, swatch, color]) =>
      color
        ? [
            {
              label: `${label} ${swatchLabel(swatch, condition)}`,
              steps: [{ set: swatch.id, fields: { color } }],
            },
          ]
        : [],
    ),
  };
}
