import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FormatError } from '../text/error.ts';
import { colorsOf, readArtwork, recolored } from './index.ts';

// Drawings that nobody would draw: colours in all notations and places, through rules, groups, variables and uses.

const hexOf = (n: number) => `#${n.toString(16).padStart(6, '0')}`;
const color = fc.integer({ min: 0, max: 0xffffff });
/** A colour in a notation that says exactly eight bits. */
const notation = fc.tuple(color, fc.integer({ min: 0, max: 4 })).map(([n, way]) => {
  const [r, g, b] = [n >> 16, (n >> 8) & 255, n & 255];
  return [
    hexOf(n),
    hexOf(n).toUpperCase(),
    `rgb(${r}, ${g},${b})`,
    `rgb(${r} ${g} ${b})`,
    `rgba(${r},${g},${b},1)`,
  ][way]!;
});
const paint = fc.oneof(
  { weight: 6, arbitrary: notation },
  fc.constantFrom(
    'none',
    'currentColor',
    'inherit',
    'var(--a)',
    'var(--none, #123456)',
    'url(#g)',
    'url(#p)',
    'red',
    'bogus',
  ),
);
const property = fc.constantFrom('fill', 'stroke', 'color', '--a');
const declared = fc
  .array(fc.tuple(property, paint, fc.constantFrom('', ' !important', ' ')), { maxLength: 3 })
  .map((all) =>
    all.map(([p, v, more]) => `${p}:${p === '--a' && v.includes('var') ? '#0f0f0f' : v}${more}`).join('; '),
  );
const attributes = fc
  .tuple(
    fc.option(paint, { nil: null }),
    fc.option(paint, { nil: null }),
    fc.option(declared, { nil: null }),
    fc.option(fc.constantFrom('a', 'b', 'a b'), { nil: null }),
    fc.boolean(),
  )
  .map(([fill, stroke, style, name, single]) => {
    const q = single ? "'" : '"';
    return [
      fill && `fill=${q}${fill}${q}`,
      stroke && `stroke = ${q} ${stroke}${q}`,
      style && `style=${q}${style}${q}`,
      name && `class=${q}${name}${q}`,
    ]
      .filter(Boolean)
      .join('\n ');
  });
const shape = fc
  .tuple(
    fc.constantFrom(
      'rect width="9" height="9"',
      'circle r="4"',
      'path d="M0 0h9v9z"',
      'line x2="9"',
      'use href="#s"',
    ),
    attributes,
  )
  .map(([what, more]) => `<${what} ${more}/>`);
const text = fc
  .tuple(attributes, attributes)
  .map(([outer, inner]) => `<text ${outer}>Night <tspan ${inner}>and</tspan> day</text>`);
const group = fc
  .tuple(attributes, fc.array(fc.oneof(shape, shape, text), { maxLength: 4 }))
  .map(([own, inside]) => `<g ${own}>\n${inside.join('\n')}\n</g>`);
const selector = fc.constantFrom(
  '.a',
  '.b',
  'rect',
  'g > .a',
  'g:not(.b) path',
  '#s',
  'text tspan',
  '[class~=b]',
  '*',
);
const drawing = fc
  .tuple(
    fc.array(fc.tuple(selector, declared), { maxLength: 3 }),
    fc.array(fc.oneof(shape, group, group), { maxLength: 4 }),
    attributes,
    fc.array(paint, { minLength: 2, maxLength: 3 }),
    fc.boolean(),
  )
  .map(([rules, inside, symbol, stops, cdata]) => {
    const sheet = rules.map(([s, d]) => `${s} { ${d} }`).join('\n');
    return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 90"><style>${cdata ? `<![CDATA[${sheet}]]>` : sheet.replaceAll('>', '&gt;')}</style>
<defs><rect id="s" width="5" height="5" ${symbol}/><linearGradient id="g">${stops.map((s, i) => `<stop offset="${i / 2}" stop-color="${s}"/>`).join('')}</linearGradient>
<pattern id="p" width="4" height="4"><circle r="2" fill="${stops[0]}"/></pattern></defs>
${inside.join('\n')}</svg>`;
  });

/** Another colour for each, so that no two become one. */
const other = (hex: string) => hexOf(Number.parseInt(hex.slice(1), 16) ^ 0x5a3c96);

describe('any drawing', () => {
  it('stays to the letter where every colour becomes itself', () => {
    fc.assert(
      fc.property(drawing, (svg) => {
        const artwork = readArtwork(svg);
        const same = new Map(colorsOf(artwork).flatMap((c) => c.parts.map((p) => [p.id, c.hex] as const)));
        expect(recolored(artwork, same)).toBe(artwork.text);
      }),
      { numRuns: 300 },
    );
  });

  it('has the new colours where it had the old, all of them, and a second reading finds as many parts', () => {
    fc.assert(
      fc.property(drawing, fc.boolean(), (svg, inline) => {
        // a shape that is drawn in two colours cannot have one of its own
        fc.pre(!(inline && svg.includes('<use')));
        const artwork = readArtwork(svg);
        const before = colorsOf(artwork, 'position');
        const changes = new Map(before.flatMap((c) => c.parts.map((p) => [p.id, other(c.hex)] as const)));
        const after = readArtwork(recolored(artwork, changes, { inline }));
        expect(after.parts.map((p) => [p.role, p.node.name])).toEqual(
          artwork.parts.map((p) => [p.role, p.node.name]),
        );
        expect(colorsOf(after, 'position').map((c) => c.hex)).toEqual(before.map((c) => other(c.hex)));
      }),
      { numRuns: 300 },
    );
  });

  it('changes one colour, and no part of another', () => {
    fc.assert(
      fc.property(drawing, fc.nat(), (svg, n) => {
        const artwork = readArtwork(svg);
        const before = colorsOf(artwork, 'position');
        if (before.length === 0) return;
        const one = before[n % before.length]!;
        const after = readArtwork(recolored(artwork, new Map(one.parts.map((p) => [p.id, other(one.hex)]))));
        const wanted = new Set(before.map((c) => (c === one ? other(c.hex) : c.hex)));
        expect(new Set(colorsOf(after).map((c) => c.hex))).toEqual(wanted);
      }),
      { numRuns: 300 },
    );
  });

  it('that is damaged is refused with a reason, or read; never anything else', () => {
    fc.assert(
      fc.property(
        drawing,
        fc.array(fc.tuple(fc.nat(), fc.string({ maxLength: 4 })), { maxLength: 4 }),
        (svg, cuts) => {
          let broken = svg;
          for (const [at, put] of cuts)
            broken = broken.slice(0, at % broken.length) + put + broken.slice((at % broken.length) + 2);
          try {
            const artwork = readArtwork(broken);
            // clean once is clean
            expect(readArtwork(artwork.text).text).toBe(artwork.text);
          } catch (error) {
            expect(error).toBeInstanceOf(FormatError);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});
