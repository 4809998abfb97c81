import {
  adaptedXyz,
  type Color,
  carried,
  profileNamed,
  toLab,
  type White,
  whiteNamed,
  xyYToXyz,
  xyz50ToLab,
} from '../../color/index.ts';
import { spectrumToLab } from '../../spectral/index.ts';
import { allSwatches, type Spectrum, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { oneLine, plural, short, sniff, writeText } from '../../text/text.ts';
import { warnWithout } from '../cxf/cxf.ts';
import { type Draft, textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { readTable } from './table.ts';

/** The columns of values by space; the first space that is there is the swatch's own, the others its alternates. */
const VALUES: {
  space: Color['space'];
  fields: string[];
  from(v: number[]): number[];
  /** XYZ (Y of white is 1) of the numbers, which the table's white then makes Lab. */
  xyz?(v: number[]): number[];
}[] = [
  { space: 'lab', fields: ['LAB_L', 'LAB_A', 'LAB_B'], from: (v) => v },
  { space: 'lch', fields: ['LAB_L', 'LAB_C', 'LAB_H'], from: (v) => v },
  { space: 'lch', fields: ['LCH_L', 'LCH_C', 'LCH_H'], from: (v) => v },
  {
    space: 'lab',
    fields: ['XYZ_X', 'XYZ_Y', 'XYZ_Z'],
    from: (v) => xyz50ToLab(v.map((x) => x / 100)),
    xyz: (v) => v.map((x) => x / 100),
  },
  {
    space: 'lab',
    fields: ['XYY_X', 'XYY_Y', 'XYY_CAPY'],
    from: (v) => xyz50ToLab(xyYToXyz(v)),
    xyz: xyYToXyz,
  },
  { space: 'cmyk', fields: ['CMYK_C', 'CMYK_M', 'CMYK_Y', 'CMYK_K'], from: (v) => v.map((x) => x / 100) },
  // what 1 is, all rows together tell
  { space: 'rgb', fields: ['RGB_R', 'RGB_G', 'RGB_B'], from: (v) => v },
];
/** One for each space that is written. */
const WRITTEN = VALUES.filter((v) => !v.xyz && v.space !== 'lch');
/** As many as a swatch may keep. */
const MAX_WAVELENGTHS = 1000;
const SPECTRAL = /^(?:SPECTRAL_NM_?|SPECTRAL_|SPEC_|NM_?)(\d{3,4}(?:\.\d+)?)$/i;

export const cgats: PlainFormat = {
  id: 'cgats',
  name: 'CGATS',
  about: 'Text table of colour measurement (ISO 28178). Keeps names, Lab or device values, spectra.',
  endings: ['txt', 'cgats', 'it8'],
  mime: 'text/plain',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: false,
    kinds: [],
    spaces: ['lab', 'cmyk', 'rgb'],
    oneSpace: true,
    bits: 64,
  },

  recognise(bytes) {
    const text = sniff(bytes, 65536);
    return text && /^[ \t]*BEGIN_DATA_FORMAT\b/m.test(text) ? 1 : 0;
  },

  decode: textDecoder((text, draft) => {
    let columns: string[] = [];
    let promised: number | null = null;
    let sets = 0;
    const without: string[] = [];
    let read: ReturnType<typeof setReader> | null = null;
    const rgbs: Color[] = [];
    let own = false;
    const stated = { illuminant: 'D50', observer: '2' };
    const take = (words: string[], line: number, reader: NonNullable<typeof read>) => {
      sets++;
      draft.attempt(() => {
        if (words.length !== columns.length)
          throw new FormatError(
            `line ${line} has ${plural(words.length, 'value')}, but the format names ${columns.length}. It is damaged; get it again from where it was made.`,
          );
        const swatch = reader(words, line);
        if (!swatch) without.push(words[0]!);
        else {
          rgbs.push(...[swatch.color, ...(swatch.alternates ?? [])].filter((c) => c.space === 'rgb'));
          draft.add(swatch);
        }
      });
    };
    for (const part of readTable(text)) {
      if (part.kind === 'columns') [columns, read] = [part.columns, null];
      else if (part.kind === 'set') {
        // what the head says of the numbers is all known now
        read ??= setReader(columns, statedWhite(stated, draft));
        take(part.words, part.line, read);
      } else {
        const { key, words } = part;
        const [value] = words;
        if (key === 'ORIGINATOR') own = value === 'Papillon';
        else if (key === 'NUMBER_OF_SETS') promised = Number(value);
        else if (key === 'WEIGHTING_FUNCTION') {
          const [what, which] = (value ?? '').split(',').map((w) => w.trim());
          if (/^illuminant/i.test(what ?? '')) stated.illuminant = which ?? '';
          if (/^observer/i.test(what ?? '')) stated.observer = which ?? '';
        } else if (key === 'ILLUMINATION_NAME') stated.illuminant = value ?? '';
        else if (key === 'OBSERVER_ANGLE') stated.observer = value ?? '';
        else if (key === 'PRINT_CONDITIONS') draft.inks ??= profileNamed(words.join(' '));
        else if (key === 'DESCRIPTOR') {
          draft.inks ??= profileNamed(value ?? '');
          if (draft.name === '') draft.name = value ?? '';
        }
      }
    }
    if (promised !== null && sets < promised)
      throw new FormatError(
        `it promises ${plural(promised, 'set')} of values, but has ${sets}. It is cut short; get it again from where it was made.`,
      );
    settleRgb(rgbs, own, draft);
    warnWithout(without, draft);
  }),

  encode(library, { condition, now }) {
    const swatches = allSwatches(library);
    // a table has the same columns for all: the space all share, else Lab
    const shared = WRITTEN.find((v) => swatches.every((s) => s.color.space === v.space)) ?? WRITTEN[0];
    const grid = swatches[0]?.spectrum;
    const spectral = (s: Swatch) =>
      s.spectrum?.start === grid?.start &&
      s.spectrum?.step === grid?.step &&
      s.spectrum?.values.length === grid?.values.length;
    const wavelengths =
      grid && swatches.every(spectral) ? grid.values.map((_, i) => grid.start + i * grid.step) : [];
    const fields = [
      'SAMPLE_ID',
      'SAMPLE_NAME',
      ...shared.fields,
      ...wavelengths.map((w) => `SPECTRAL_NM${w}`),
    ];
    // Lab that is all for one other white goes as it is, and says so
    const white = shared.space === 'lab' ? swatches[0]?.color.white : undefined;
    const stated =
      white && swatches.every((s) => s.color.space === 'lab' && s.color.white === white) ? white : null;
    const numbers = ({ color }: Swatch) => {
      if (shared.space === 'cmyk')
        return carried(color, ['cmyk'], condition).components.map((v) => short(v * 100, 10));
      if (shared.space === 'rgb')
        return carried(color, ['rgb'], condition).components.map((v) => short(v * 255, 10));
      const lab = stated
        ? color
        : carried({ space: 'lab', components: toLab(color, condition) }, ['lab'], condition);
      return lab.components.map((v) => short(v, 10));
    };
    const rows = swatches.map((s, i) =>
      [i + 1, quoted(s.name), ...numbers(s), ...(wavelengths.length > 0 ? s.spectrum!.values : [])].join(
        '\t',
      ),
    );
    return writeText(
      `CGATS.17\nORIGINATOR\t"Papillon"\nDESCRIPTOR\t${quoted(library.name)}\n${weighting(stated ?? 'D50/2')}${now ? `CREATED\t"${now}"\n` : ''}NUMBER_OF_FIELDS\t${fields.length}\nBEGIN_DATA_FORMAT\n${fields.join('\t')}\nEND_DATA_FORMAT\nNUMBER_OF_SETS\t${rows.length}\nBEGIN_DATA\n${rows.map((r) => `${r}\n`).join('')}END_DATA\n`,
    );
  },
};

/** RGB up to 255, or up to 100 or 1 as some have it: a table whose numbers go no further, and have fractions or end there. */
function settleRgb(rgbs: Color[], own: boolean, draft: Draft): void {
  const most = rgbs.reduce((m, c) => Math.max(m, ...c.components), 0);
  const broken = rgbs.some((c) => c.components.some((v) => !Number.isInteger(v)));
  const max =
    own || most > 100 ? 255 : most <= 1 && (broken || most === 1) ? 1 : most === 100 || broken ? 100 : 255;
  for (const color of rgbs) color.components = color.components.map((v) => v / max);
  if (max !== 255 && rgbs.length > 0) draft.warn(`Its RGB goes up to ${max}, and was read so.`);
}

/** A text in the quotes that are not in it: tables have no way to write both kinds, and readers refuse doubled ones. */
export function quoted(text: string): string {
  const plain = oneLine(text).replaceAll('\t', ' ');
  if (!plain.includes('"')) return `"${plain}"`;
  return plain.includes("'") ? `"${plain.replaceAll('"', '”')}"` : `'${plain}'`;
}

/** What Lab is for, as the keywords of ISO 28178 say it. */
function weighting(white: string): string {
  const [illuminant, observer] = white.split('/');
  return `WEIGHTING_FUNCTION\t"ILLUMINANT, ${illuminant}"\nWEIGHTING_FUNCTION\t"OBSERVER, ${observer} degree"\n`;
}

/** Finds the columns once, for all sets of a table. */
function setReader(
  fields: string[],
  white: White | undefined,
): (words: string[], line: number) => Omit<Swatch, 'id'> | null {
  const values: (Pick<(typeof VALUES)[number], 'space' | 'from' | 'xyz'> & { at: number[] })[] = [];
  for (const { space, fields: wanted, ...how } of VALUES) {
    const at = wanted.map((f) => fields.indexOf(f));
    const known = values.some((v) => v.space === space || (v.space === 'lab' && space === 'lch'));
    if (at.every((i) => i >= 0) && !known) values.push({ space, at, ...how });
  }
  const spectral = spectralColumns(fields);
  const name =
    ['SAMPLE_NAME', 'NAME', 'SAMPLE_LOC', 'SAMPLE_ID', 'SAMPLEID']
      .map((f) => fields.indexOf(f))
      .find((i) => i >= 0) ?? -1;
  return (words, line) => {
    const number = (i: number) => {
      const value = Number(words[i].replace(',', '.'));
      if (!Number.isFinite(value) || words[i] === '')
        throw new FormatError(`line ${line}: ${fields[i]} “${words[i].slice(0, 40)}” is not a number.`);
      return value;
    };
    const colors: Color[] = values.map(({ space, at, from, xyz }) => {
      const numbers = at.map(number);
      if ((space !== 'lab' && space !== 'lch') || !white) return { space, components: from(numbers) };
      // XYZ is brought to D50 by itself; Lab keeps its numbers, and what they are for
      return xyz
        ? { space, components: xyz50ToLab(adaptedXyz(xyz(numbers), white)) }
        : { space, components: from(numbers), white };
    });
    const spectrum = spectral && readSpectrum(spectral, number);
    if (spectrum && !colors.some((c) => c.space === 'lab'))
      colors.unshift({ space: 'lab', components: spectrumToLab(spectrum) });
    const [color, ...alternates] = colors;
    if (!color) return null;
    return {
      name: words[name] ?? '',
      kind: 'process',
      color,
      ...(alternates.length > 0 ? { alternates } : {}),
      ...(spectrum ? { spectrum } : {}),
    };
  };
}

/** What the file says its Lab is for. */
function statedWhite(
  { illuminant, observer }: { illuminant: string; observer: string },
  draft: Draft,
): White | undefined {
  const white = whiteNamed(illuminant, observer);
  if (white === null)
    draft.warn(
      `Its Lab is for illuminant “${illuminant.slice(0, 40)}” and observer “${observer.slice(0, 40)}”, which Papillon does not know; it was taken for D50 and 2°.`,
    );
  else if (white) draft.warn(`Its Lab is for ${white}°, and is adapted to D50 and 2° where it is shown.`);
  return white ?? undefined;
}

interface SpectralColumns {
  start: number;
  step: number;
  at: number[];
}

/** The spectral columns when they are evenly spaced. */
export function spectralColumns(fields: string[]): SpectralColumns | null {
  const found = fields.flatMap((f, i) => {
    const match = SPECTRAL.exec(f);
    return match ? [{ wavelength: Number(match[1]), i }] : [];
  });
  if (found.length < 2 || found.length > MAX_WAVELENGTHS) return null;
  const start = found[0].wavelength;
  const step = found[1].wavelength - start;
  if (step <= 0 || found.some((a, k) => a.wavelength !== start + k * step)) return null;
  return { start, step, at: found.map((f) => f.i) };
}

/** Values of more than 2 are percentages. */
export function readSpectrum({ start, step, at }: SpectralColumns, number: (i: number) => number): Spectrum {
  const values = at.map(number);
  const scale = Math.max(...values) > 2 ? 100 : 1;
  return { start, step, values: values.map((v) => v / scale) };
}
