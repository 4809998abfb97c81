import { appearance, deltaE00, type Lab, NearIndex, toHex } from '../color/index.ts';
import type { Swatch } from '../swatch/index.ts';
import { swatchLabel } from '../swatch/model.ts';
import {
  type Check,
  type Finding,
  figure,
  lookOf,
  type Placed,
  placed,
  plural,
  settled,
  Worst,
} from './check.ts';

/** Colours closer than this count as the same. */
const SAME = 0.05;
/** So far the nearest may be to stand for one that has neither id, code nor name in common. */
const NEAREST = 5;

type What = 'gone' | 'added' | 'recoloured' | 'renamed';
const WEIGHT: Record<What, number> = { gone: 3000, added: 2000, recoloured: 1000, renamed: 0 };

/** Which of theirs answers to which of mine: by id, then code, then name, then the nearest, each at most once. */
export function pairUp(
  mine: readonly Placed[],
  theirs: readonly Placed[],
  labOf: (s: Swatch) => Lab,
): Map<Placed, Placed> {
  const pairs = new Map<Placed, Placed>();
  const free = new Set(theirs);
  const pass = (key: (s: Swatch) => string | undefined) => {
    const by = new Map<string, Placed[]>();
    for (const p of free) {
      const k = key(p.swatch);
      if (!k) continue;
      const list = by.get(k);
      if (list) list.push(p);
      else by.set(k, [p]);
    }
    for (const p of mine) {
      if (pairs.has(p)) continue;
      const list = by.get(key(p.swatch) ?? '') ?? [];
      const other = list.find((o) => free.has(o));
      if (!other) continue;
      pairs.set(p, other);
      free.delete(other);
    }
  };
  pass((s) => s.id);
  pass((s) => s.code);
  pass((s) => s.name || undefined);
  const left = [...free];
  const index = new NearIndex(left.map((p) => labOf(p.swatch)));
  const near: [deltaE00: number, mine: Placed, theirs: Placed][] = [];
  for (const p of mine)
    if (!pairs.has(p))
      index.within(labOf(p.swatch), NEAREST, (i, difference) => near.push([difference, p, left[i]!]));
  for (const [, p, other] of near.sort((a, b) => a[0] - b[0]))
    if (!pairs.has(p) && free.has(other)) {
      pairs.set(p, other);
      free.delete(other);
    }
  return pairs;
}

export const against: Check = {
  id: 'against',
  title: 'Against…',
  options: [],
  needs: 'against',
  about: () => 'another library, an earlier state',

  async find({ library, against: other, condition, alone, breathe }) {
    if (!other)
      return {
        findings: [],
        total: 0,
        left: 0,
        count: 0,
        title: 'Against what?',
        detail: 'Choose another library or an earlier state of this one.',
      };
    await breathe(0, 1);
    const labOf = (s: Swatch) => appearance(s.color, condition).lab;
    const [mine, theirs] = [placed(library), placed(other)];
    condition.prepare([...mine, ...theirs].map((p) => p.swatch.color));
    const pairs = pairUp(mine, theirs, labOf);
    const met = new Set(pairs.values());
    const worst = new Worst<{ what: What; here: Placed | null; there: Placed | null; deltaE00: number }>();
    const count: Record<What, number> = { gone: 0, added: 0, recoloured: 0, renamed: 0 };
    const add = (what: What, here: Placed | null, there: Placed | null, difference = 0) => {
      count[what]++;
      worst.add(WEIGHT[what] + difference, { what, here, there, deltaE00: difference });
    };
    for (const there of theirs) if (!met.has(there)) add('gone', null, there);
    for (const here of mine) {
      const there = pairs.get(here);
      if (!there) {
        add('added', here, null);
        continue;
      }
      const difference = deltaE00(labOf(here.swatch), labOf(there.swatch));
      if (difference > SAME) add('recoloured', here, there, difference);
      else if (here.swatch.name !== there.swatch.name) add('renamed', here, there);
    }
    const findings = worst
      .take()
      .map(({ measure, of: { what, here, there, deltaE00: difference } }): Finding => {
        const [a, b] = [here?.swatch, there?.swatch];
        const renamed = a && b && a.name !== b.name;
        const left = a ? lookOf(a.color, 'here', condition) : lookOf(b!.color, 'there', condition);
        return {
          key: `${what} ${other.id} ${a ? `${a.id} ${toHex(a.color, condition)}` : ''} ${b ? `${b.id} ${toHex(b.color, condition)}` : ''}`,
          swatches: a ? [a.id] : [],
          name: swatchLabel((a ?? b)!, condition),
          measure,
          figure: what === 'recoloured' ? figure(difference) : what,
          says:
            what === 'gone'
              ? `Only in “${other.name}”.`
              : what === 'added'
                ? `Not in “${other.name}”.`
                : what === 'renamed'
                  ? `Called “${b!.name}” there.`
                  : `ΔE00 ${figure(difference)} from what it is there${renamed ? `, where it is called “${b!.name}”` : ''}.`,
          left,
          right: a && b ? lookOf(b.color, 'there', condition) : null,
          facts: [],
          fixes: [
            ...(what === 'recoloured'
              ? [
                  {
                    label: 'Take the colour from there',
                    steps: [{ set: a!.id, fields: { color: b!.color } }],
                  },
                ]
              : []),
            ...(renamed
              ? [{ label: `Name it “${b.name}”`, steps: [{ set: a.id, fields: { name: b.name } }] }]
              : []),
            ...(what === 'gone'
              ? [{ label: 'Bring it here', steps: [{ add: b!, group: there!.group.name }] }]
              : []),
            ...(what === 'added' ? [{ label: 'Take it out here', steps: [{ drop: a!.id }] }] : []),
          ],
        };
      });
    const done = settled(findings, worst.total, alone);
    const said = (Object.keys(count) as What[]).filter((w) => count[w] > 0).map((w) => `${count[w]} ${w}`);
    return {
      ...done,
      title:
        done.total === 0
          ? `Nothing differs from “${other.name}”`
          : `${plural(done.total, 'difference')} from “${other.name}”`,
      detail: `${said.length > 0 ? `${said.join(', ')}. ` : ''}Paired by id, code, name, then the nearest colour.`,
    };
  },
};
