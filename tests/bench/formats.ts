// Reading and writing 100,000 swatches in every format, and how time grows with them

import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { formats } from '../../core/formats/index.ts';
import { bundle } from '../../scripts/bundle.mjs';
import type { Measured } from './format-tasks.ts';

const COLUMNS = ['swatches', 'MB', 'read', 'write', 'growth', 'peak MB', 'other reader'];
const row = (cells: string[]) =>
  console.log(
    cells.map((cell, i) => (i === 0 ? cell.padEnd(12) : cell.padStart(i === 7 ? 22 : 15))).join(''),
  );

/** Every format, or those named. */
export async function benchFormats(...ids: string[]): Promise<void> {
  console.log(
    '\nFormats at full size. read, write: MB/s and thousand swatches a second; growth: time per swatch at full size over that at half, 1 is linear; peak: memory in MB of a process that opens the file, finds what changes on the way to ASE and writes that; other reader: of the same bytes, in MB/s',
  );
  row(['format', ...COLUMNS]);
  const root = fileURLToPath(new URL('../..', import.meta.url));
  // as it is shipped: what runs the sources as they are names every closure, which takes longer than reading a line
  const built = 'node_modules/.cache/bench';
  await bundle('tests/bench/format-tasks.ts', built, {
    format: 'cjs',
    left: ['ase-utils', '@terrazzo/parser'],
    minify: false,
  });
  for (const format of formats) {
    if (ids.length && !ids.includes(format.id)) continue;
    // nothing writes the files of some, and others hold gradients alone
    if (!format.traits.write || format.traits.gradientsOnly) continue;
    const own = mkdtempSync(join(tmpdir(), 'papillon-bench-'));
    const run = (name: string) =>
      JSON.parse(
        execFileSync(
          process.execPath,
          ['--max-old-space-size=14000', join(root, built, 'main.cjs'), name, format.id, own],
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
