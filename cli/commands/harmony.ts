import { type Command, InvalidArgumentError } from 'commander';
import { INTERPOLATIONS, toHex, toLab } from '../../core/color/index.ts';
import { FormatError } from '../../core/formats/index.ts';
import {
  AS_BASE,
  CIRCLES,
  contrastScale,
  DISPLAY_P3,
  type Evenness,
  familyOf,
  MAX_BASES,
  MAX_STEPS,
  MIN_STEPS,
  pressGamutOf,
  type Rule,
  rules,
  SRGB,
  scaleOf,
  stepNames,
} from '../../core/harmony/index.ts';
import { asColor, asNumber, oneById, oneOf, wrongUsage } from '../args.ts';
import { conditionHere } from '../engine.ts';
import type { Shell } from '../shell.ts';

const INSIDE = ['srgb', 'p3', 'press'];
const EVEN: readonly Evenness[] = ['way', 'lightness', 'difference'];

/** The commands of harmony: `harmony` and `scale`. */
export function addHarmony(program: Command, { print }: Shell): void {
  program
    .command('harmony')
    .description('colours that belong together by a rule')
    .argument('<colors...>', `the bases, up to ${MAX_BASES}, as they are typed`)
    .requiredOption('--rule <id>', `one of ${rules.map((r) => r.id).join(', ')}`, oneById(rules))
    .option('--circle <id>', `the order of hues: ${CIRCLES.join(', ')}`, oneOf(CIRCLES), 'perceptual')
    .option('--angle <degrees>', 'the angle of the rule, where it has one', asNumber())
    .option('--count <n>', 'how many members, where the rule leaves it open', asNumber())
    .option('--even', 'the same ΔE00 from each step of a run to the next')
    .option('--inside <gamut>', 'srgb, p3 or press (the usual coated offset)', oneOf(INSIDE), 'srgb')
    .option('--json', 'one JSON value')
    .action(async (texts: string[], options) => {
      const rule: Rule = options.rule;
      const bases = texts.map((text) => ({ color: asColor(text) }));
      const { min } = rule.bases;
      if (bases.length < min || bases.length > MAX_BASES)
        throw new FormatError(
          `“${rule.name}” is made of ${min === 1 ? '1' : min} to ${MAX_BASES} colours, not of ${bases.length}.`,
        );
      for (const [what, given, range] of [
        ['angle', options.angle, rule.angle],
        ['count', options.count, rule.count],
      ] as const) {
        if (given === undefined) continue;
        if (!range) throw new FormatError(`“${rule.name}” has no ${what} to set.`);
        if (given < range.min || given > range.max)
          throw new FormatError(
            `The ${what} of “${rule.name}” lies between ${range.min} and ${range.max}, not at ${given}.`,
          );
      }
      const condition = await conditionHere();
      const gamut =
        options.inside === 'press' ? pressGamutOf(condition) : options.inside === 'p3' ? DISPLAY_P3 : SRGB;
      const members = familyOf(
        {
          bases,
          rule: rule.id,
          circle: options.circle,
          lightness: AS_BASE,
          chroma: AS_BASE,
          ...(options.angle === undefined ? {} : { angle: options.angle }),
          ...(options.count === undefined ? {} : { count: options.count }),
          ...(options.even ? { even: true } : {}),
        },
        gamut,
        condition,
      );
      const swatches = members.map((m) => ({
        hex: toHex(m.color, condition),
        lab: toLab(m.color, condition),
        role: m.role,
        oklch: m.lch,
        ...(m.gaveUp > 0 ? { gaveUpChroma: m.gaveUp } : {}),
        ...(m.inside ? { inside: toHex(m.inside, condition) } : {}),
      }));
      const lines = swatches.map(
        (s) =>
          `${s.hex}  ${s.role}${s.gaveUpChroma ? `  (lost ${s.gaveUpChroma.toFixed(3)} of chroma)` : ''}${s.inside ? `  (outside ${gamut.name}; inside it would be ${s.inside})` : ''}\n`,
      );
      print(
        options.json,
        { rule: rule.id, circle: options.circle, swatches },
        `${rule.name}, ${options.circle}\n${lines.join('')}`,
      );
    });

  program
    .command('scale')
    .description('steps through colours, or at given contrasts on a ground')
    .argument('<colors...>', 'what it leads through, as they are typed; with --contrast, one')
    .option(
      '--steps <n>',
      `${MIN_STEPS}–${MAX_STEPS}`,
      asNumber({ min: MIN_STEPS, max: MAX_STEPS, whole: true }),
    )
    .option('--in <space>', INTERPOLATIONS.join(', '), oneOf(INTERPOLATIONS), 'oklab')
    .option('--even <kind>', 'way, lightness or difference (ΔE00)', oneOf(EVEN), 'way')
    .option('--contrast <ratios>', 'WCAG ratios from 1 to 21, with commas between', asRatios)
    .option('--on <color>', 'the ground of the contrasts')
    .option(
      '--name <pattern>',
      '{step} is the contrast, or else the lightness; {n} counts from 1',
      'step-{n}',
    )
    .option('--json', 'one JSON value')
    .action(async (texts: string[], options) => {
      const through = texts.map((text) => asColor(text));
      const condition = await conditionHere();
      const ratios: number[] | undefined = options.contrast;
      if (ratios && through.length > 1)
        throw wrongUsage('a contrast scale has one colour; give the others one each');
      if (!ratios && options.on !== undefined) throw wrongUsage('--on requires --contrast');
      if (!ratios && options.steps === undefined)
        throw wrongUsage(`give --steps from ${MIN_STEPS} to ${MAX_STEPS}, or --contrast with ratios`);
      const ground = asColor(options.on ?? '#ffffff');
      const steps = ratios
        ? contrastScale(through[0]!, ground, ratios, condition).map((step, i) => {
            if (!step)
              throw new FormatError(
                `Nothing of this hue has a contrast of ${ratios[i]} on ${toHex(ground, condition)}.`,
              );
            return { color: step.color, contrast: step.contrast };
          })
        : scaleOf(
            { through, steps: options.steps, way: options.in, even: options.even },
            SRGB,
            condition,
          ).map((color) => ({ color }));
      const names = stepNames(
        options.name,
        'step',
        steps.map((step, i) => ({
          lightness: toLab(step.color, condition)[0],
          ...(ratios ? { contrast: ratios[i]! } : {}),
        })),
      );
      const swatches = steps.map((step, i) => ({
        name: names[i]!,
        hex: toHex(step.color, condition),
        lab: toLab(step.color, condition),
        ...('contrast' in step ? { contrast: step.contrast } : {}),
      }));
      print(
        options.json,
        { swatches },
        swatches
          .map(
            (s) =>
              `${s.hex}  ${s.name}${'contrast' in s ? `  ${(s.contrast as number).toFixed(2)}:1` : ''}\n`,
          )
          .join(''),
      );
    });
}

function asRatios(text: string): number[] {
  const list = text
    .split(/[\s,]+/)
    .filter(Boolean)
    .map(Number);
  if (list.length === 0 || list.some((r) => !(r >= 1 && r <= 21)))
    throw new InvalidArgumentError('Use ratios from 1 to 21, such as 1.2,3,4.5,7.');
  return list;
}
