import { STEP_NAMES } from '../books/processing-steps.ts';
import { deltaE00, NearIndex, toHex, toLab } from '../color/index.ts';
import type { Swatch } from '../swatch/index.ts';
import { swatchLabel } from '../swatch/model.ts';
import {
  type Check,
  type Finding,
  type Fix,
  keyOf,
  lookOf,
  placed,
  plural,
  settled,
  Worst,
} from './check.ts';
import { lookAlikeLetters, skeleton } from './letters.ts';

/** Colours closer than this are one (common practice, no source). */
const ONE = 0.5;
type Kind = 'blanks' | 'twice' | 'letters' | 'case' | 'two names';
/** What is worse than what: a machine that does not find its line comes first. */
const WEIGHT: Record<Kind, number> = { case: 5, letters: 4, twice: 3, blanks: 2, 'two names': 1 };

interface Seen {
  kind: Kind;
  a: Swatch;
  b: Swatch | null;
  says: string;
  rename?: string;
}

const lower = (text: string) => text.toLocaleLowerCase('en');
const AT_ONCE = 500;

export const names: Check = {
  id: 'names',
  title: 'Names',
  options: [],
  about: () => 'that can be mistaken',

  async find({ library, condition, alone, breathe }) {
    const all = placed(library).map((p) => p.swatch);
    const worst = new Worst<Seen>();
    const add = (seen: Seen) => worst.add(WEIGHT[seen.kind], seen);
    const byName = new Map<string, Swatch>();
    const byLower = new Map<string, Swatch>();
    const bySkeleton = new Map<string, Swatch>();
    const labs = all.map((s) => toLab(s.color, condition));
    const labOf = new Map(all.map((s, i) => [s, labs[i]!]));
    const index = new NearIndex(labs);
    for (const [i, swatch] of all.entries()) {
      if (i % AT_ONCE === 0) await breathe(i, all.length);
      const { name } = swatch;
      if (name === '') continue;
      const trimmed = name.trim();
      if (trimmed !== name && trimmed !== '')
        add({
          kind: 'blanks',
          a: swatch,
          b: null,
          says: 'Blanks at the ends: another program will not find it.',
          rename: trimmed,
        });
      const odd = lookAlikeLetters(name);
      if (odd)
        add({
          kind: 'letters',
          a: swatch,
          b: null,
          says: `${odd.letter} is no Latin letter, and looks like one.`,
          rename: odd.latin,
        });
      if (swatch.kind === 'technical') {
        const step = STEP_NAMES.find((s) => s !== name && lower(s) === lower(name));
        if (step)
          add({
            kind: 'case',
            a: swatch,
            b: null,
            says: `ISO 19593-1 writes it “${step}”: a machine looks for it to the letter.`,
            rename: step,
          });
      }
      const same = byName.get(name);
      if (same && deltaE00(labOf.get(same)!, labs[i]!) > ONE)
        add({
          kind: 'twice',
          a: same,
          b: swatch,
          says: 'One name on two colours: whoever looks it up gets one of them.',
        });
      const cased = byLower.get(lower(name));
      if (cased && cased.name !== name && (cased.kind === 'technical' || swatch.kind === 'technical'))
        add({
          kind: 'case',
          a: cased,
          b: swatch,
          says: 'They differ only by case, and a machine looks for the letters.',
          rename: cased.name,
        });
      const alike = bySkeleton.get(skeleton(name));
      if (alike && lower(alike.name) !== lower(name))
        add({ kind: 'letters', a: alike, b: swatch, says: 'Their letters look alike in most typefaces.' });
      if (!same) byName.set(name, swatch);
      if (!cased) byLower.set(lower(name), swatch);
      if (!alike) bySkeleton.set(skeleton(name), swatch);
      index.within(
        labs[i]!,
        ONE / 10,
        (j) => {
          const other = all[j]!;
          if (
            other.name !== '' &&
            other.name !== name &&
            other.kind === swatch.kind &&
            swatch.kind !== 'technical'
          )
            add({ kind: 'two names', a: swatch, b: other, says: 'One colour under two names.' });
        },
        i + 1,
      );
    }
    const findings = worst.take().map(({ measure, of: { kind, a, b, says, rename } }): Finding => {
      const fixes: Fix[] = [];
      const whom = b && kind === 'case' ? b : a;
      if (rename !== undefined)
        fixes.push({ label: `Name it “${rename}”`, steps: [{ set: whom.id, fields: { name: rename } }] });
      if (b && kind === 'twice') {
        const free = freeName(b.name, byName);
        fixes.push({ label: `Name the second “${free}”`, steps: [{ set: b.id, fields: { name: free } }] });
      }
      if (b && kind === 'two names')
        for (const [keep, drop] of [
          [a, b],
          [b, a],
        ] as const)
          fixes.push({ label: `Keep “${keep.name}”`, steps: [{ drop: drop.id }] });
      return {
        key: keyOf(b ? [a, b] : [a], condition, `${kind} ${a.name} ${b?.name ?? ''}`.slice(0, 200)),
        swatches: b ? [a.id, b.id] : [a.id],
        name: b && a.name !== b.name ? `${a.name} · ${b.name}` : swatchLabel(a, condition),
        measure,
        figure: kind,
        says,
        left: lookOf(a.color, a.name, condition),
        right: b && lookOf(b.color, b.name, condition),
        facts: b ? [['codes', [a, b].map((s) => s.code ?? toHex(s.color, condition)).join(' · ')]] : [],
        fixes,
      };
    });
    const done = settled(findings, worst.total, alone);
    return {
      ...done,
      title:
        done.total === 0 ? 'Every name is its own' : `${plural(done.total, 'name')} that can be mistaken`,
      detail:
        'One name on two colours, one colour under two names, blanks at the ends, letters that look alike, technical names by case.',
    };
  },
};

function freeName(name: string, taken: ReadonlyMap<string, unknown>): string {
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`)) return `${name} ${n}`;
}
