import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { expect } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { pdf as sheet } from '../formats/pdf/pdf.ts';
import { libraryOf } from '../testing.ts';

// PDFs by programs that are not ours, and what programs that are not ours say of PDFs

const services = await localServices();
process.on('exit', () => rmSync(folder, { recursive: true, force: true }));
export const folder = mkdtempSync(join(tmpdir(), 'papillon-pdf-'));
export const has = (program: string, ...args: string[]) => {
  try {
    execFileSync(program, args, { stdio: 'pipe' });
    return true;
  } catch {
    return false;
  }
};

/** Two spot inks alone, mixed in one space, and in a picture; a process colour; what PostScript makes of it is Ghostscript's. */
const POSTSCRIPT = `%!PS
<< /PageSize [200 120] >> setpagedevice
/Orange [/Separation (Orange 2) /DeviceCMYK {dup 0.6 mul exch 0.9 mul 0 3 1 roll 0}] def
/Blue [/Separation (Hull navy) /DeviceCMYK {dup 0.7 mul exch 0.2 mul 0 0.3}] def
/Mix [/DeviceN [(Orange 2) (Hull navy)] /DeviceCMYK {exch dup 0.6 mul exch 0.9 mul 4 2 roll pop 0 0 0 0 8 -4 roll pop pop pop pop}] def
[/Separation (Orange 2) /DeviceCMYK {dup 0.6 mul exch 0.9 mul 0 3 1 roll 0}] setcolorspace 1 setcolor 10 10 40 40 rectfill 0.5 setcolor 10 60 40 40 rectfill
[/Separation (Hull navy) /DeviceCMYK {dup 0.7 mul exch 0.2 mul 0 0.3}] setcolorspace 1 setcolor 60 10 40 40 rectfill
[/DeviceN [(Orange 2) (Hull navy)] /DeviceCMYK {0.7 mul exch 0.6 mul 0 0}] setcolorspace 0.4 0.8 setcolor 110 10 40 40 rectfill
[/DeviceN [(Orange 2) (Hull navy)] /DeviceCMYK {0.7 mul exch 0.6 mul 0 0}] setcolorspace
gsave 60 60 translate 40 40 scale
<< /ImageType 1 /Width 2 /Height 2 /BitsPerComponent 8 /ImageMatrix [2 0 0 -2 0 2] /Decode [0 1 0 1]
   /DataSource <ff0000ff80800000> >> image grestore
0.1 0.9 0.8 0 setcmykcolor 110 60 40 40 rectfill
showpage
`.replace(/^\/(?:Orange|Blue|Mix) .*\n/gm, '');
function byGhostscript(): Uint8Array {
  const path = join(folder, 'gs.pdf');
  writeFileSync(join(folder, 'in.ps'), POSTSCRIPT);
  execFileSync('gs', [
    '-q',
    '-dNOPAUSE',
    '-dBATCH',
    '-dSAFER',
    '-sDEVICE=pdfwrite',
    `-sOutputFile=${path}`,
    join(folder, 'in.ps'),
  ]);
  return new Uint8Array(readFileSync(path));
}
export const byUs = () =>
  sheet.encode(
    (() => {
      const library = libraryOf('Fleet', {
        Inks: [
          ['Orange 2', '#e8601c'],
          ['Hull navy', '#14304a'],
          ['Sand', '#d9c7a0'],
        ],
      });
      for (const s of library.groups[0]!.swatches.slice(0, 2)) s.kind = 'spot';
      return library;
    })(),
    services,
  );
const REPORTLAB = `
import sys
from reportlab.pdfgen import canvas
from reportlab.lib.colors import CMYKColorSep, CMYKColor
c = canvas.Canvas(sys.argv[1], pagesize=(200, 120))
c.setFillColor(CMYKColorSep(0, 0.6, 0.9, 0, spotName='Orange 2', density=1)); c.rect(10, 10, 40, 40, stroke=0, fill=1)
c.setFillColor(CMYKColorSep(0.7, 0.2, 0, 0.3, spotName='Hull navy', density=1)); c.rect(60, 10, 40, 40, stroke=0, fill=1)
c.setFillColor(CMYKColor(0.1, 0.9, 0.8, 0)); c.rect(110, 60, 40, 40, stroke=0, fill=1)
c.showPage(); c.save()
`;
/** No inks, but areas, lines, text, a gradient and something that is seen through. */
const CAIRO = `
import sys, cairo
s = cairo.PDFSurface(sys.argv[1], 300, 200); c = cairo.Context(s)
c.set_source_rgb(0.8, 0.1, 0.2); c.rectangle(10, 10, 80, 80); c.fill()
c.rectangle(100, 10, 80, 80); c.fill_preserve(); c.set_source_rgb(0, 0, 0.4); c.set_line_width(4); c.stroke()
g = cairo.LinearGradient(10, 0, 280, 0); g.add_color_stop_rgb(0, 1, 0.5, 0); g.add_color_stop_rgb(0.5, 0, 0.6, 0.3); g.add_color_stop_rgb(1, 0.2, 0, 0.6)
c.set_source(g); c.rectangle(10, 120, 270, 40); c.fill()
c.set_source_rgb(0.1, 0.1, 0.1); c.set_font_size(18); c.move_to(10, 185); c.show_text('Harbour line')
c.set_source_rgba(0.1, 0.7, 0.2, 0.5); c.arc(240, 50, 30, 0, 6.28); c.fill()
s.finish()
`;
const GROFF = '.TL\nFleet colours\n.PP\nThis is \\m[red]red text\\m[] and black.\n';
const PYTHON = '/usr/bin/python3';
const byPython = (program: string) => (): Uint8Array => {
  const path = join(folder, 'python.pdf');
  execFileSync(PYTHON, ['-c', program, path]);
  return new Uint8Array(readFileSync(path));
};
const byGroff = () =>
  new Uint8Array(
    execFileSync('groff', ['-Tpdf', '-ms'], { input: GROFF, stdio: ['pipe', 'pipe', 'ignore'] }),
  );
type Writer = [name: string, write: () => Uint8Array | Promise<Uint8Array>, available: boolean];
const WITH_INKS: Writer[] = [
  ['Ghostscript', byGhostscript, has('gs', '--version')],
  ['reportlab', byPython(REPORTLAB), has(PYTHON, '-c', 'import reportlab')],
  ['Papillon itself', byUs, true],
];

/** Programs that write the two inks “Orange 2” and “Hull navy”. */
export const inkWriters = WITH_INKS.filter(([, , available]) => available);
export const writers = [
  ...inkWriters,
  ...(
    [
      ['cairo', byPython(CAIRO), has(PYTHON, '-c', 'import cairo')],
      ['groff', byGroff, has('groff', '--version')],
    ] satisfies Writer[]
  ).filter(([, , available]) => available),
];

/** Every plate that Ghostscript makes, as pixels, by the name of its ink. */
export async function plates(bytes: Uint8Array): Promise<Map<string, Buffer>> {
  const own = mkdtempSync(join(folder, 'plates-'));
  writeFileSync(join(own, 'in.pdf'), bytes);
  execFileSync('gs', [
    '-q',
    '-dNOPAUSE',
    '-dBATCH',
    '-dSAFER',
    '-sDEVICE=tiffsep',
    '-r72',
    `-sOutputFile=${join(own, 'p%d.tif')}`,
    join(own, 'in.pdf'),
  ]);
  const found = new Map<string, Buffer>();
  for (const file of readdirSync(own).sort()) {
    const name = /^p\d+\((.+)\)\.tif$/.exec(file)?.[1];
    if (name) found.set(name, await sharp(join(own, file)).greyscale().raw().toBuffer());
  }
  return found;
}
/** 0 where a file begins with another. */
export const sameStart = (old: Uint8Array, now: Uint8Array) =>
  Buffer.compare(Buffer.from(now.subarray(0, old.length)), Buffer.from(old));
/** Two other readers have nothing to report. */
export const undamaged = (bytes: Uint8Array) => {
  const path = join(folder, 'check.pdf');
  writeFileSync(path, bytes);
  expect(execFileSync('mutool', ['info', path]).toString()).toMatch(/Pages: /);
  if (has('qpdf', '--version'))
    expect(execFileSync('qpdf', ['--check', path]).toString()).toMatch(/No syntax or stream encoding errors/);
};

/** The first page as Ghostscript shows it, without smooth edges: three bytes a pixel, and how wide it is. */
export async function shownBy(bytes: Uint8Array): Promise<{ data: Buffer; width: number }> {
  const [from, to] = [join(folder, 'shown.pdf'), join(folder, 'shown.png')];
  writeFileSync(from, bytes);
  execFileSync('gs', [
    '-q',
    '-dNOPAUSE',
    '-dBATCH',
    '-dSAFER',
    '-sDEVICE=png16m',
    '-r72',
    `-sOutputFile=${to}`,
    '-dLastPage=1',
    from,
  ]);
  const { data, info } = await sharp(to).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { data, width: info.width };
}
