import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { conditionHere } from '../../cli/engine.ts';
import { PdfArtwork } from '../../core/pdf/artwork.ts';
import { PdfInks } from '../../core/pdf/inks.ts';
import { repainted } from '../../core/pdf/recolor.ts';
import { quickest } from './quickest.ts';

// npm run bench -- pdf: the inks of 500 pages of 60 MB, and a page of 20,000 operators with a colour changed, beside Ghostscript's plates.

const [PAGES, PICTURE_BYTES, OPERATORS] = [500, 120_000, 20_000];
const line = (what: string, value: number, unit = 'ms') =>
  console.log(`${what.padEnd(52)}${value.toFixed(0).padStart(8)} ${unit}`);

/** Pages with areas in two inks and a process colour, lines of text, and a picture that cannot be packed. */
async function book(pages: number, areas: number, picture: number): Promise<Uint8Array> {
  const { PDFDocument, PDFName, StandardFonts } = await import('@cantoo/pdf-lib');
  const made = await PDFDocument.create();
  const { context } = made;
  const font = await made.embedFont(StandardFonts.Helvetica);
  const ink = (name: string, C1: number[]) =>
    context.register(
      context.obj([
        'Separation',
        PDFName.of(name),
        'DeviceCMYK',
        { FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1, N: 1 },
      ] as never),
    );
  const [orange, navy] = [
    ink('Lifebuoy#20orange', [0, 0.6, 0.9, 0]),
    ink('Hull#20navy', [0.9, 0.6, 0.2, 0.4]),
  ];
  for (let n = 0; n < pages; n++) {
    const page = made.addPage([595, 842]);
    let text = '';
    for (let i = 0; i < areas; i++) {
      const [x, y] = [(i * 37) % 560, (i * 53) % 800];
      const set =
        i % 3 === 0 ? '/Orange cs 1 scn' : i % 3 === 1 ? `/Navy cs ${(i % 10) / 10} scn` : '0.1 0.2 0.7 0 k';
      text += `${set} ${x} ${y} ${5 + (i % 9)} ${4 + (i % 7)} re f\n`;
    }
    for (let i = 0; i < 30; i++)
      text += `BT /F 11 Tf 40 ${800 - i * 20} Td (The line ${i} of page ${n}) Tj ET\n`;
    const resources: Record<string, unknown> = {
      ColorSpace: { Orange: orange, Navy: navy },
      Font: { F: font.ref },
    };
    if (picture > 0) {
      const side = Math.floor(Math.sqrt(picture / 3));
      // noise stays as long as it is
      const bytes = new Uint8Array(side * side * 3);
      let seed = n + 1;
      for (let k = 0; k < bytes.length; k++) {
        seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
        bytes[k] = seed >>> 24;
      }
      const dict = {
        Type: 'XObject',
        Subtype: 'Image',
        Width: side,
        Height: side,
        BitsPerComponent: 8,
        ColorSpace: 'DeviceRGB',
      };
      resources.XObject = { P: context.register(context.stream(bytes, dict)) };
      text += 'q 200 0 0 200 300 40 cm /P Do Q\n';
    }
    page.node.set(PDFName.of('Resources'), context.obj(resources as never));
    page.node.set(PDFName.of('Contents'), context.register(context.flateStream(text)));
  }
  return made.save();
}

export async function benchPdf(): Promise<void> {
  const condition = await conditionHere();
  const folder = mkdtempSync(join(tmpdir(), 'papillon-bench-pdf-'));
  const path = join(folder, 'many.pdf');
  const beside = (what: string, program: string, args: string[]) => {
    try {
      const start = performance.now();
      execFileSync(program, args, { stdio: 'pipe' });
      line(what, performance.now() - start);
    } catch {
      console.log(`${what}: ${program} is not installed`);
    }
  };
  try {
    const many = await book(PAGES, 40, PICTURE_BYTES);
    writeFileSync(path, many);
    console.log(`${PAGES} pages, ${(many.length / 1e6).toFixed(0)} MB`);
    global.gc?.();
    const before = process.memoryUsage().rss;
    let [start, most] = [performance.now(), 0];
    const pdf = await PdfInks.open(many);
    const inks = pdf.inks(condition);
    line(`${inks.length} inks found`, performance.now() - start);
    await pdf.coverage(condition, async () => {
      most = Math.max(most, process.memoryUsage().rss);
    });
    line('and how much of each page they cover', performance.now() - start);
    line(
      'memory over what was there before',
      (Math.max(most, process.memoryUsage().rss) - before) / 1e6,
      'MB',
    );
    beside('Ghostscript, its plates at 20 pixels an inch', 'gs', [
      ...['-q', '-dNOPAUSE', '-dBATCH', '-dSAFER', '-sDEVICE=tiffsep', '-r20'],
      ...[`-sOutputFile=${join(folder, 'p%d.tif')}`, path],
    ]);

    const dense = await book(1, OPERATORS, 0);
    writeFileSync(path, dense);
    console.log(`\nA page of ${OPERATORS.toLocaleString('en')} operators that paint`);
    start = performance.now();
    const artwork = await PdfArtwork.open(dense, condition);
    line(`opened, ${artwork.parts.length.toLocaleString('en')} parts`, performance.now() - start);
    const ids = artwork.parts.filter((p) => p.name === 'Lifebuoy orange').map((p) => p.id);
    const plain = { color: { space: 'cmyk', components: [0.2, 0.1, 0.9, 0] } } as const;
    const change = () => repainted(artwork, new Map(ids.map((id) => [id, plain])), { condition });
    line(`${ids.length.toLocaleString('en')} of them in another colour, as a file`, await quickest(change));
    line('where each part is seen, 1,100 pixels', await quickest(() => artwork.mapOf(0, 1100)));
    beside('Ghostscript, the page alone', 'gs', [
      ...['-q', '-dNOPAUSE', '-dBATCH', '-dSAFER', '-sDEVICE=png16m', '-r96'],
      ...[`-sOutputFile=${join(folder, 'page.png')}`, path],
    ]);
  } finally {
    rmSync(folder, { recursive: true });
  }
}
