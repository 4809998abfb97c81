import { isOff, straysIn } from '../artwork/colorway.ts';
import { type KnownWay, knownWays, wayName } from '../artwork/known.ts';
import { toHex } from '../color/index.ts';
import { optionOf } from '../options.ts';
import { setLinks } from '../swatch/colorway.ts';
import { allSwatches } from '../swatch/index.ts';
import { swatchLabel } from '../swatch/model.ts';
import { type Check, type Finding, figure, lookOf, plural, settled, Worst } from './check.ts';

/** Converters and screens shift codes by a step or two; that is well below this ΔE00 (common practice, no source). */
const NEAR = 2;

interface Seen {
  way: KnownWay;
  stray: ReturnType<typeof straysIn>[number];
}

/** Colours of artwork that are not swatches of the library. */
export const offPalette: Check = {
  id: 'off-palette',
  title: 'Off the palette',
  options: [
    {
      id: 'within',
      label: 'From',
      unit: 'ΔE00',
      type: 'number',
      min: 0,
      max: 20,
      step: 0.5,
      initial: 0,
    },
  ],
  about: () => 'artwork colours not in the library',

  async find({ library, condition, options, alone, breathe }) {
    const from = Number(optionOf(this, options, 'within'));
    const swatches = allSwatches(library);
    const ways = knownWays(library, condition);
    const worst = new Worst<Seen>();
    let looked = 0;
    for (const [i, way] of ways.entries()) {
      await breathe(i, ways.length);
      looked += way.rows.length;
      for (const stray of straysIn(way.rows, swatches, condition))
        if (isOff(stray) && stray.deltaE00 >= from) worst.add(stray.deltaE00, { way, stray });
    }
    const made = worst.take().map(({ measure, of: { way, stray } }): Finding => {
      const { row, nearest } = stray;
      const near = swatchLabel(nearest, condition);
      const { colorway } = way;
      return {
        key: `${way.artwork.id} ${colorway?.id ?? ''} ${row.key} ${row.to} ${toHex(nearest.color, condition)}`,
        swatches: [nearest.id],
        name: row.names[0] || row.to.toUpperCase(),
        measure,
        figure: figure(measure),
        says: `In ${wayName(way)}. The nearest swatch is “${near}”${measure <= NEAR ? ', so near that a converter may have shifted it' : ''}.`,
        left: lookOf(row.color, 'in the work', condition),
        right: lookOf(nearest.color, 'nearest', condition),
        facts: [
          ['Artwork', way.artwork.name],
          ['Colourway', colorway?.name ?? 'as drawn'],
          ['Nearest', near],
        ],
        fixes: colorway
          ? [
              {
                label: `Make it “${near}”`,
                steps: [{ ops: setLinks(colorway, { [row.key]: { swatch: nearest } }, '').ops }],
              },
            ]
          : [],
      };
    });
    const found = settled(made, worst.total, alone);
    return {
      ...found,
      title:
        ways.length === 0
          ? 'This library has no artwork'
          : found.total === 0
            ? 'Every colour of the artwork is a swatch'
            : `${plural(found.total, 'colour')} of the artwork ${found.total === 1 ? 'is' : 'are'} no swatch`,
      detail:
        ways.length === 0
          ? 'Open a drawing in Apply; here its colours are held against the swatches.'
          : `${plural(looked, 'colour')} in ${plural(ways.length, 'colourway')}, each held against ${plural(swatches.length, 'swatch', 'swatches')}.`,
    };
  },
};
