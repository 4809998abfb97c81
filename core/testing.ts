import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { loadEngine } from '../profiles/load.ts';
import {
  type Color,
  conditionIn,
  parseColor,
  SHIPPED,
  SPACES,
  type Space,
  spaces,
  toHex,
  USUAL_CONDITION,
} from './color/index.ts';
import type { Format, PlainFormat } from './formats/format.ts';
import { recognise } from './formats/registry.ts';
import type { Options } from './options.ts';
import type { Decoders } from './picture/index.ts';
import type { Services } from './services.ts';
import { countingIds, type Library, type Swatch } from './swatch/model.ts';
import { SURFACES } from './swatch/surfaces.ts';

// the same examples in every run, so that a failure is of the change and not of the dice; FC_SEED chooses others
fc.configureGlobal({ seed: Number(process.env.FC_SEED ?? 20_261_125) });

/** The engine, and the two conditions whose profiles ship. */
export const engine = await loadEngine(fileURLToPath(new URL('../profiles/', import.meta.url)));
/** What the decoders of pictures need. */
export const decoders: Decoders = {
  engine: async () => engine,
  async wasm(of) {
    const file =
      of === 'heic' ? 'libheif-js/libheif-wasm/libheif.wasm' : '@jsquash/jxl/codec/dec/jxl_dec.wasm';
    return new Uint8Array(await readFile(createRequire(import.meta.url).resolve(file))).buffer;
  },
};
export const coated = conditionIn(engine, USUAL_CONDITION);
export const uncoated = conditionIn(engine, { ...USUAL_CONDITION, profile: SHIPPED.uncoated });
/** The services of formats that set no type. */
export const services: Services = {
  condition: coated,
  loadFont: (font) => Promise.reject(new Error(`No type is set here, in ${font}.`)),
  drawLabels: async (_, data) => data,
};

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

/** A colour whose numbers a channel of a number of levels holds exactly (`levels` 0: 32-bit floats). */
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

const bytesOf = (source: string | Uint8Array) =>
  typeof source === 'string' ? new TextEncoder().encode(source) : source;

/** The format by which a source is recognised. */
export const recognisedAs = (source: string | Uint8Array) => recognise(bytesOf(source))?.id;

/** What a format reads from a source: `group | name #rrggbb`, one line for each swatch, and the warnings. */
export function readBy(format: Format, source: string | Uint8Array, options?: Options) {
  const decoded = format.decode(bytesOf(source), countingIds(), options);
  if (decoded instanceof Promise)
    throw new Error(`${format.name} is read in its own time; await its decode.`);
  const { library, warnings } = decoded;
  const lines = library.groups.flatMap((g, i) =>
    g.swatches.map(
      (s) => `${i === 0 && g.name === '' ? '' : `${g.name} | `}${s.name} ${toHex(s.color, coated)}`,
    ),
  );
  return { library, warnings, lines, swatches: library.groups.flatMap((g) => g.swatches) };
}

/** What a format writes, as text. */
export const writeBy = (format: PlainFormat, library: Library, options?: Options) =>
  new TextDecoder().decode(format.encode(library, services, options));

/** A small invented library with every kind and space, for looking at what is written. */
export const fleet: Library = {
  id: 'l',
  name: 'Fleet livery',
  groups: [
    {
      id: 'g0',
      name: '',
      swatches: [
        { id: '1', name: 'Paper', kind: 'process', color: { space: 'gray', components: [1] } },
        {
          id: '2',
          name: 'Sea & “sky” <1>',
          kind: 'process',
          color: { space: 'rgb', components: [47 / 255, 125 / 255, 107 / 255] },
        },
      ],
    },
    {
      id: 'g1',
      name: 'Hull',
      swatches: [
        {
          id: '3',
          name: 'Boot-top red',
          code: 'KF 204',
          kind: 'spot',
          role: 'waterline',
          color: { space: 'lab', components: [40, 57, 33] },
        },
        {
          id: '4',
          name: 'Old brass',
          kind: 'process',
          note: 'as in 1931',
          color: { space: 'cmyk', components: [0.04, 0.26, 0.7, 0.12] },
        },
        {
          id: '5',
          name: 'Cutting',
          kind: 'technical',
          color: { space: 'cmyk', components: [0, 1, 0, 0] },
        },
      ],
    },
  ],
};

/** The same with surfaces: the first swatches of its groups are of brass, the others of painted boards. */
export const shiny: Library = {
  ...fleet,
  groups: fleet.groups.map((g) => ({
    ...g,
    swatches: g.swatches.map((s, i) => ({ ...s, role: i === 0 ? 'brass' : 'deck' })),
  })),
  items: [
    {
      id: 'surfaces',
      kind: SURFACES,
      name: '',
      data: { byRole: { brass: { roughness: 0.25, metalness: 1 }, deck: { roughness: 0.8, metalness: 0 } } },
    },
  ],
};

/** A library of groups and their swatches, each a name and a typed colour. */
export function libraryOf(name: string, groups: Record<string, [name: string, color: string][]>): Library {
  const newId = countingIds(`${name}-`);
  return {
    id: newId(),
    name,
    groups: Object.entries(groups).map(([group, swatches]) => ({
      id: newId(),
      name: group,
      swatches: swatches.map(([n, c]) => ({ id: newId(), name: n, kind: 'process', color: parseColor(c) })),
    })),
  };
}

/** Names that mean something in one format or another, or nearly fill what it has room for. */
const HOSTILE_NAMES = [
  ...['', ' ', '\t', '0', 'All', 'None', 'Cyan', 'NaN', 'null', '__proto__', 'constructor', '$value', '*'],
  ...[
    '19" stripe',
    "the captain's",
    `5' 4" tall`,
    "'quoted'",
    '"',
    "'",
    '=1+1',
    '@sum',
    '-2',
    '+cmd',
    ';',
    ',',
  ],
  ...[
    '</svg>',
    ']]>',
    '<!--',
    '&amp;',
    '&#0;',
    '*/',
    '//',
    '#',
    '# not',
    '%41',
    '\\',
    '\\U+0041',
    '{a.b}',
    'a.b',
    'a/b',
  ],
  ...[
    'a\nb',
    'a\r\nb',
    '\u0000',
    'a\u0001b',
    '\u2028',
    '\u00a0',
    '\ufeffx',
    '\ud800',
    '\udc00',
    '\ufffe',
    '\u202eabc',
  ],
  ...[
    'قارب الليل',
    '船の白',
    '🚢🦋',
    'e\u0301',
    'é',
    'HULL',
    'hull',
    'Hull',
    'x'.repeat(300),
    `${'x'.repeat(300)}1`,
  ],
  ...[
    'BEGIN_DATA',
    'END_DATA',
    'newmtl x',
    'GIMP Palette',
    '8BCB',
    '$$$/a=b',
    '^R',
    '24 hours',
    'ENDSEC',
    '1 2 3',
  ],
];
const HOSTILE_NUMBERS = [-200, 255, 2.5, -1e-9, 1e-12, 720, 1e6, 0.1 + 0.2, 100.0000001, -0.5, 1 / 3];

/** Libraries of everything that may stand in one and hardly ever does: odd names, extreme numbers, doubled groups, all kinds. */
export function hostileLibrary(most = 6): fc.Arbitrary<Library> {
  const name = fc.oneof(
    { weight: 3, arbitrary: fc.constantFrom(...HOSTILE_NAMES) },
    { weight: 1, arbitrary: anyName },
  );
  const color = fc.oneof(
    anyColor(),
    fc
      .constantFrom(...SPACES)
      .chain((space) =>
        fc
          .tuple(
            ...spaces[space].channels.map(() =>
              fc.oneof(fc.constantFrom(...HOSTILE_NUMBERS), fc.double({ min: 0, max: 1, noNaN: true })),
            ),
          )
          .map((components): Color => ({ space, components })),
      ),
  );
  const swatch = fc.record<Omit<Swatch, 'id'>>(
    {
      name,
      kind: fc.constantFrom('process', 'spot', 'technical'),
      color,
      code: name,
      role: name,
      note: name,
      global: fc.boolean(),
      alpha: fc.constantFrom(0, 1e-12, 0.5, 1),
      alternates: fc.array(color, { maxLength: 2 }),
      spectrum: fc.constantFrom(
        { start: 380, step: 10, values: [0, 0.5, 1] },
        { start: 400, step: 0.1, values: [1e-9, 2.5] },
      ),
      tint: fc.record({ of: name, percent: fc.constantFrom(0, 0.1, 50, 100) }),
      gap: fc.constantFrom(0, 1, 31),
    },
    { requiredKeys: ['name', 'kind', 'color'] },
  );
  const swatches = fc.array(swatch, { maxLength: most });
  return fc
    .record({
      name,
      note: name,
      loose: swatches,
      groups: fc.array(fc.record({ name: fc.oneof(name, fc.constant('Twice')), swatches }), { maxLength: 3 }),
    })
    .map(({ loose, groups, ...l }) => {
      const newId = countingIds();
      return {
        id: newId(),
        ...l,
        groups: [{ name: '', swatches: loose }, ...groups].map((g) => ({
          id: newId(),
          name: g.name,
          swatches: g.swatches.map((s) => ({ id: newId(), ...s })),
        })),
      };
    });
}

/** Numbers from 0 to below 1 that follow from a seed (a linear congruential generator, with the constants of Numerical Recipes). */
export function randomly(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}
