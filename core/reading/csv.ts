import { readRows } from '../formats/csv/csv.ts';

/** A table of measurements in the words that tables of ISO 28178 have. */
export interface SpectralTable {
  columns: string[];
  rows: { words: string[]; line: number }[];
}

/** “380”, “380 nm”, “R380”, “nm_380.0”. */
const WAVELENGTH = /^(?:r|nm|spec|spectral_nm|λ)?[\s_-]*(\d{3}(?:[.,]\d+)?)\s*(?:nm)?$/i;
const [FIRST_NM, LAST_NM] = [300, 900];

function wavelengthIn(cell: string): number | null {
  const value = Number(WAVELENGTH.exec(cell.trim())?.[1]?.replace(',', '.') ?? Number.NaN);
  return value >= FIRST_NM && value <= LAST_NM ? value : null;
}

/** Headings as people write them, for the columns of ISO 28178. */
const HEADINGS: [column: string, words: RegExp][] = [
  ['SAMPLE_NAME', /^(?:name|sample(?:[ _]name)?|patch|label|id)$/i],
  ['INK', /^(?:ink|ink[ _]name|colou?rant|spot)$/i],
  ['TINT', /^(?:tint|percent|%|tint ?%|dot|tone)$/i],
  ['SAMPLE_BACKING', /^(?:backing|over|background)$/i],
];

const headingOf = (cell: string) =>
  HEADINGS.find(([, words]) => words.test(cell.trim()))?.[0] ?? cell.trim().toUpperCase();

/** At least this many wavelengths make a spectrum of a row of numbers. */
const MIN_BANDS = 5;

/** Spectra in a CSV, a row or a column each; null for one that holds something else. */
export function csvTable(text: string): SpectralTable | null {
  const { rows } = readRows(text);
  const head = rows.findIndex(
    ({ cells }) => cells.filter((c) => wavelengthIn(c) !== null).length >= MIN_BANDS,
  );
  if (head >= 0) {
    const { cells } = rows[head]!;
    return {
      columns: cells.map((c) => {
        const nm = wavelengthIn(c);
        return nm === null ? headingOf(c) : `SPECTRAL_NM${nm}`;
      }),
      rows: rows.slice(head + 1).map((r) => ({ words: r.cells.map((c) => c.trim()), line: r.number })),
    };
  }
  // a wavelength in each row, and a patch in each column
  const first = rows.findIndex(({ cells }) => wavelengthIn(cells[0] ?? '') !== null);
  const bands =
    first < 0 ? [] : rows.slice(first).filter(({ cells }) => wavelengthIn(cells[0] ?? '') !== null);
  if (bands.length < MIN_BANDS) return null;
  const names = rows[first - 1]?.cells ?? [];
  return {
    columns: ['SAMPLE_NAME', ...bands.map((b) => `SPECTRAL_NM${wavelengthIn(b.cells[0]!)}`)],
    rows: bands[0]!.cells.slice(1).map((_, i) => ({
      words: [names[i + 1]?.trim() || `column ${i + 2}`, ...bands.map((b) => (b.cells[i + 1] ?? '').trim())],
      line: bands[0]!.number,
    })),
  };
}
