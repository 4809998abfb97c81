import { inksOf } from '../artwork/made.ts';
import { StopInks } from '../artwork/stop-inks.ts';
import type { Color, Condition } from '../color/index.ts';
import { plainStops } from '../gradient/index.ts';
import { lacksLetters, registerFonts, writeText } from '../pdf/letters.ts';
import { type Document, documentOf, intend, painter } from '../pdf/paint.ts';
import { Plates } from '../pdf/plates.ts';
import { WHOLE } from '../pdf/save.ts';
import { asX4 } from '../pdf/x4.ts';
import type { Services } from '../services.ts';
import { type Gradient, resolvedStops } from '../swatch/gradient.ts';
import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import { short } from '../text/text.ts';
import { type BoardPage, type Box, type Mark, type TextInk, textsOf } from './marks.ts';
import { HAIRLINE, workKey } from './svg.ts';
import { MM_PER_POINT } from './text.ts';

/** How far colours go beyond the edge that is cut, and where the marks for that stand, mm (common practice, no source). */
const BLEED = 3;
const MARK = { from: 3.5, length: 4.5 };

const INKS: Record<TextInk, number[]> = {
  black: [0, 0, 0, 100],
  grey: [0, 0, 0, 70],
  pale: [0, 0, 0, 28],
  white: [0, 0, 0, 0],
};

/** Pictures and works that a PDF takes in. */
export interface PdfParts {
  /** A JPEG or a PNG by the picture's id. */
  pictures: ReadonlyMap<string, Uint8Array>;
  /** By {@link workKey}: a page of a PDF, or a JPEG or PNG. */
  works: ReadonlyMap<string, { bytes: Uint8Array; page?: number }>;
}

const isJpeg = (bytes: Uint8Array) => bytes[0] === 0xff && bytes[1] === 0xd8;
const isPng = (bytes: Uint8Array) => bytes[0] === 0x89 && bytes[1] === 0x50;

/**
 * A board as PDF: spot and technical swatches on their plates, gradients of them, too; text as text; works as they are printed.
 * @param ground what is printed below all of it; null for bare paper
 * @param bleed adds 3 mm around what is cut, `marks` says where that is
 * @returns the file, and what is not as the board has it, in words
 */
export async function boardPdf(
  pages: readonly BoardPage[],
  {
    library,
    title,
    ground,
    parts,
    services,
    bleed = false,
    marks = false,
    x4 = false,
  }: {
    library: Library;
    title: string;
    ground: Color | null;
    parts: PdfParts;
    services: Pick<Services, 'condition' | 'loadFont' | 'profile' | 'now'>;
    bleed?: boolean;
    marks?: boolean;
    x4?: boolean;
  },
): Promise<{ bytes: Uint8Array<ArrayBuffer>; warnings: string[] }> {
  const { condition, loadFont } = services;
  const { default: Kit } = await import('pdfkit');
  const own = pages.flatMap((p) =>
    p.marks.flatMap((m) => (m.is === 'area' ? [{ ...m.swatch, id: '' }] : [])),
  );
  const plates = new Plates([...own, ...allSwatches(library)].filter((s) => s.kind !== 'process'));
  const { doc, done } = documentOf(Kit, {
    autoFirstPage: false,
    pdfVersion: '1.6',
    info: { Title: title, Producer: 'Papillon board' },
  });
  intend(doc, condition);
  await registerFonts(doc, loadFont, textsOf(pages));
  const paint = painter(doc, condition, plates);
  const stops = new StopInks();
  const swatches = new Map(allSwatches(library).map((s) => [s.id, s]));
  const warnings = new Set<string>();
  // what lies outside of what is cut, mm
  const around = marks ? MARK.from + MARK.length + 1 : bleed ? BLEED : 0;

  for (const { width, height, marks: drawn } of pages) {
    const sides = [width + 2 * around, height + 2 * around].map(points) as [number, number];
    doc.addPage({ size: sides, margin: 0 });
    const trim = [around, around, around + width, around + height].map(points);
    const edge = Math.min(around, BLEED);
    const bled = [around - edge, around - edge, around + width + edge, around + height + edge].map(points);
    Object.assign(doc.page.dictionary.data, { TrimBox: trim, BleedBox: bled });
    /** A box as it is printed: what touches the edge goes beyond it. */
    const over = ({ x, y, width: w, height: h }: Box): Box => {
      const out = around > 0 ? edge : 0;
      const [left, top] = [x < 0.05 ? out : 0, y < 0.05 ? out : 0];
      const [right, bottom] = [x + w > width - 0.05 ? out : 0, y + h > height - 0.05 ? out : 0];
      return {
        x: x - left + around,
        y: y - top + around,
        width: w + left + right,
        height: h + top + bottom,
      };
    };
    if (ground) filled(doc, over({ x: 0, y: 0, width, height }), paint(plainly(ground)));
    for (const mark of drawn) draw(mark, over);
    if (marks) cropMarks(doc, width, height, around);
  }

  function draw(mark: Mark, over: (box: Box) => Box): void {
    if (mark.is === 'area') filled(doc, over(mark), paint({ ...mark.swatch, id: '' }));
    else if (mark.is === 'gradient') {
      const { gradient } = mark;
      const box = over(mark);
      const [x, y, w, h] = [box.x, box.y, box.width, box.height].map(points) as [
        number,
        number,
        number,
        number,
      ];
      const line = doc.linearGradient(x, y, x + w, y);
      for (const { at, inks } of stopsIn(gradient, swatches, stops, condition))
        line.stop(at, inks.map((v) => v * 100) as never);
      doc.rect(x, y, w, h).fill(line);
    } else if (mark.is === 'line') {
      const at = (...values: number[]) => values.map((v) => short(points(v), 3)).join(' ');
      const [x, y] = [mark.x + around, mark.y + around];
      const path =
        mark.height === 0
          ? `${at(x, y)} m ${at(x + mark.width, y)} l`
          : `${at(x, y, mark.width, mark.height)} re`;
      const ink = INKS[mark.ink].map((v) => v / 100).join(' ');
      doc.addContent(`q ${ink} K ${at(HAIRLINE)} w ${path} S Q`);
    } else if (mark.is === 'text') {
      const { text, font, size, ink, x, y, align } = mark;
      doc.fillColor(INKS[ink] as never);
      if (lacksLetters(doc, text, font))
        warnings.add('Letters that the fonts of Papillon do not have are question marks in the PDF.');
      writeText(doc, text, font, size, points(x + around), points(y + around), align);
    }
  }

  let bytes = done();
  bytes = await stops.placed(bytes, plates, condition);
  bytes = await withParts(bytes, pages, parts, around);
  if (x4) bytes = await asX4(bytes, title, [...allSwatches(library)], services);
  return { bytes, warnings: [...warnings] };
}

const points = (v: number) => v / MM_PER_POINT;
const plainly = (color: Color): Swatch => ({ id: '', name: '', kind: 'process', color });

/** The stops of a gradient in process inks; where some are other inks, only those that it has, as what stands for them. */
function stopsIn(
  gradient: Gradient,
  swatches: ReadonlyMap<string, Swatch>,
  stops: StopInks,
  condition: Condition,
): { at: number; inks: number[] }[] {
  const own = resolvedStops(gradient, (id) => swatches.get(id));
  if (own.some(({ swatch }) => swatch && swatch.kind !== 'process'))
    return own.map(({ at, color, swatch }) => ({
      at,
      inks:
        swatch && swatch.kind !== 'process'
          ? stops.standInOf(swatch).color.components
          : inksOf(color, condition),
    }));
  return plainStops(gradient.data, own, condition).map(({ at, rgb }) => ({
    at,
    inks: inksOf({ space: 'rgb', components: rgb }, condition),
  }));
}

function filled(doc: Document, { x, y, width, height }: Box, operators: string): void {
  const box = [x, y, width, height].map((v) => short(points(v), 3)).join(' ');
  doc.addContent(`q ${operators} ${box} re f Q`);
}

/** Where the page is cut, on every plate (ISO 32000-1, 8.6.6.4: the colorant All). */
function cropMarks(doc: Document, width: number, height: number, around: number): void {
  const all = doc.ref([
    'Separation',
    'All',
    'DeviceCMYK',
    { FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1: [1, 1, 1, 1], N: 1 },
  ]);
  all.end();
  doc.page.colorSpaces.All = all;
  const { from, length } = MARK;
  const lines: string[] = [];
  for (const [x, out] of [
    [0, -1],
    [width, 1],
  ] as const)
    for (const [y, down] of [
      [0, -1],
      [height, 1],
    ] as const) {
      const [px, py] = [x + around, y + around];
      const at = (ax: number, ay: number) => `${short(points(ax), 3)} ${short(points(ay), 3)}`;
      lines.push(`${at(px + out * from, py)} m ${at(px + out * (from + length), py)} l S`);
      lines.push(`${at(px, py + down * from)} m ${at(px, py + down * (from + length))} l S`);
    }
  doc.addContent(`q /All CS 1 SCN 0.25 w ${lines.join(' ')} Q`);
}

/** Puts pictures and works where they belong, each once in the file. */
async function withParts(
  bytes: Uint8Array<ArrayBuffer>,
  pages: readonly BoardPage[],
  { pictures, works }: PdfParts,
  around: number,
): Promise<Uint8Array<ArrayBuffer>> {
  const has = pages.some((p) => p.marks.some((m) => m.is === 'picture' || m.is === 'work'));
  if (!has) return bytes;
  const lib = await import('@cantoo/pdf-lib');
  const document = await lib.PDFDocument.load(bytes, { updateMetadata: false });
  const made = new Map<Uint8Array, Promise<Embedded>>();
  type Embedded =
    | Awaited<ReturnType<typeof document.embedPng>>
    | Awaited<ReturnType<typeof document.embedPdf>>[number];
  const embedded = (part: Uint8Array, number: number) => {
    let one = made.get(part);
    if (!one) {
      one = isJpeg(part)
        ? document.embedJpg(part)
        : isPng(part)
          ? document.embedPng(part)
          : document.embedPdf(part, [number]).then(([page]) => page!);
      made.set(part, one);
    }
    return one;
  };
  const sheets = document.getPages();
  for (const [i, page] of pages.entries()) {
    const sheet = sheets[i]!;
    for (const mark of page.marks) {
      if (mark.is !== 'picture' && mark.is !== 'work') continue;
      const isPicture = mark.is === 'picture';
      const work = isPicture ? undefined : works.get(workKey(mark.work, mark.colorway));
      const part = isPicture ? pictures.get(mark.picture) : work?.bytes;
      if (!part) continue;
      const one = await embedded(part, work?.page ?? 0);
      const box = {
        x: points(mark.x + around),
        y: points(page.height - mark.y - mark.height + around),
        width: points(mark.width),
        height: points(mark.height),
      };
      const ratios = [box.width / one.width, box.height / one.height];
      const scale = isPicture ? Math.max(...ratios) : Math.min(...ratios);
      const [width, height] = [one.width * scale, one.height * scale];
      const place = {
        x: box.x + (box.width - width) / 2,
        y: box.y + (box.height - height) / 2,
        ...{ width, height },
      };
      sheet.pushOperators(
        lib.pushGraphicsState(),
        lib.rectangle(box.x, box.y, box.width, box.height),
        lib.clip(),
        lib.endPath(),
      );
      if (one instanceof lib.PDFEmbeddedPage) sheet.drawPage(one, place);
      else sheet.drawImage(one, place);
      sheet.pushOperators(lib.popGraphicsState());
    }
  }
  return (await document.save(WHOLE)) as Uint8Array<ArrayBuffer>;
}
