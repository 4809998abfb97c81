import { type Command, InvalidArgumentError } from 'commander';
import { type Condition, toHex } from '../../core/color/index.ts';
import { type Format, FormatError } from '../../core/formats/index.ts';
import { DISPLAY_P3, pressGamutOf, SRGB } from '../../core/harmony/index.ts';
import { allSwatches } from '../../core/swatch/model.ts';
import {
  EVEN,
  type Even,
  isTunable,
  LIGHT_NAMES,
  type Light,
  spreadOf,
  type Tuned,
  type Tuning,
  tune,
} from '../../core/tune/index.ts';
import { asColor, asNumber, asWritable, byEnding, eachName, oneOf, wrongUsage } from '../args.ts';
import { converted, refuseOverSource } from '../conversion.ts';
import { conditionHere } from '../engine.ts';
import { open, STREAM, write } from '../files.ts';
import type { Shell } from '../shell.ts';

interface Given {
  group?: string[];
  lightness?: number;
  chroma?: number;
  hue?: number;
  blend?: [name: string, percent: number];
  even?: Partial<Record<Even, number>>;
  reverse?: boolean;
  light?: NonNullable<Tuning['relight']>;
  like?: [name: string, percent: number];
  within: Within;
  to?: Format;
  force?: boolean;
  json?: boolean;
}

const WITHIN = ['srgb', 'p3', 'press'] as const;
type Within = (typeof WITHIN)[number];

/** The command `tune`: colours moved together, into a file of their own. */
export function addTune(program: Command, { streams, report, note }: Shell): void {
  program
    .command('tune')
    .description('move colours together: lighter, calmer, closer to one light, reversed for a dark surround')
    .argument('<file>', 'the swatch file to read, - for standard input')
    .argument('<out>', 'the file to write, - for standard output')
    .option('--group <name>', 'only the swatches of this group (repeatable)', eachName)
    .option('--lightness <n>', 'add this to the lightness of OKLCh, in hundredths', asNumber())
    .option('--chroma <factor>', 'multiply the chroma', asNumber({ min: 0, hint: '1 changes nothing' }))
    .option('--hue <degrees>', 'turn the hue', asNumber())
    .option('--blend <color=percent>', 'move towards a colour', asShare)
    .option('--even <what=percent>', `even out ${EVEN.join(', ')} (repeatable)`, asEven)
    .option('--reverse', 'make light dark and dark light, and keep contrast ratios')
    .option('--light <from=to>', `show them in another light: ${LIGHT_NAMES.join(', ')}`, asLight)
    .option('--like <file=percent>', 'move towards the mean and spread of another file', asShare)
    .option('--within <gamut>', `keep them inside ${WITHIN.join(', ')}`, oneOf(WITHIN), 'srgb')
    .option('--to <id>', 'write this format instead of going by the ending', asWritable)
    .option('--force', 'write over what is read, also where the format keeps less')
    .option('--json', 'one JSON value')
    .action(async (from: string, to: string, given: Given) => {
      if (to === STREAM && given.json)
        throw wrongUsage('--json and a file on standard output cannot be combined');
      if (to === STREAM && !given.to) throw wrongUsage('- needs --to with the format to write');
      const format = given.to ?? byEnding(to);
      const opened = await open(from, undefined, false, streams);
      const { library } = opened;
      const condition = await conditionHere(library);
      const tuning = await tuningOf(given, condition);
      for (const name of given.group ?? [])
        if (!library.groups.some((g) => g.name === name))
          throw new FormatError(
            `${from} has no group “${name}”; it has ${library.groups.map((g) => `“${g.name}”`).join(', ')}.`,
          );
      const wanted = library.groups
        .filter((g) => !given.group || given.group.includes(g.name))
        .flatMap((g) => g.swatches);
      const gamut =
        given.within === 'press' ? pressGamutOf(condition) : given.within === 'p3' ? DISPLAY_P3 : SRGB;
      const tuned = tune(wanted, tuning, gamut, condition);
      const colors = new Map(tuned.map((t) => [t.swatch.id, t.color]));
      const moved = {
        ...library,
        groups: library.groups.map((g) => ({
          ...g,
          swatches: g.swatches.map((s) => {
            const color = colors.get(s.id);
            if (!color || color === s.color) return s;
            // what else it was in other spaces it is no longer
            const { alternates: _, spectrum: __, ...rest } = s;
            return { ...rest, color };
          }),
        })),
      };
      const result = await converted({ ...opened, library: moved }, format, {});
      await refuseOverSource(from, to, result, given.force);
      await write(to, result.bytes, streams);
      const alone = wanted.filter((s) => !isTunable(s)).length;
      const text = described(tuned, alone, condition) + result.text;
      report(
        to,
        given.json,
        {
          swatches: tuned.map((t) => ({
            swatch: t.swatch.name,
            from: toHex(t.swatch.color, condition),
            to: toHex(t.color, condition),
            deltaE00: t.deltaE00,
            ...(t.lostChroma > 0 ? { lostChroma: t.lostChroma } : {}),
          })),
          leftAlone: alone,
          changes: result.json.changes,
          warnings: opened.warnings,
        },
        text,
      );
      note(given.json, opened.warnings);
    });
}

/** What is asked for, with what other files and colours it needs. */
async function tuningOf(given: Given, condition: Condition): Promise<Tuning> {
  const { lightness, chroma, hue, blend, even, reverse, light, like } = given;
  const nothing = [lightness, chroma, hue, blend, even, reverse, light, like].every((v) => v === undefined);
  if (nothing)
    throw wrongUsage(
      'say what to do: --lightness, --chroma, --hue, --blend, --even, --reverse, --light or --like',
    );
  const match = like && {
    spread: spreadOf(
      allSwatches((await open(like[0])).library)
        .filter(isTunable)
        .map((s) => s.color),
      condition,
    ),
    percent: like[1],
  };
  return {
    ...(lightness === undefined ? {} : { lightness }),
    ...(chroma === undefined ? {} : { chroma }),
    ...(hue === undefined ? {} : { hue }),
    ...(even ? { even } : {}),
    ...(reverse ? { reverse } : {}),
    ...(light ? { relight: light } : {}),
    ...(match ? { match } : {}),
    ...(blend ? { blend: { toward: asColor(blend[0]), percent: blend[1] } } : {}),
  };
}

function described(tuned: readonly Tuned[], alone: number, condition: Condition): string {
  const lines = tuned.map(
    (t) =>
      `${toHex(t.swatch.color, condition)} → ${toHex(t.color, condition)}  ΔE00 ${t.deltaE00.toFixed(1).padStart(4)}  ${t.swatch.name}${t.lostChroma > 0 ? ` (lost ${t.lostChroma.toFixed(3)} of chroma)` : ''}`,
  );
  if (alone > 0)
    lines.push(
      `${alone === 1 ? '1 spot or technical ink was' : `${alone} spot and technical inks were`} left alone.`,
    );
  return `${lines.join('\n')}\n`;
}

function asPercent(text: string): number {
  const value = Number(text.replace(/%$/, ''));
  if (text.trim() === '' || !(value >= 0 && value <= 100))
    throw new InvalidArgumentError('The share goes from 0 to 100 percent.');
  return value;
}
/** A name and a share behind the last `=`. */
function asShare(text: string): [string, number] {
  const at = text.lastIndexOf('=');
  if (at <= 0) throw new InvalidArgumentError('Use NAME=PERCENT, such as #14304a=20.');
  return [text.slice(0, at), asPercent(text.slice(at + 1))];
}
function asEven(text: string, before: Partial<Record<Even, number>> = {}): Partial<Record<Even, number>> {
  const [name, percent] = asShare(text);
  const what = EVEN.find((e) => e === name);
  if (!what) throw new InvalidArgumentError(`It is one of ${EVEN.join(', ')}, each with =PERCENT.`);
  return { ...before, [what]: percent };
}
function asLight(text: string): { from: Light; to: Light } {
  const [from, to] = text.split('=').map((name) => LIGHT_NAMES.find((l) => l === name.trim().toUpperCase()));
  if (!from || !to)
    throw new InvalidArgumentError(`Use FROM=TO, such as D65=A, with two of ${LIGHT_NAMES.join(', ')}.`);
  return { from, to };
}
