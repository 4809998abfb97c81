import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inksOf, labOfSpectrum, metamerism, readMeasurements, solidOf } from '../../core/reading/index.ts';

// npm run bench -- reading: 2,000 spectra opened, brought to Lab and sorted by metamerism, beside Argyll's spec2cie where it is installed.

const COUNT = 2000;
const RUNS = 5;
const nms = Array.from({ length: 36 }, (_, i) => 380 + 10 * i);
const median = (of: number[]) => [...of].sort((a, b) => a - b)[of.length >> 1]!;

/** Smooth curves of an edge and a hill, none twice. */
const curve = (i: number) =>
  nms.map((nm) => {
    const edge = 0.05 + (0.7 * ((i * 37) % 97)) / 97 / (1 + Math.exp(-(nm - 420 - ((i * 13) % 240)) / 15));
    return edge + 0.15 * Math.exp(-(((nm - 400 - ((i * 29) % 300)) / 40) ** 2));
  });

export async function benchReading(): Promise<void> {
  const rows = Array.from({ length: COUNT }, (_, i) => curve(i));
  const table = (names: string[], head: string, device = '') =>
    `${head}\nNUMBER_OF_FIELDS ${names.length + 1}\nBEGIN_DATA_FORMAT\nSAMPLE_ID ${names.join(' ')}\nEND_DATA_FORMAT\nNUMBER_OF_SETS ${COUNT}\nBEGIN_DATA\n${rows
      .map((r, i) => `P${i + 1} ${device}${r.map((v) => v.toFixed(6)).join(' ')}`)
      .join('\n')}\nEND_DATA\n`;
  const bytes = new TextEncoder().encode(
    table(
      nms.map((n) => `SPECTRAL_NM${n}`),
      'CGATS.17',
    ),
  );
  const opened: number[] = [];
  const brought: number[] = [];
  const sorted: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    let start = performance.now();
    const { inks } = inksOf([await readMeasurements(bytes, 'many.txt')]);
    opened.push(performance.now() - start);
    const spectra = inks.map((ink) => solidOf(ink).spectrum);
    start = performance.now();
    for (const s of spectra) labOfSpectrum(s, 'D50', '2');
    brought.push(performance.now() - start);
    start = performance.now();
    const [first] = spectra;
    spectra.map((s) => metamerism(first!, s, 'D65', 'A')).sort((a, b) => b - a);
    sorted.push(performance.now() - start);
  }
  const line = (what: string, ms: number) => console.log(`${what.padEnd(44)}${ms.toFixed(0).padStart(8)} ms`);
  console.log(`${COUNT.toLocaleString('en')} spectra of 36 bands`);
  line('opened, as inks', median(opened));
  line('Lab of all, D50 and 2°', median(brought));
  line('sorted by metamerism, D65 to A', median(sorted));
  const folder = mkdtempSync(join(tmpdir(), 'papillon-spectra-'));
  try {
    const path = join(folder, 'many.ti3');
    writeFileSync(
      path,
      table(
        ['RGB_R', 'RGB_G', 'RGB_B', ...nms.map((n) => `SPEC_${n}`)],
        'CTI3\n\nDESCRIPTOR "x"\nDEVICE_CLASS "OUTPUT"\nCOLOR_REP "RGB_LAB"\nSPECTRAL_BANDS "36"\nSPECTRAL_START_NM "380"\nSPECTRAL_END_NM "730"',
        // it asks for a device's numbers, and does not use them
        '0 0 0 ',
      ),
    );
    const start = performance.now();
    execFileSync('spec2cie', ['-i', 'D50', '-o', '1931_2', path, join(folder, 'out.ti3')], { stdio: 'pipe' });
    line('opened and Lab of all, Argyll spec2cie', performance.now() - start);
  } catch (error) {
    const missing = (error as NodeJS.ErrnoException).code === 'ENOENT';
    console.log(
      missing ? 'Argyll is not installed (Debian: apt-get install argyll)' : String(error).slice(0, 300),
    );
  } finally {
    rmSync(folder, { recursive: true });
  }
}
