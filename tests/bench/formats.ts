// Reading and writing 100,000 swatches in every format, and how time grows with them

import aseUtils from 'ase-utils';
import { XMLParser } from 'fast-xml-parser';
import { loadFont } from '../../cli/typesetting.ts';
import { fromRgb8 } from '../../core/color/index.ts';
import {
  changes,
  type Format,
  formatById,
  formats,
  openSwatchFile,
  prepareFormats,
  recognise,
} from '../../core/formats/index.ts';
import { countingIds, countSwatches, type Library } from '../../core/swatch/model.ts';

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

const time = <T>(run: () => T): [ms: number, result: T] => {
  const start = performance.now();
  const result = run();
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

/** One format at every size: read (recognised and opened) and written, and the memory it took. */
export async function measure(format: Format) {
  await prepareFormats(loadFont, [format]);
  const rows: { n: number; mb: number; readMs: number; writeMs: number }[] = [];
  let other: [string, number] | null = null;
  for (const size of SIZES) {
    const most = Math.min(size, format.traits.most ?? size, format.id === 'pdf' ? 2000 : size);
    const library = many(most);
    const [writeMs, bytes] = time(() => format.encode(library));
    const [readMs, read] = format.traits.read
      ? time(() => openSwatchFile(bytes, 'many', countingIds(), recognise(bytes) ?? undefined).library)
      : time(() => format.decode(bytes, countingIds()).library);
    if (countSwatches(read) !== most)
      throw new Error(`${format.id}: ${countSwatches(read)} of ${most} came back`);
    if (size === SIZES.at(-1)) {
      changes(library, format);
      const second = others[format.id];
      // ase-utils loses its way after the end of a group, so it gets the same swatches in none
      const flat = {
        ...library,
        groups: [{ id: 'g', name: '', swatches: library.groups.flatMap((g) => g.swatches) }],
      };
      const given = format.id === 'ase' ? format.encode(flat) : bytes;
      if (second) other = [second[0], time(() => second[1](given))[0]];
    }
    rows.push({ n: most, mb: bytes.length / 1e6, readMs, writeMs });
  }
  return { rows, other };
}

export async function benchFormats(): Promise<void> {
  const [id] = process.argv.slice(3);
  if (id) {
    // one format in a process of its own, so that the memory is its own
    const { rows, other } = await measure(formatById(id));
    const [half, whole] = rows.slice(-2);
    const growth = whole.n > half.n ? ((whole.readMs / half.readMs) * half.n) / whole.n : Number.NaN;
    const rate = (ms: number) => `${(whole.mb / (ms / 1000)).toFixed(1)} / ${Math.round(whole.n / ms)}k`;
    console.log(
      [
        id,
        whole.n.toLocaleString('en'),
        whole.mb.toFixed(1),
        rate(whole.readMs),
        rate(whole.writeMs),
        Number.isNaN(growth) ? '—' : growth.toFixed(2),
        `${Math.round(process.resourceUsage().maxRSS / 1000)}`,
        other ? `${other[0]} ${(whole.mb / (other[1] / 1000)).toFixed(1)}` : '',
      ]
        .map((cell, i) => (i === 0 ? cell.padEnd(12) : cell.padStart(i === 7 ? 24 : 15)))
        .join(''),
    );
    return;
  }
  const { execFileSync } = await import('node:child_process');
  console.log(
    '\nFormats. MB/s and thousand swatches a second; growth: time per swatch at the full size over that at half (1 is linear); peak memory of the process in MB, the program itself included; another reader of the same bytes in MB/s',
  );
  console.log(
    ['format', 'swatches', 'MB', 'read', 'write', 'growth', 'peak MB', 'other reader']
      .map((cell, i) => (i === 0 ? cell.padEnd(12) : cell.padStart(i === 7 ? 24 : 15)))
      .join(''),
  );
  for (const { id: each } of formats)
    execFileSync(process.execPath, ['--import', 'tsx', 'tests/bench/bench.ts', 'formats', each], {
      stdio: 'inherit',
    });
}
