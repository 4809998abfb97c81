import { type Color, type Condition, type Lab, toHex, toLab } from '../color/index.ts';
import type { OptionDeclaration, Options } from '../options.ts';
import type { Group, Library, Op, Swatch, SwatchFields } from '../swatch/index.ts';

/** One half of a wing pair, and what is measured of it. */
export interface Look {
  /** What the half is: here, on the press, to another eye. */
  label: string;
  hex: string;
  lab: Lab;
}

/** One step of a fix. */
export type FixStep =
  | { set: string; fields: SwatchFields }
  | { drop: string }
  | { add: Swatch; group: string }
  /** Of what is not a swatch. */
  | { ops: Op[] };

/** A way to put right what was found, done as one edit. */
export interface Fix {
  label: string;
  steps: FixStep[];
}

/** Something that does not hold. */
export interface Finding {
  /** The same as long as the swatches and what was found of them stay the same, so that it can be left alone. */
  key: string;
  /** The ids of the swatches it is about; those of the other library only in {@link says}. */
  swatches: string[];
  /** What it is called: the swatches' names. */
  name: string;
  /** What it is sorted by, the worst the largest, in the unit of the check; shown as {@link figure}. */
  measure: number;
  figure: string;
  /** What does not hold, in words. */
  says: string;
  left: Look;
  right: Look | null;
  /** Figures beside those of the two looks. */
  facts: [what: string, figure: string][];
  fixes: Fix[];
}

/** What a check finds. */
export interface Found {
  findings: Finding[];
  /** Of all, also those that are not listed, and not those left alone. */
  total: number;
  /** Those that the user has left alone. */
  left: number;
  /** What the list of checks counts; {@link total} unless the check counts what holds. */
  count: number;
  /** What was counted, where that is not what the check says of itself. */
  counts?: string;
  /** In a sentence, and the rest. */
  title: string;
  detail: string;
}

/** What a check works on. */
export interface Asked {
  library: Library;
  condition: Condition;
  options: Options;
  /** Conditions of other profiles, by their hash, that options name. */
  beside: ReadonlyMap<string, Condition>;
  /** Another library, or an earlier state of this one. */
  against: Library | null;
  /** Keys of findings that are to be left alone. */
  alone: ReadonlySet<string>;
  /** Told from time to time; a wish to stop comes in by its throwing. */
  breathe(done: number, of: number): Promise<void>;
}

/** A check as a declaration. Adding one is a folder and a place in `registry.ts`. */
export interface Check {
  id: string;
  title: string;
  options: OptionDeclaration[];
  /** It compares with another library and has nothing to say without one. */
  needs?: 'against';
  /** What stands under its title: what it looks for, as chosen. */
  about(options: Options, condition: Condition): string;
  find(asked: Asked): Promise<Found>;
  /** A finding with its fixes, where they take too long to be found for all. */
  complete?(finding: Finding, asked: Asked): Finding;
}

/** At most this many findings are listed, the worst, and this many of them are complete from the beginning. */
export const MAX_FINDINGS = 500;
export const COMPLETE = 10;

/** Candidates for findings, of which only the worst are made. */
export class Worst<T> {
  private list: { measure: number; of: T }[] = [];
  total = 0;

  constructor(private readonly most = MAX_FINDINGS) {}

  add(measure: number, of: T): void {
    this.total++;
    this.list.push({ measure, of });
    if (this.list.length > 8 * this.most) this.cut();
  }

  private cut(): void {
    this.list.sort((a, b) => b.measure - a.measure);
    this.list.length = Math.min(this.list.length, this.most);
  }

  /** The worst, each with its measure. */
  take(): { measure: number; of: T }[] {
    this.cut();
    return this.list;
  }
}

export interface Placed {
  swatch: Swatch;
  group: Group;
}

export const placed = (library: Library): Placed[] =>
  library.groups.flatMap((group) => group.swatches.map((swatch) => ({ swatch, group })));

export const lookOf = (color: Color, label: string, condition: Condition): Look => ({
  label,
  hex: toHex(color, condition),
  lab: toLab(color, condition),
});

/** The swatches a finding is about. */
export const swatchesOf = (finding: Finding, library: Library): Swatch[] =>
  finding.swatches.flatMap((id) => placed(library).find((p) => p.swatch.id === id)?.swatch ?? []);

/** Names findings of swatches as they are now. */
export const keyOf = (swatches: readonly Swatch[], condition: Condition, more = '') =>
  swatches.map((s) => `${s.id} ${toHex(s.color, condition)}`).join(' ') + (more && ` ${more}`);

/** Findings in their order, without those left alone. */
export function settled(
  made: Finding[],
  total: number,
  alone: ReadonlySet<string>,
): Pick<Found, 'findings' | 'total' | 'left' | 'count'> {
  const findings = made.filter((f) => !alone.has(f.key));
  const left = made.length - findings.length;
  return { findings, total: total - left, left, count: total - left };
}

export const figure = (v: number, decimals = 1) => v.toFixed(decimals);
export const plural = (n: number, one: string, many = `${one}s`) =>
  `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;
