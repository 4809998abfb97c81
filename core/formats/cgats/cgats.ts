import {
  adaptedXyz,
  type Color,
  carried,
  profileNamed,
  toLab,
  type White,
  whiteNamed,
  xyz50ToLab,
} from '../../color/index.ts';
import { spectrumToLab } from '../../spectral/index.ts';
import { allSwatches, type Spectrum, type Swatch } from '../../swatch/model.ts';
import { warnWithout } from '../cxf/cxf.ts';
import { type Draft, textDecoder } from '../draft.ts';
import { FormatError } from '../error.ts';
import type { PlainFormat } from '../format.ts';
import { linesOf, oneLine, plural, short, sniff, writeText } from '../text.ts';

/** The columns of values by space; the first space that is there is the swatch's own, the others its alternates. */
const VALUES: { space: Color['space']; fields: string[]; from(v: number[]): number[] }[] = [
  { space: 'lab', fields: ['LAB_L', 'LAB_A', 'LAB_B'], from: (v) => v },
  { space: 'lab', fields: ['XYZ_X', 'XYZ_Y', 'XYZ_Z'], from: (v) => xyz50ToLab(v.map((x) => x / 100)) },
  { space: 'cmyk', fields: ['CMYK_C', 'CMYK_M', 'CMYK_Y', 'CMYK_K'], from: (v) => v.map((x) => x / 100) },
  { space: 'rgb', fields: ['RGB_R', 'RGB_G', 'RGB_B'], from: (v) => v.map((x) => x / 255) },
];
const MOST_COLUMNS = 10_000;
/** As many as a swatch may keep. */
const MOST_WAVELENGTHS = 1000;
const SPECTRAL = /^(?:SPECTRAL_NM_?|SPECTRAL_|SPEC_|NM_?)(\d{3,4}(?:\.\d+)?)$/i;

/** Words of a line up to a remark, which begins with “#”; a quoted one may hold blanks, and quotes that are doubled. */
function wordsOf(line: string): string[] {
  const words: string[] = [];
  for (let at = 0; at < line.length; ) {
    const c = line[at];
    if (c === '#') break;
    if (/\s/.test(c)) at++;
    else if (c === '"') {
      let end = line.indexOf('"', at + 1);
      while (end >= 0 && line[end + 1] === '"') end = line.indexOf('"', end + 2);
      // a quote that is never closed is no quote
      if (end < 0) at++;
      else {
        words.push(line.slice(at + 1, end).replaceAll('""', '"'));
        at = end + 1;
      }
    } else {
      const rest = WORD.exec(line.slice(at, at + LONGEST_WORD))?.[0] ?? c;
      words.push(rest);
      at += rest.length;
    }
  }
  return words;
}
const WORD = /^[^\s"#]+/;
const LONGEST_WORD = 10_000;

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
    let fields: string[] | null = null;
    let format: string[] = [];
    let inFormat = false;
    let inData = false;
    let promised: number | null = null;
    let sets = 0;
    const without: string[] = [];
    let read: ((words: string[], line: number) => Omit<Swatch, 'id'> | null) | null = null;
    const stated = { illuminant: 'D50', observer: '2' };
    let n = 0;
    for (const line of linesOf(text)) {
      n++;
      const words = wordsOf(line);
      if (words.length === 0) continue;
      const [key, value] = words;
      if (key === 'BEGIN_DATA_FORMAT') [inFormat, format] = [true, []];
      else if (key === 'END_DATA_FORMAT') [inFormat, fields] = [false, format.map((f) => f.toUpperCase())];
      else if (inFormat) {
        format = [...format, ...words];
        if (format.length > MOST_COLUMNS)
          throw new FormatError(`its format names more than ${MOST_COLUMNS} columns; no table has so many.`);
      } else if (key === 'NUMBER_OF_SETS') promised = Number(value);
      else if (key === 'WEIGHTING_FUNCTION') {
        const [what, which] = (value ?? '').split(',').map((w) => w.trim());
        if (/^illuminant/i.test(what ?? '')) stated.illuminant = which ?? '';
        if (/^observer/i.test(what ?? '')) stated.observer = which ?? '';
      } else if (key === 'ILLUMINATION_NAME') stated.illuminant = value ?? '';
      else if (key === 'OBSERVER_ANGLE') stated.observer = value ?? '';
      else if (key === 'PRINT_CONDITIONS') draft.inks ??= profileNamed(words.slice(1).join(' '));
      else if (key === 'DESCRIPTOR') {
        draft.inks ??= profileNamed(value ?? '');
        if (draft.name === '') draft.name = value ?? '';
      } else if (key === 'BEGIN_DATA') {
        inData = true;
        if (!fields)
          throw new FormatError(`line ${n}: data begin, but no BEGIN_DATA_FORMAT said what they are.`);
        read = setReader(fields, statedWhite(stated, draft));
      } else if (key === 'END_DATA') inData = false;
      else if (inData && fields && read) {
        if (words.length !== fields.length)
          throw new FormatError(
            `line ${n} has ${plural(words.length, 'value')}, but the format names ${fields.length}. It is damaged; get it again from where it was made.`,
          );
        sets++;
        const swatch = read(words, n);
        if (swatch) draft.add(swatch);
        else without.push(words[0]);
      }
    }
    if (!fields)
      throw new FormatError('it has no BEGIN_DATA_FORMAT … END_DATA_FORMAT that says what its columns are.');
    if (promised !== null && sets < promised)
      throw new FormatError(
        `it promises ${plural(promised, 'set')} of values, but has ${sets}. It is cut short; get it again from where it was made.`,
      );
    warnWithout(without, draft);
  }),

  encode(library, { condition }) {
    const swatches = allSwatches(library);
    // a table has the same columns for all: the space all share, else Lab
    const shared = VALUES.find((v) => swatches.every((s) => s.color.space === v.space)) ?? VALUES[0];
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
    const quoted = (text: string) => `"${oneLine(text).replaceAll('"', '""')}"`;
    const numbers = ({ color }: Swatch) => {
      if (shared.space === 'cmyk') return color.components.map((v) => short(v * 100, 10));
      if (shared.space === 'rgb')
        return carried(color, ['rgb'], condition).components.map((v) => short(v * 255, 10));
      return (stated ? color.components : toLab(color, condition)).map((v) => short(v, 10));
    };
    const rows = swatches.map((s, i) =>
      [i + 1, quoted(s.name), ...numbers(s), ...(wavelengths.length > 0 ? s.spectrum!.values : [])].join(
        '\t',
      ),
    );
    return writeText(
      `CGATS.17\nORIGINATOR\t"Papillon"\nDESCRIPTOR\t${quoted(library.name)}\n${weighting(stated ?? 'D50/2')}NUMBER_OF_FIELDS\t${fields.length}\nBEGIN_DATA_FORMAT\n${fields.join('\t')}\nEND_DATA_FORMAT\nNUMBER_OF_SETS\t${rows.length}\nBEGIN_DATA\n${rows.map((r) => `${r}\n`).join('')}END_DATA\n`,
    );
  },
};

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
  const values: { space: Color['space']; at: number[]; from(v: number[]): number[] }[] = [];
  for (const { space, fields: wanted, from } of VALUES) {
    const at = wanted.map((f) => fields.indexOf(f));
    if (at.every((i) => i >= 0) && !values.some((v) => v.space === space)) values.push({ space, at, from });
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
        throw new FormatError(`line ${line}: ${fields[i]} “${words[i].slice(0, 40)}” is no number.`);
      return value;
    };
    const colors: Color[] = values.map(({ space, at, from }) => {
      if (space !== 'lab' || !white) return { space, components: from(at.map(number)) };
      // XYZ is brought to D50 by itself; Lab keeps its numbers, and what they are for
      return fields[at[0]] === 'XYZ_X'
        ? {
            space,
            components: xyz50ToLab(
              adaptedXyz(
                at.map((i) => number(i) / 100),
                white,
              ),
            ),
          }
        : { space, components: at.map(number), white };
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
function spectralColumns(fields: string[]): SpectralColumns | null {
  const found = fields.flatMap((f, i) => {
    const match = SPECTRAL.exec(f);
    return match ? [{ wavelength: Number(match[1]), i }] : [];
  });
  if (found.length < 2 || found.length > MOST_WAVELENGTHS) return null;
  const start = found[0].wavelength;
  const step = found[1].wavelength - start;
  if (step <= 0 || found.some((a, k) => a.wavelength !== start + k * step)) return null;
  return { start, step, at: found.map((f) => f.i) };
}

/** Values of more than 2 are percentages. */
function readSpectrum({ start, step, at }: SpectralColumns, number: (i: number) => number): Spectrum {
  const values = at.map(number);
  const scale = Math.max(...values) > 2 ? 100 : 1;
  return { start, step, values: values.map((v) => v / scale) };
}
