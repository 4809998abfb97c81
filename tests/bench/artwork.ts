// Opening a drawing of 20,000 shapes and changing a colour of it, beside other parsers of the same file

import { XMLParser } from 'fast-xml-parser';
import { SaxesParser } from 'saxes';
import {
  colorsOf,
  factsOf,
  madeOf,
  ordersOf,
  partMap,
  readArtwork,
  recolored,
  rowsIn,
  straysIn,
} from '../../core/artwork/index.ts';
import { allSwatches } from '../../core/swatch/model.ts';
import { coated, libraryOf } from '../../core/testing.ts';
import { quickest } from './quickest.ts';

const SHAPES = 20_000;

/** An invented drawing: groups, rules, and outlines of some length. */
function drawing(): string {
  const shapes = Array.from({ length: SHAPES }, (_, i) => {
    const [x, y] = [(i % 200) * 10, Math.floor(i / 200) * 10];
    const paint =
      i % 3 === 0
        ? `class="c${i % 7}"`
        : `fill="#${(i % 40).toString(16).padStart(2, '0')}8a${(i % 13).toString(16)}c"`;
    return `<path id="part-${i}" ${paint} d="M${x} ${y}c2 -3 6 -3 8 0c3 2 3 6 0 8c-2 3 -6 3 -8 0z"/>`;
  });
  const rules = Array.from(
    { length: 7 },
    (_, i) => `.c${i} { fill: hsl(${i * 50} 60% 40%); stroke: #14304a }`,
  );
  const groups = Array.from(
    { length: 100 },
    (_, g) => `<g id="layer-${g}">${shapes.slice(g * 200, g * 200 + 200).join('\n')}</g>`,
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" width="400mm" height="200mm" viewBox="0 0 2000 1000"><style>${rules.join('')}</style>${groups.join('\n')}</svg>`;
}

export async function benchArtwork(): Promise<void> {
  const text = drawing();
  const artwork = readArtwork(text);
  const [first] = colorsOf(artwork);
  const all = new Map(first!.parts.map((p) => [p.id, '#d9a441']));
  const one = new Map([[first!.parts[0]!.id, '#d9a441']]);
  const facts = factsOf(artwork);
  const swatches = allSwatches(
    libraryOf('5,000', {
      all: Array.from({ length: 5000 }, (_, i) => [
        `s${i}`,
        `hsl(${i % 360} ${20 + (i % 70)}% ${10 + (i % 83)}%)`,
      ]),
    }),
  );
  const settled = rowsIn(facts.colors, null, () => undefined, coated);
  const made = madeOf(artwork, ordersOf(settled));
  const rows: [string, () => unknown][] = [
    ['opened, cleaned, every colour found', () => readArtwork(text)],
    ['its colours by area', () => colorsOf(artwork)],
    ['one colour changed, the text written', () => recolored(artwork, all)],
    ['one part changed, the text written', () => recolored(artwork, one)],
    ['what its colours are in a colourway', () => rowsIn(facts.colors, null, () => undefined, coated)],
    ['off a palette of 5,000', () => straysIn(settled, swatches, coated)],
    ['the map that is pointed at', () => partMap(made)],
    ['fast-xml-parser, read alone', () => new XMLParser({ ignoreAttributes: false }).parse(text)],
    ['saxes, read alone', () => new SaxesParser().write(text).close()],
  ];
  console.log(
    `\nA drawing of ${SHAPES.toLocaleString('en')} shapes, ${(text.length / 1e6).toFixed(1)} MB, ${artwork.parts.length.toLocaleString('en')} parts: milliseconds, quickest of 5`,
  );
  for (const [name, run] of rows)
    console.log(`${name.padEnd(40)}${(await quickest(run)).toFixed(1).padStart(9)}`);
}
