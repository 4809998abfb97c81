import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { formatById, writeAs } from '../../core/formats/index.ts';
import { PdfInks } from '../../core/pdf/inks.ts';
import { emptyBoard } from '../../core/swatch/index.ts';
import { coated, libraryOf } from '../../core/testing.ts';
import { localServices } from '../engine.ts';
import { runCommand } from '../testing.ts';

const folder = mkdtempSync(join(tmpdir(), 'papillon-board-'));
afterAll(() => rmSync(folder, { recursive: true }));
const at = (name: string) => join(folder, name);

const run = (...args: string[]) => runCommand(args);

const library = libraryOf('Livery', {
  Hull: [
    ['Hull navy', '#1c3350'],
    ['Boot-top red', '#b61e28'],
  ],
  Sky: [['Fog', '#83948f']],
});
library.groups[0]!.swatches[1]!.kind = 'spot';
const [navy] = library.groups[0]!.swatches;
library.items = [
  emptyBoard('b', 'On one page', [{ id: 'o', of: 'swatch', refs: [navy!.id], name: 'Hull navy', weight: 2 }]),
];
const file = at('livery.json');
writeFileSync(file, await writeAs(formatById('papillon'), library, await localServices()));

describe('board', () => {
  it('lays a group out with weights, each ink of the PDF on its plate', async () => {
    const { code, out } = await run(
      'board',
      file,
      at('hull.pdf'),
      '--group',
      'Hull',
      '--weight',
      'Hull navy=3',
      '--json',
    );
    expect(code).toBe(0);
    expect(JSON.parse(out)).toEqual({
      ...{
        board: 'Hull',
        layout: 'blocks',
        page: { width: 210, height: 297, unit: 'mm' },
        pages: 1,
        colors: 2,
        warnings: [],
      },
    });
    const pdf = await PdfInks.open(new Uint8Array(readFileSync(at('hull.pdf'))));
    expect(pdf.inks(coated).map((i) => i.name)).toContain('Boot-top red');
  });

  it('draws a PNG in the pixels that are asked for, with areas as the weights say', async () => {
    await run(
      'board',
      file,
      at('hull.png'),
      '--group',
      'Hull',
      '--weight',
      'Hull navy=3',
      '--page',
      'A5',
      '--landscape',
      '--dpi',
      '72',
    );
    const { data, info } = await sharp(at('hull.png'))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([595, 420]);
    const count = (r: number, g: number, b: number) => {
      let n = 0;
      for (let i = 0; i < data.length; i += 3)
        if (Math.abs(data[i]! - r) < 2 && Math.abs(data[i + 1]! - g) < 2 && Math.abs(data[i + 2]! - b) < 2)
          n++;
      return n;
    };
    // letters lie on both
    expect(count(0x1c, 0x33, 0x50) / count(0xb6, 0x1e, 0x28) / 3).toBeCloseTo(1, 1);
  });

  it('takes a board of the file by its name', async () => {
    const { code, out } = await run('board', file, at('page.svg'), '--board', 'On one page');
    expect(code).toBe(0);
    expect(out).toMatch(/On one page · Blocks · A4 landscape · 1 page/);
    expect(readFileSync(at('page.svg'), 'utf8')).toMatch(/<text[^>]*>Hull navy<\/text>/);
  });

  it.each([
    [['--board', 'None'], 1, /has no board “None”\. It has “On one page”/],
    [['--group', 'None'], 1, /has no group “None”\. It has “Hull”, “Sky”/],
    [['--weight', 'Teal=2'], 1, /has no swatch “Teal”/],
    [['--weight', 'Hull navy=9'], 2, /a whole number from 1 to 6/],
    [['--layout', 'wheel'], 2, /one of blocks, story, ledger, bands, chips/],
    [['--board', 'a', '--group', 'b'], 2, /cannot be combined/],
    [['--number', '7'], 2, /--number 7 is none of them/],
  ])('%j is refused with a reason', async (args, expected, why) => {
    const { code, err } = await run('board', file, at('no.svg'), ...args);
    expect([code, err]).toEqual([expected, expect.stringMatching(why)]);
  });
});
