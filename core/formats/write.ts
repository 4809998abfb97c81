import { carried, convert, SHIPPED, SHIPPED_NAMES, type Space } from '../color/index.ts';
import { type OptionDeclaration, type Options, optionOf } from '../options.ts';
import type { Lent } from '../services.ts';
import type { Library, Swatch } from '../swatch/model.ts';
import type { Format } from './format.ts';

/** Spaces that all colours of a file can be asked for in. */
const SPACES_ASKED = [
  ['rgb', 'RGB'],
  ['cmyk', 'CMYK'],
  ['lab', 'Lab'],
] as const satisfies [Space, string][];

/** What can be chosen on writing a format: its own options, and those of all that hold such a thing. */
export function choicesFor(format: Format): OptionDeclaration[] {
  const { traits } = format;
  const held = SPACES_ASKED.filter(([space]) => traits.spaces.includes(space));
  // our own file keeps everything, whatever it is for
  if (format.id === 'papillon' || traits.gradientsOnly) return format.options ?? [];
  return [
    ...(format.options ?? []),
    ...(held.length > 1
      ? [
          {
            id: 'space',
            label: 'Colours',
            type: 'choice',
            values: [['', 'as they are'], ...held],
            initial: '',
          } as const,
        ]
      : []),
    ...(traits.spaces.includes('cmyk')
      ? [
          {
            id: 'inks',
            label: 'Inks for',
            type: 'choice',
            values: [
              ['', 'the library’s paper'],
              ...Object.values(SHIPPED).map((hash) => [hash, SHIPPED_NAMES[hash] ?? hash] as const),
            ],
            initial: '',
          } as const,
        ]
      : []),
    ...(traits.names
      ? [
          {
            id: 'naming',
            label: 'Called by',
            type: 'choice',
            values: [
              ['', 'name'],
              ['code', 'code'],
              ['both', 'code and name'],
            ],
            initial: '',
          } as const,
        ]
      : []),
  ];
}

/** What a swatch is called in a file; one without a code keeps its name. */
function called({ name, code }: Swatch, naming: string): string {
  if (!code || naming === '') return name;
  return naming === 'code' || name === '' ? code : `${code} ${name}`;
}

/**
 * Writes a library in a format as it is asked for: every colour in one space, under another print condition, called by name or
 * code. The one way that files are written.
 */
export async function writeAs(
  format: Format,
  library: Library,
  lent: Lent,
  options?: Options,
): Promise<Uint8Array<ArrayBuffer>> {
  const declared = { options: choicesFor(format) };
  const chosen = (id: string) =>
    declared.options.some((o) => o.id === id) ? String(optionOf(declared, options, id)) : '';
  const [space, naming, inks] = [chosen('space') as Space | '', chosen('naming'), chosen('inks')];
  const condition = inks && lent.under ? await lent.under(inks) : lent.condition;
  const own = condition === lent.condition ? lent : { ...lent, condition };
  if (!space && !naming) return format.encode(library, own, options);
  const asked = (swatch: Swatch): Swatch => ({
    ...swatch,
    name: called(swatch, naming),
    // what lies outside is brought inside, as everything that is written
    ...(space ? { color: carried(convert(swatch.color, space, condition), [space], condition) } : {}),
  });
  const groups = library.groups.map((g) => ({ ...g, swatches: g.swatches.map(asked) }));
  return format.encode({ ...library, groups }, own, options);
}
