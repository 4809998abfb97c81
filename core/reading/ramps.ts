import { FormatError } from '../text/error.ts';
import { plural } from '../text/text.ts';
import { backingOf, type MeasurementFile } from './file.ts';
import type { Backing, MeasuredInk, Patch, Step } from './model.ts';

/** Names of the bare sheet. */
const SHEET = /^(?:paper|substrate|sheet|media|unprinted|white paper|black paper)\b/i;
const SOLID = /\b(?:solid|full ?tone)\b/i;
/** “Orange 50”, “Orange 50 %”, “Orange_50 over black”. */
const TINT = /^(.*?)[\s_-]*\(?(\d+(?:[.,]\d+)?)\s*%?\)?$/;
/** What a name says of the backing, at its end or after a word such as “over”. */
const BACKED = /[\s,_-]*\(?\b(?:over|on|ob|ow)?\s*(?:black|white)(?:\s*backing)?\b\)?\s*$/i;

interface Named {
  ink: string;
  percent: number | undefined;
  backing: Backing | undefined;
}

/** What a patch's name says. */
function namedIn(name: string): Named {
  const backed = BACKED.exec(name);
  // black and white are names of inks, too: where nothing else is left, it is the name
  const rest = backed && backed.index > 0 ? name.slice(0, backed.index).trim() : name.trim();
  const backing = rest === name.trim() ? undefined : backingOf(backed![0]);
  if (SHEET.test(rest)) return { ink: '', percent: 0, backing };
  if (SOLID.test(rest)) return { ink: rest.replace(SOLID, '').trim(), percent: 100, backing };
  const tint = TINT.exec(rest);
  if (tint?.[1] && Number(tint[2]!.replace(',', '.')) <= 100)
    return { ink: tint[1].trim(), percent: Number(tint[2]!.replace(',', '.')), backing };
  return { ink: rest, percent: undefined, backing };
}

/** Tints given as parts of 1 are percent, too; both in one file are one too many. @throws FormatError where they are mixed */
function inPercent(patches: readonly Patch[]): (percent: number) => number {
  const given = patches.flatMap((p) => (p.percent === undefined ? [] : [p]));
  const most = Math.max(0, ...given.map((p) => p.percent!));
  if (most > 100)
    throw new FormatError(
      `${given.find((p) => p.percent! > 100)!.where}: a tint of ${most} is more than 100 %. Correct it in the file.`,
    );
  if (most > 1) {
    const part = given.find((p) => p.percent! > 0 && p.percent! < 1);
    if (part)
      throw new FormatError(
        `${part.where}: a tint of ${part.percent} stands among percentages up to ${most}. Are tints in percent, or in parts of 1? Write all of them in one way.`,
      );
    return (percent) => percent;
  }
  return given.some((p) => p.percent! > 0) ? (percent) => percent * 100 : (percent) => percent;
}

/** The inks of files. */
export interface Ramps {
  inks: MeasuredInk[];
  warnings: string[];
  /** Files whose patches say nothing of inks and tints: each patch is an ink then, or all together are one ramp. */
  unsaid: { title: string; patches: number }[];
}

/** So many patches may be a ramp that nobody named. */
const MIN_RAMP = 4;

/** Patches that say neither their tint nor their ink. */
const saysNothing = ({ patches }: MeasurementFile): boolean =>
  patches.length >= MIN_RAMP &&
  patches.every(
    (p) => p.percent === undefined && p.ink === undefined && namedIn(p.name).percent === undefined,
  );

/** A file whose patches are one ramp, at even steps from the brightest to the darkest. */
function asRamp(file: MeasurementFile): MeasurementFile {
  const bright = ({ spectrum: { values } }: Patch) => values.reduce((sum, v) => sum + v, 0) / values.length;
  const sorted = file.patches.toSorted((a, b) => bright(b) - bright(a));
  return {
    ...file,
    patches: sorted.map((p, i) => ({ ...p, ink: file.title, percent: (100 * i) / (sorted.length - 1) })),
  };
}

/**
 * The inks of files of measurements: their ramps, by columns where there are any and by names otherwise. Missing data are reported, and
 * nothing is invented.
 *
 * @param ramps titles of files whose patches are one ramp, although they say nothing of it
 * @throws FormatError for tints that contradict each other
 */
export function inksOf(given: readonly MeasurementFile[], ramps: readonly string[] = []): Ramps {
  const isRamp = (f: MeasurementFile) => saysNothing(f) && ramps.includes(f.title);
  const files = given.map((f) => (isRamp(f) ? asRamp(f) : f));
  const unsaid = given
    .filter((f) => saysNothing(f) && !isRamp(f))
    .map((f) => ({ title: f.title, patches: f.patches.length }));
  const warnings = files.flatMap((f) => f.warnings);
  const inks = new Map<string, MeasuredInk>();
  /** The bare sheet belongs to all inks of its file. */
  const sheets: { of: MeasurementFile; step: Step; mode: string | undefined }[] = [];
  const sources = new Map<MeasuredInk, Set<MeasurementFile>>();
  for (const file of files) {
    const toPercent = inPercent(file.patches);
    for (const patch of file.patches) {
      const named = namedIn(patch.name);
      const percent = patch.percent === undefined ? named.percent : toPercent(patch.percent);
      const step: Step = {
        // what has no number is a solid
        percent: percent ?? 100,
        backing: patch.backing ?? named.backing ?? 'white',
        spectrum: patch.spectrum,
        name: patch.name,
      };
      // a tint by its column, of a patch that is only numbered, is of what the file is of
      const isNumbered = patch.percent !== undefined && named.percent === undefined;
      const ink = patch.ink ?? (isNumbered ? file.title : named.ink);
      if (step.percent === 0 && (ink === '' || patch.ink === undefined)) {
        sheets.push({ of: file, step, mode: patch.facts?.mode });
        continue;
      }
      // what was measured in another mode is another measurement: the two tell what glows
      const conditions = { ...patch.facts, ...file.conditions };
      const key = `${ink}\n${patch.facts?.mode ?? conditions.mode ?? ''}`;
      const known = inks.get(key) ?? { name: ink, conditions, steps: [] };
      inks.set(key, known);
      const { steps } = known;
      const twice = steps.find((s) => s.percent === step.percent && s.backing === step.backing);
      if (twice)
        warnings.push(
          `${patch.where}: ${percentText(step)} of “${ink}” was measured before, as “${twice.name}”. The first one counts.`,
        );
      else steps.push(step);
      sources.set(known, (sources.get(known) ?? new Set()).add(file));
    }
  }
  for (const ink of inks.values()) {
    for (const { of, step, mode } of sheets)
      if (
        (!mode || mode === ink.conditions.mode) &&
        sources.get(ink)!.has(of) &&
        !ink.steps.some((s) => s.percent === 0 && s.backing === step.backing)
      )
        ink.steps.push(step);
    ink.steps.sort(
      (a, b) => Number(a.backing === 'black') - Number(b.backing === 'black') || a.percent - b.percent,
    );
    warnings.push(...missing(ink));
  }
  return { inks: [...inks.values()], warnings, unsaid };
}

/** Half a tint over white reflects more than this somewhere, 0–1. */
const MIN_PALE = 0.02;
/** So does whatever lies over black: its surface alone reflects as much. */
const MIN_BLACK = 0.0005;

const percentText = ({ percent, backing }: Pick<Step, 'percent' | 'backing'>) =>
  `${Number(percent.toFixed(2))} % over ${backing}`;

/** What a ramp lacks, or cannot be. */
function missing({ name, steps }: MeasuredInk): string[] {
  const said: string[] = [];
  for (const backing of ['white', 'black'] as const) {
    const own = steps.filter((s) => s.backing === backing);
    if (own.length === 0) continue;
    const [first, last] = [own[0]!, own.at(-1)!];
    if (last.percent < 100)
      said.push(
        `“${name}” over ${backing} ends at ${Number(last.percent.toFixed(2))} %: without its solid it has no tone values.`,
      );
    if (first.percent > 0 && own.length > 1)
      said.push(
        `“${name}” over ${backing} begins at ${Number(first.percent.toFixed(2))} %: without the bare sheet it has no tone values.`,
      );
    const grids = new Set(own.map(({ spectrum: s }) => `${s.start}/${s.step}/${s.values.length}`));
    if (grids.size > 1)
      said.push(
        `“${name}” over ${backing} was measured in ${plural(grids.size, 'way')}: its bands do not match.`,
      );
  }
  const faint = steps.find(
    (s) => s.backing === 'white' && s.percent <= 50 && Math.max(...s.spectrum.values) < MIN_PALE,
  );
  if (faint)
    said.push(
      `“${name}” ${Number(faint.percent.toFixed(2))} % over white reflects less than ${MIN_PALE * 100} % everywhere, which no such tint does. Are reflectances in percent and in parts of 1 mixed?`,
    );
  const pit = steps.find((s) => s.backing === 'black' && Math.max(...s.spectrum.values) < MIN_BLACK);
  if (pit)
    said.push(
      `“${name}” ${Number(pit.percent.toFixed(2))} % over black reflects nothing at all, which no black backing does. Was the instrument on the sheet?`,
    );
  for (const white of steps.filter((s) => s.backing === 'white')) {
    const black = steps.find((s) => s.backing === 'black' && s.percent === white.percent);
    if (black && brighter(black, white))
      said.push(
        `“${name}” ${Number(white.percent.toFixed(2))} % reflects more over black than over white. Are the two exchanged?`,
      );
  }
  return said;
}

const meanOf = ({ spectrum: { values } }: Step) => values.reduce((sum, v) => sum + v, 0) / values.length;
/** More than two measurements of the same differ by. */
const brighter = (black: Step, white: Step) => meanOf(black) > meanOf(white) + 0.01;
