// One format with 100,000 swatches, in a process of its own: written, read, converted, or read by someone else

import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { defineConfig, parse as parseTokens } from '@terrazzo/parser';
import Ajv from 'ajv';
import aseUtils from 'ase-utils';
import { parse as parseColor } from 'culori';
import DxfParser from 'dxf-parser';
import exceljs from 'exceljs';
import { XMLParser } from 'fast-xml-parser';
import { unzipSync } from 'fflate';
import Papa from 'papaparse';
import postcss, { type Root } from 'postcss';
import { parse as parseScss } from 'postcss-scss';
import { read as readWorkbook } from 'xlsx';
import { localServices } from '../../cli/engine.ts';
import { fromRgb8 } from '../../core/color/index.ts';
import { ase } from '../../core/formats/ase/ase.ts';
import { changes, type Format, formatById, openSwatchFile, type Services } from '../../core/formats/index.ts';
import { countingIds, countSwatches, type Library } from '../../core/swatch/model.ts';

let services: Services;

const SIZES = [25_000, 50_000, 100_000];

/** An invented library of a number of different colours in groups of a thousand. */
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

/** The quickest of some runs, within two seconds: what the machine does besides only ever adds to a time. */
const time = async <T>(run: () => T | Promise<T>): Promise<[ms: number, result: T]> => {
  let quickest = Number.POSITIVE_INFINITY;
  const begun = performance.now();
  for (let n = 1; ; n++) {
    const start = performance.now();
    const result = await run();
    const end = performance.now();
    quickest = Math.min(quickest, end - start);
    if (n === 5 || end - begun > 2000) return [quickest, result];
  }
};

const textOf = (bytes: Uint8Array) => Buffer.from(bytes).toString();
const byXml = (bytes: Uint8Array) => new XMLParser({ ignoreAttributes: false }).parse(textOf(bytes));

const byZippedXml = (bytes: Uint8Array) => Object.values(unzipSync(bytes)).map(byXml);

/** Other people's readers of the same bytes; they build no library and check less. */
const others: Record<string, [name: string, read: (bytes: Uint8Array) => unknown]> = {
  ase: ['ase-utils', (bytes) => aseUtils.decode(Buffer.from(bytes))],
  css: ['postcss, culori', (bytes) => colorsOf(postcss.parse(textOf(bytes)))],
  scss: ['postcss-scss, culori', (bytes) => colorsOf(parseScss(textOf(bytes)))],
  csv: [
    'papaparse, culori',
    (bytes) =>
      (Papa.parse(textOf(bytes)).data as string[][]).filter((row) => row.some((c) => parseColor(c))).length,
  ],
  soc: ['fast-xml-parser', byXml],
  cxf: ['fast-xml-parser', byXml],
  resources: ['fast-xml-parser', byXml],
  svg: ['fast-xml-parser', byXml],
  tablet: ['fflate, JSON', (bytes) => JSON.parse(textOf(unzipSync(bytes)['Swatches.json']!))],
  'asset-catalogue': [
    'fflate, JSON',
    (bytes) => Object.values(unzipSync(bytes)).map((file) => JSON.parse(textOf(file))),
  ],
  kpl: ['fflate, fast-xml-parser', byZippedXml],
  'office-theme': ['fast-xml-parser', byXml],
  '3mf': ['fflate, fast-xml-parser', byZippedXml],
  materialx: ['fast-xml-parser', byXml],
  xlsx: ['exceljs', async (bytes) => new exceljs.Workbook().xlsx.load(bytes.slice().buffer)],
  ods: ['xlsx', (bytes) => readWorkbook(bytes)],
  gltf: ['JSON.parse', (bytes) => JSON.parse(textOf(bytes))],
  theme: ['JSON.parse', (bytes) => JSON.parse(textOf(bytes))],
  papillon: [
    'Ajv, its schema',
    (bytes) => {
      const schema = JSON.parse(readFileSync('docs/papillon.schema.json', 'utf8'));
      return new Ajv({ strict: false }).validate(schema, JSON.parse(textOf(bytes)));
    },
  ],
  tokens: [
    '@terrazzo/parser',
    (bytes) =>
      parseTokens([{ filename: new URL('file:///tmp/x.json'), src: textOf(bytes) }], {
        config: defineConfig({ lint: { rules: {} } }, { cwd: new URL('file:///tmp/') }),
      }),
  ],
  dxf: ['dxf-parser', (bytes) => new DxfParser().parseSync(textOf(bytes))],
};

function colorsOf(sheet: Root): number {
  let n = 0;
  sheet.walkDecls(({ value }) => {
    if (parseColor(value)) n++;
  });
  return n;
}

export interface Measured {
  n: number;
  mb: number;
  ms: number;
}

/** Writes the file at every size. */
async function writeAll(format: Format, folder: string): Promise<Measured[]> {
  const measured: Measured[] = [];
  for (const size of SIZES) {
    const n = Math.min(size, format.traits.most ?? size, format.id === 'pdf' ? size / 50 : size);
    const [ms, bytes] = await time(() => format.encode(many(n), services));
    writeFileSync(join(folder, String(size)), bytes);
    measured.push({ n, mb: bytes.length / 1e6, ms });
  }
  return measured;
}

/** Recognises and opens the file at every size. */
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

/** Opens the largest file, finds what changes on the way to ASE, and writes that. */
async function convertLargest(folder: string): Promise<number> {
  const { library } = await openSwatchFile(
    readFileSync(join(folder, String(SIZES.at(-1)))),
    'many',
    countingIds(),
  );
  await changes(library, ase, services);
  ase.encode(library, services);
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
    bytes = ase.encode({ ...library, groups: [{ id: 'g', name: '', swatches }] }, services);
  }
  // a whole file would keep it busy for minutes
  if (format.id === 'tokens') bytes = await format.encode(many(1000), services);
  const [ms] = await time(() => other[1](bytes));
  return `${other[0]} ${(bytes.length / 1e3 / ms).toFixed(1)}`;
}

async function main() {
  const [task, id, folder] = process.argv.slice(2);
  services = await localServices();
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
}

void main();
