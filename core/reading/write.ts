import Papa from 'papaparse';
import { quoted } from '../formats/cgats/cgats.ts';
import { safe } from '../formats/csv/csv.ts';
import { factIds, type ReadingData } from '../swatch/reading.ts';
import { short, writeText } from '../text/text.ts';
import { writeCxf } from './cxf.ts';
import { figuresOf } from './figures.ts';
import { factKeyword } from './file.ts';

type Kept = Pick<ReadingData, 'ink' | 'facts'>;

/** All the wavelengths that any of them was measured at, nm. */
const wavelengthsOf = (readings: readonly Kept[]): number[] =>
  [
    ...new Set(
      readings.flatMap(({ ink }) =>
        ink.steps.flatMap(({ spectrum: { start, step, values } }) => values.map((_, i) => start + i * step)),
      ),
    ),
  ].sort((a, b) => a - b);

/** A measured ink as a table of ISO 28178, with what is known of it. @param now ISO 8601 */
export function writeCgats({ ink, facts }: Kept, now: string): Uint8Array<ArrayBuffer> {
  const words = factIds.flatMap((id) => {
    const [keyword, own] = factKeyword(id);
    const value = facts[id];
    return value ? [...(own ? [`KEYWORD\t"${keyword}"`] : []), `${keyword}\t${quoted(value)}`] : [];
  });
  // one table for each way of sampling: a row has all its columns
  const grids = new Map<string, typeof ink.steps>();
  for (const s of ink.steps) {
    const key = `${s.spectrum.start}/${s.spectrum.step}/${s.spectrum.values.length}`;
    grids.set(key, [...(grids.get(key) ?? []), s]);
  }
  const tables = [...grids.values()].map((steps) => {
    const { start, step, values } = steps[0]!.spectrum;
    const columns = [
      ...['SAMPLE_ID', 'SAMPLE_NAME', 'INK', 'TINT', 'SAMPLE_BACKING'],
      ...values.map((_, i) => `SPECTRAL_NM${short(start + i * step, 3)}`),
    ];
    const rows = steps.map((s, i) =>
      [
        i + 1,
        quoted(s.name),
        quoted(ink.name),
        short(s.percent, 6),
        s.backing,
        ...s.spectrum.values.map((v) => short(v, 9)),
      ].join('\t'),
    );
    return `NUMBER_OF_FIELDS\t${columns.length}\nBEGIN_DATA_FORMAT\n${columns.join('\t')}\nEND_DATA_FORMAT\nNUMBER_OF_SETS\t${rows.length}\nBEGIN_DATA\n${rows.join('\n')}\nEND_DATA\n`;
  });
  return writeText(
    `CGATS.17\nORIGINATOR\t"Papillon"\nDESCRIPTOR\t${quoted(ink.name)}\nCREATED\t"${facts.date || now}"\n${words.map((w) => `${w}\n`).join('')}${['INK', 'TINT', 'SAMPLE_BACKING'].map((k) => `KEYWORD\t"${k}"\n`).join('')}${tables.join('')}`,
  );
}

/** Measured inks as a table for spreadsheets: figures, then reflectance by wavelength. */
export function writeCsv(readings: readonly Kept[]): Uint8Array<ArrayBuffer> {
  const wavelengths = wavelengthsOf(readings);
  const head = [
    ...['Ink', 'Tint %', 'Backing', 'Name', 'L*', 'a*', 'b*', 'Tone value %', 'Density', 'Density at nm'],
    ...wavelengths.map((w) => `${short(w, 3)} nm`),
  ];
  const rows = readings.flatMap(({ ink }) =>
    figuresOf(ink).steps.map(({ step: { spectrum, ...step }, lab, toneValue, density }) => [
      ...[safe(ink.name), short(step.percent, 4), step.backing, safe(step.name)],
      ...lab.map((v) => v.toFixed(2)),
      toneValue === null ? '' : toneValue.toFixed(1),
      density.value.toFixed(3),
      density.band,
      // a wavelength that was not measured stays empty
      ...wavelengths.map((w) => {
        const value = spectrum.values[(w - spectrum.start) / spectrum.step];
        return value === undefined ? '' : short(value, 9);
      }),
    ]),
  );
  return writeText(`${Papa.unparse([head, ...rows], { newline: '\r\n' })}\r\n`);
}

/** A kind of file that a measured ink goes out as. */
export interface ReadingForm {
  id: 'cxf' | 'cgats' | 'csv';
  name: string;
  ending: string;
  mime: string;
  write(readings: readonly [Kept, ...Kept[]], now: string): Uint8Array<ArrayBuffer>;
}

/** What measured inks go out as. The report is made apart from these, with fonts. */
export const READING_FORMS: readonly ReadingForm[] = [
  { id: 'cxf', name: 'CxF/X-4', ending: 'cxf', mime: 'application/xml', write: (r, now) => writeCxf(r, now) },
  { id: 'cgats', name: 'CGATS', ending: 'txt', mime: 'text/plain', write: ([r], now) => writeCgats(r, now) },
  { id: 'csv', name: 'CSV', ending: 'csv', mime: 'text/csv', write: (r) => writeCsv(r) },
];
