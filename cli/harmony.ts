import { type Command, InvalidArgumentError } from 'commander';
import {
  type Color,
  type Condition,
  INTERPOLATIONS,
  type InterpolationId,
  interpolations,
  toHex,
  toLab,
} from '../core/color/index.ts';
import {
  AS_BASE,
  CIRCLES,
  type CircleId,
  contrastScale,
  DISPLAY_P3,
  type Evenness,
  familyOf,
  MAX_BASES,
  MAX_STEPS,
  MIN_STEPS,
  pressGamutOf,
  type Rule,
  ruleById,
  rules,
  SRGB,
  scaleOf,
  stepNames,
} from '../core/harmony/index.ts';
import { wrongUsage } from './convert.ts';

interface Shell {
  /** Reads a colour as it is typed. @throws FormatError naming it */
  color(text: string): Color;
  condition(): Promise<Condition>;
  print(json: boolean | undefined, value: unknown, text: string): void;
  /** Bad input: exit code 1. */
  refuse(message: string): never;
}

/** The commands of harmony: `harmony` and `scale`. */
export function addHarmony(program: Command, shell: Shell): void {
  program
    .command('harmony')
    .description('colours that belong together by a rule')
    .argument('<colors...>', `the bases, up to ${MAX_BASES}, as they are typed`)
    .requiredOption('--rule <id>', `one of ${rules.map((r) => r.id).join(', ')}`, asRule)
    .option('--circle <id>', `the order of hues: ${CIRCLES.join(', ')}`, asCircle, 'perceptual')
    .option('--angle <degrees>', 'the angle of the rule, where it has one', asNumber)
    .option('--count <n>', 'how many members, where the rule leaves it open', asNumber)
    .option('--even', 'the same ΔE00 from each step of a run to the next')
    .option('--inside <gamut>', 'srgb, p3 or press (the usual coated offset)', asInside, 'srgb')
    .option('--json', 'one JSON value')
    .action(async (texts: string[], options) => {
      const rule: Rule = options.rule;
      const bases = texts.map((text) => ({ color: shell.color(text) }));
      const { min } = rule.bases;
      if (bases.length < min || bases.length > MAX_BASES)
        shell.refuse(
          `“${rule.name}” is made of ${min === 1 ? '1' : min} to ${MAX_BASES} colours, not of ${bases.length}.`,
        );
      for (const [what, given, range] of [
        ['angle', options.angle, rule.angle],
        ['count', options.count, rule.count],
      ] as const) {
        if (given === undefined) continue;
        if (!range) shell.refuse(`“${rule.name}” has no ${what} to set.`);
        if (given < range.min || given > range.max)
          shell.refuse(
            `The ${what} of “${rule.name}” lies between ${range.min} and ${range.max}, not at ${given}.`,
          );
      }
      const condition = await shell.condition();
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
      shell.print(
        options.json,
        { rule: rule.id, circle: options.circle, swatches },
        `${rule.name}, ${options.circle}\n${lines.join('')}`,
      );
    });

  program
    .command('scale')
    .description('steps through colours, or at given contrasts on a ground')
    .argument('<colors...>', 'what it leads through, as they are typed; with --contrast, one')
    .option('--steps <n>', `${MIN_STEPS}–${MAX_STEPS}`, asSteps)
    .option('--in <space>', INTERPOLATIONS.join(', '), asWay, 'oklab')
    .option('--even <kind>', 'way, lightness or difference (ΔE00)', asEven, 'way')
    .option('--contrast <ratios>', 'WCAG ratios from 1 to 21, with commas between', asRatios)
    .option('--on <color>', 'the ground of the contrasts')
    .option(
      '--name <pattern>',
      '{step} is the contrast, or else the lightness; {n} counts from 1',
      'step-{n}',
    )
    .option('--json', 'one JSON value')
    .action(async (texts: string[], options) => {
      const through = texts.map((text) => shell.color(text));
      const condition = await shell.condition();
      const ratios: number[] | undefined = options.contrast;
      if (ratios && through.length > 1)
        throw wrongUsage('a contrast scale has one colour; give the others one each');
      if (!ratios && options.on !== undefined) throw wrongUsage('--on requires --contrast');
      if (!ratios && options.steps === undefined)
        throw wrongUsage(`give --steps from ${MIN_STEPS} to ${MAX_STEPS}, or --contrast with ratios`);
      const ground = shell.color(options.on ?? '#ffffff');
      const steps = ratios
        ? contrastScale(through[0]!, ground, ratios, condition).map((step, i) => {
            if (!step)
              shell.refuse(
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
      shell.print(
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

const oneOf = (list: readonly string[]) => new InvalidArgumentError(`Use one of ${list.join(', ')}.`);

function asRule(id: string): Rule {
  const rule = ruleById(id);
  if (!rule) throw oneOf(rules.map((r) => r.id));
  return rule;
}

function asCircle(id: string): CircleId {
  if (!(CIRCLES as readonly string[]).includes(id)) throw oneOf(CIRCLES);
  return id as CircleId;
}

const INSIDE = ['srgb', 'p3', 'press'];
function asInside(id: string): string {
  if (!INSIDE.includes(id)) throw oneOf(INSIDE);
  return id;
}

function asWay(id: string): InterpolationId {
  const way = interpolations.find((i) => i.id === id);
  if (!way) throw oneOf(INTERPOLATIONS);
  return way.id;
}

const EVEN: Evenness[] = ['way', 'lightness', 'difference'];
function asEven(id: string): Evenness {
  if (!(EVEN as string[]).includes(id)) throw oneOf(EVEN);
  return id as Evenness;
}

function asNumber(text: string): number {
  const n = Number(text);
  if (text.trim() === '' || !Number.isFinite(n)) throw new InvalidArgumentError('Use a number.');
  return n;
}

function asSteps(text: string): number {
  const n = Number(text);
  if (!Number.isInteger(n) || n < MIN_STEPS || n > MAX_STEPS)
    throw new InvalidArgumentError(`Use a whole number from ${MIN_STEPS} to ${MAX_STEPS}.`);
  return n;
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
