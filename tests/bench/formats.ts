// Reading and writing 100,000 swatches in every format, and how time grows with them

import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import aseUtils from 'ase-utils';
import { XMLParser } from 'fast-xml-parser';
import { lentHere } from '../../cli/engine.ts';
import { fromRgb8 } from '../../core/color/index.ts';
import { ase } from '../../core/formats/ase/ase.ts';
import { changes, type Format, formatById, formats, openSwatchFile } from '../../core/formats/index.ts';
import { countingIds, countSwatches, type Library } from '../../core/swatch/model.ts';

const lent = await lentHere();

const SIZES = [25_000, 50_000, 100_000];

/** An invented library of so many different colours in groups of a thousand. */
function many(n: number): Library {
  const newId = countingIds();
  const groups = Array.from({ length: Math.ceil(n / 1000) }, (_, g) => ({
    id: newId(),
    name: `Group ${g + 1}`,
    swatches: Array.from({ length: Math.min(1000, n - g * 1000) }, (_, i) => ({
      id: newId(),
      name: `Swatch ${g * 1000 + i + 1}`,
      kind: 'process' as const,
      color: fromRgb8((i * 7) & 255, (g * 11) & 255, (i * 13 + g) & 255),
    })),
  }));
  return { id: newId(), name: 'Many', groups };
}

const time = async <T>(run: () => T | Promise<T>): Promise<[ms: number, result: T]> => {
  const start = performance.now();
  const result = await run();
  return [performance.now() - start, result];
};

/** Other people's readers of the same bytes, for scale; they build no library and check less. */
const others: Record<string, [name: string, read: (bytes: Uint8Array) => unknown]> = {
  ase: ['ase-utils', (bytes) => aseUtils.decode(Buffer.from(bytes))],
  soc: [
    'fast-xml-parser',
    (bytes) => new XMLParser({ ignoreAttributes: false }).parse(Buffer.from(bytes).toString()),
  ],
  cxf: [
    'fast-xml-parser',
    (bytes) => new XMLParser({ ignoreAttributes: false }).parse(Buffer.from(bytes).toString()),
  ],
  papillon: ['JSON.parse', (bytes) => JSON.parse(Buffer.from(bytes).toString())],
  tokens: ['JSON.parse', (bytes) => JSON.parse(Buffer.from(bytes).toString())],
};

interface Measured {
  n: number;
  mb: number;
  ms: number;
}

/** In a process of its own: writes the file at every size. */
async function writeAll(format: Format, folder: string): Promise<Measured[]> {
  const measured: Measured[] = [];
  for (const size of SIZES) {
    const n = Math.min(size, format.traits.most ?? size, format.id === 'pdf' ? size / 50 : size);
    const [ms, bytes] = await time(() => format.encode(many(n), lent));
    writeFileSync(join(folder, String(size)), bytes);
    measured.push({ n, mb: bytes.length / 1e6, ms });
  }
  return measured;
}

/** In a process of its own: recognises and opens the file at every size. */
async function readAll(format: Format, folder: string): Promise<Measured[]> {
  const measured: Measured[] = [];
  for (const size of SIZES) {
    const bytes = readFileSync(join(folder, String(size)));
    const [ms, library] = await time(async () =>
      format.traits.read
        ? (await openSwatchFile(bytes, 'many', countingIds())).library
        : (await format.decode(bytes, countingIds())).library,
    );
    measured.push({ n: countSwatches(library), mb: bytes.length / 1e6, ms });
  }
  return measured;
}

/** In a process of its own: opens the largest file, finds what changes on the way to ASE, and writes that. */
async function convertLargest(folder: string): Promise<number> {
  const { library } = await openSwatchFile(
    readFileSync(join(folder, String(SIZES.at(-1)))),
    'many',
    countingIds(),
  );
  await changes(library, ase, lent);
  ase.encode(library, lent);
  return process.resourceUsage().maxRSS / 1000;
}

/** Someone else's reader of the largest file, in MB/s. */
async function readByOther(format: Format, folder: string): Promise<string> {
  const other = others[format.id];
  if (!other) return '';
  let bytes: Uint8Array = readFileSync(join(folder, String(SIZES.at(-1))));
  if (format.id === 'ase') {
    // ase-utils loses its way after the end of a group, so it gets the same swatches in none
    const library = many(SIZES.at(-1)!);
    const swatches = library.groups.flatMap((g) => g.swatches);
    bytes = ase.encode({ ...library, groups: [{ id: 'g', name: '', swatches }] }, lent);
  }
  const [ms] = await time(() => other[1](bytes));
  return `${other[0]} ${(bytes.length / 1e3 / ms).toFixed(1)}`;
}

const COLUMNS = ['swatches', 'MB', 'read', 'write', 'growth', 'peak MB', 'other reader'];
const row = (cells: string[]) =>
  console.log(
    cells.map((cell, i) => (i === 0 ? cell.padEnd(12) : cell.padStart(i === 7 ? 22 : 15))).join(''),
  );

export async function benchFormats(task?: string, id = '', folder = ''): Promise<void> {
  if (task) {
    const format = formatById(id);
    const result =
      task === 'write'
        ? await writeAll(format, folder)
        : task === 'read'
          ? await readAll(format, folder)
          : task === 'convert'
            ? await convertLargest(folder)
            : await readByOther(format, folder);
    console.log(JSON.stringify(result));
    return;
  }
  console.log(
    '\nFormats at full size. read, write: MB/s and thousand swatches a second; growth: time per swatch at full size over that at half, 1 is linear; peak: memory in MB of a process that opens the file, finds what changes on the way to ASE and writes that; other reader: of the same bytes, in MB/s',
  );
  row(['format', ...COLUMNS]);
  for (const format of formats) {
    const own = mkdtempSync(join(tmpdir(), 'papillon-bench-'));
    const run = (name: string) =>
      JSON.parse(
        execFileSync(
          process.execPath,
          ['--import', 'tsx', 'tests/bench/bench.ts', 'formats', name, format.id, own],
          { encoding: 'utf8' },
        ),
      );
    const written: Measured[] = run('write');
    const read: Measured[] = run('read');
    const peak = format.traits.read ? String(Math.round(run('convert'))) : '—';
    const [half, whole] = read.slice(-2);
    if (read.some((r, i) => r.n !== written[i].n)) throw new Error(`${format.id}: not all came back`);
    const rate = ({ mb, n, ms }: Measured) => `${((mb / ms) * 1000).toFixed(1)} / ${Math.round(n / ms)}k`;
    row([
      format.id,
      whole.n.toLocaleString('en'),
      whole.mb.toFixed(1),
      rate(whole),
      rate(written.at(-1)!),
      whole.n > half.n ? (whole.ms / whole.n / (half.ms / half.n)).toFixed(2) : '—',
      peak,
      run('other'),
    ]);
    rmSync(own, { recursive: true });
  }
}
