import { type KnownWay, knownWays, wayName } from '../artwork/known.ts';
import { AREA_STEPS, STEP_NAMES } from '../books/processing-steps.ts';
import { optionOf } from '../options.ts';
import { MAX_KNOWN_COLORS, setLinks } from '../swatch/colorway.ts';
import { allSwatches, type Swatch, setFields } from '../swatch/index.ts';
import { swatchLabel } from '../swatch/model.ts';
import { type Check, type Finding, lookOf, plural, settled } from './check.ts';
import { skeleton } from './letters.ts';

/** A hairline that every machine sees, mm (common practice, no source). */
const HAIR = 0.25;
/** Letters that may be wrong, missing or too many before a name is another one. */
const SLIPS = 2;

/** Names as they are typed: one to a line, or with commas between. */
const namesIn = (text: string) =>
  text
    .split(/[\n,;]/)
    .map((n) => n.trim())
    .filter(Boolean);

/** How many letters have to be changed, put in or left out to make one text of another (Levenshtein), up to a limit. */
export function slips(a: string, b: string, most = SLIPS): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1)));
    row = next;
  }
  return row[b.length]!;
}

/** The name that another one is meant to be; null where it is right, or like none. */
export function meantBy(name: string, expected: readonly string[]): string | null {
  if (expected.includes(name)) return null;
  const bare = (text: string) => skeleton(text.trim()).replace(/[\s_-]/g, '');
  const like = expected.find((e) => bare(e) === bare(name));
  if (like) return like;
  // a short name has no room for slips
  return expected.find((e) => e.length > 4 && slips(name.toLowerCase(), e.toLowerCase()) <= SLIPS) ?? null;
}

/** Whether what a technical swatch is for is a line: all but what is laid over areas. */
const isLine = ({ name }: Swatch, areas: ReadonlySet<string>) => !areas.has(name.trim().toLowerCase());

/** Technical swatches on artwork: the names a machine looks for, and lines that are lines. */
export const machineLines: Check = {
  id: 'machine-lines',
  title: 'Lines for machines',
  options: [
    {
      id: 'expects',
      label: 'The machine looks for',
      type: 'text',
      initial: '',
      most: 2000,
      placeholder: 'names, with commas between',
    },
    {
      id: 'areas',
      label: 'laid over areas',
      type: 'text',
      initial: AREA_STEPS.join(', '),
      most: 2000,
      placeholder: 'names, with commas between',
    },
  ],
  about: () => 'their names, and that none is filled',

  async find({ library, condition, options, alone }) {
    const expects = namesIn(String(optionOf(this, options, 'expects')));
    const areas = new Set(namesIn(String(optionOf(this, options, 'areas'))).map((n) => n.toLowerCase()));
    const ways = knownWays(library, condition);
    const swatches = new Map(allSwatches(library).map((s) => [s.id, s]));
    const made: Finding[] = [];
    const used = new Map<string, { swatch: Swatch; way: KnownWay }>();
    for (const way of ways) {
      const { artwork, colorway } = way;
      for (const outline of artwork.data.outlines ?? []) {
        const swatch = swatches.get(artwork.refs[outline.ref] ?? '');
        if (swatch) used.set(swatch.id, { swatch, way });
      }
      for (const row of way.rows) {
        const { swatch } = row;
        if (swatch?.kind !== 'technical') continue;
        used.set(swatch.id, { swatch, way });
        const filled = row.parts.some((p) => p.role === 'fill') && !row.line;
        if (!filled || !isLine(swatch, areas)) continue;
        const what = row.names[0] || row.from.hex.toUpperCase();
        made.push({
          key: `filled ${artwork.id} ${colorway?.id} ${row.key} ${swatch.id}`,
          swatches: [swatch.id],
          name: swatchLabel(swatch, condition),
          measure: 2,
          figure: 'filled',
          says: `“${what}” in ${wayName(way)} is an area of “${swatch.name}”: a machine that follows lines finds none, or cuts nothing.`,
          left: lookOf(row.from.color, 'as drawn', condition),
          right: lookOf(swatch.color, 'now', condition),
          facts: [
            ['Artwork', artwork.name],
            ['Colourway', colorway?.name ?? 'as drawn'],
          ],
          fixes: colorway
            ? [
                {
                  label: `Make it a line of ${HAIR} mm without a fill`,
                  steps: [{ ops: setLinks(colorway, { [row.key]: { swatch, line: HAIR } }, '').ops }],
                },
              ]
            : [],
        });
      }
    }
    const known = expects.length > 0 ? expects : STEP_NAMES;
    const right = new Set<string>();
    for (const { swatch, way } of used.values()) {
      const meant = meantBy(swatch.name, known);
      if (known.includes(swatch.name)) right.add(swatch.name);
      if (!meant && (expects.length === 0 || known.includes(swatch.name))) continue;
      made.push({
        key: `name ${swatch.id} ${swatch.name} ${meant}`,
        swatches: [swatch.id],
        name: swatchLabel(swatch, condition),
        measure: meant ? 4 : 1,
        figure: meant ? 'misspelt' : 'unknown',
        says: meant
          ? `“${swatch.name}” on ${wayName(way)} is written “${meant}” where it is looked for: a machine takes names to the letter.`
          : `“${swatch.name}” on ${wayName(way)} is none of the names the machine looks for.`,
        left: lookOf(swatch.color, 'here', condition),
        right: null,
        facts: [['Artwork', way.artwork.name]],
        fixes: meant
          ? [{ label: `Rename it “${meant}”`, steps: [{ ops: setFields([swatch.id], { name: meant }).ops }] }]
          : [],
      });
    }
    const grey = lookOf({ space: 'gray', components: [0.5] }, 'missing', condition);
    if (ways.length > 0)
      for (const name of expects)
        if (!right.has(name))
          made.push({
            key: `missing ${name}`,
            swatches: [],
            name,
            measure: 3,
            figure: 'missing',
            says: `The machine looks for “${name}”, and no artwork has it.`,
            left: grey,
            right: null,
            facts: [],
            fixes: [],
          });
    made.sort((a, b) => b.measure - a.measure);
    const found = settled(made, made.length, alone);
    const cut = ways.some((w) => w.artwork.data.count > MAX_KNOWN_COLORS);
    return {
      ...found,
      title:
        ways.length === 0
          ? 'This library has no artwork'
          : found.total === 0
            ? used.size === 0
              ? 'No artwork has anything for a machine'
              : `${plural(used.size, 'technical swatch', 'technical swatches')}, named and drawn as a machine needs them`
            : `${plural(found.total, 'thing')} that the machine will not accept`,
      detail:
        ways.length === 0
          ? 'Open a drawing in Apply, and give its lines technical swatches.'
          : `${[...used.values()].map((u) => u.swatch.name).join(', ') || 'None'} on ${plural(ways.length, 'colourway')}${cut ? '; of works with very many colours the largest were looked at' : ''}.`,
    };
  },
};
