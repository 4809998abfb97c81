import fc from 'fast-check';
import { type Color, SPACES, type Space, spaces } from './color/index.ts';
import { countingIds, type Library, type Swatch } from './swatch/model.ts';

/** Any text a person or a file could bring, astral planes, right-to-left and control characters included. */
export const anyName = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 30 }),
  fc.string({ unit: 'binary', maxLength: 12 }),
  fc.constantFrom(
    '',
    ' ',
    'قارب الليل',
    '🚢🦋',
    '# not a remark',
    '-- */ }',
    'x'.repeat(200),
    '"quoted"',
    'a\tb',
  ),
);

/** A colour whose numbers a channel of so many levels holds exactly (`levels` 0: 32-bit floats). */
export function anyColor(allowed: readonly Space[] = SPACES, levels = 0): fc.Arbitrary<Color> {
  return fc
    .constantFrom(...allowed)
    .chain((space) =>
      fc
        .tuple(
          ...spaces[space].channels.map(({ min, max }) =>
            levels
              ? fc.integer({ min: 0, max: levels }).map((n) => min + (n / levels) * (max - min))
              : fc.float({ min: Math.fround(min), max: Math.fround(max), noNaN: true }).map((v) => v + 0),
          ),
        )
        .map((components) => ({ space, components })),
    );
}

/** A library with a nameless first group and some named ones. */
export function anyLibrary(color: fc.Arbitrary<Color> = anyColor(), name = anyName): fc.Arbitrary<Library> {
  const swatch = fc.record<Omit<Swatch, 'id'>>(
    {
      name,
      kind: fc.constantFrom('process', 'spot', 'technical'),
      color,
      role: fc.constantFrom('sky', 'hull'),
    },
    { requiredKeys: ['name', 'kind', 'color'] },
  );
  const swatches = fc.array(swatch, { maxLength: 8 });
  return fc
    .record({ name, loose: swatches, groups: fc.array(fc.record({ name, swatches }), { maxLength: 4 }) })
    .map((l) => {
      const newId = countingIds();
      return {
        id: newId(),
        name: l.name,
        groups: [{ name: '', swatches: l.loose }, ...l.groups].map((g) => ({
          id: newId(),
          name: g.name,
          swatches: g.swatches.map((s) => ({ id: newId(), ...s })),
        })),
      };
    });
}
