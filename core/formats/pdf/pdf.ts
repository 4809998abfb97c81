import {
  authored,
  type Color,
  type Condition,
  carried,
  notations,
  SHIPPED,
  toHex,
  toLab,
} from '../../color/index.ts';
import { joined } from '../../join.ts';
import { allSwatches, isLoose, type Library, type Swatch } from '../../swatch/model.ts';
import { decoder, draftOf } from '../draft.ts';
import type { Format } from '../format.ts';
import { srgbProfile } from '../icc.ts';
import { short } from '../text.ts';
import { readPdf } from './foreign.ts';
import { Plates } from './plates.ts';
import { readSheet } from './read.ts';

// Points: A4 upright, four cards in a row.
const PAGE = [595.28, 841.89];
const MARGIN = 42;
const FOOT = 40;
const COLUMNS = 4;
const GUTTER = 12;
const CARD = (PAGE[0] - 2 * MARGIN - (COLUMNS - 1) * GUTTER) / COLUMNS;
const CHIP = 54;
const CARD_HEIGHT = CHIP + 46;
const HEADING = 26;
/** L* from which a chip gets a hairline round it. */
const PALE = 92;

type Document = InstanceType<typeof import('pdfkit').default>;

const latin = (bytes: Uint8Array) => new TextDecoder('latin1').decode(bytes);
/** The producer's name, which stands in an object of its own. */
const OWN = /obj\s*\(Papillon\)\s*endobj/;
const ownSheet = decoder((bytes, draft) => readSheet(bytes, draft));

export const pdf: Format = {
  id: 'pdf',
  name: 'PDF sheet',
  about: 'Printable sheet with names, codes and notations; each spot colour on a separation of its own.',
  endings: ['pdf'],
  mime: 'application/pdf',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: true,
    kinds: ['process', 'spot'],
    spaces: ['rgb', 'cmyk', 'lab', 'gray'],
    bits: 32,
  },

  // a few bytes may stand before it (ISO 32000-1, Annex H)
  recognise: (bytes) => (latin(bytes.subarray(0, 1024)).includes('%PDF-') ? 1 : 0),

  decode(bytes, newId, options) {
    // our own sheets say more than their separations do
    if (OWN.test(latin(bytes))) return ownSheet(bytes, newId, options);
    return draftOf(newId, (draft) => readPdf(bytes, draft));
  },

  async encode(library, { loadFont, condition }) {
    const [{ default: Kit }, regular, semibold, mono] = await Promise.all([
      import('pdfkit'),
      loadFont('regular'),
      loadFont('semibold'),
      loadFont('mono'),
    ]);
    const chunks: Uint8Array[] = [];
    class Collected extends Kit {
      // the library hands out its chunks in order; a stream would only bring them later
      override push(chunk: Uint8Array | null): boolean {
        if (chunk) chunks.push(chunk);
        return true;
      }
    }
    const doc = new Collected({
      size: PAGE,
      margin: 0,
      compress: false,
      // without it, a font that every reader has of its own would be asked for
      font: null,
      bufferPages: true,
      lang: 'en-GB',
      info: { Title: library.name, Creator: 'Papillon', Producer: 'Papillon', CreationDate: new Date(0) },
    });
    for (const [name, font] of Object.entries({ regular, semibold, mono })) doc.registerFont(name, font);
    intend(doc, condition);
    drawSheet(doc, library, condition);
    doc.end();
    return joined(chunks);
  },
};

/** Says what its inks are for: the print condition by its registered name (PDF 32000-1, 14.11.5), where it has one. */
function intend(doc: Document, { setting, name }: Condition): void {
  const registered = { [SHIPPED.coated]: 'FOGRA39', [SHIPPED.uncoated]: 'FOGRA29' }[setting.profile];
  if (!registered) return;
  const intent = doc.ref({
    Type: 'OutputIntent',
    S: 'GTS_PDFX',
    OutputConditionIdentifier: new String(registered),
    RegistryName: new String('http://www.color.org'),
    Info: new String(name),
  });
  intent.end();
  (doc as unknown as { _root: { data: Record<string, unknown> } })._root.data.OutputIntents = [intent];
}

function drawSheet(doc: Document, library: Library, condition: Condition): void {
  const paint = painter(doc, condition, new Plates(allSwatches(library)));
  let y = MARGIN;
  heading(doc, 'H1', library.name, 'semibold', 18, y);
  y += HEADING + 8;
  for (const group of library.groups) {
    const loose = isLoose(library, group);
    if (group.swatches.length === 0 && loose) continue;
    const room = (height: number) => {
      if (y + height <= PAGE[1] - FOOT) return;
      doc.addPage();
      y = MARGIN;
    };
    room((loose ? 0 : HEADING) + (group.swatches.length > 0 ? CARD_HEIGHT : 0));
    if (!loose) {
      heading(doc, 'H2', group.name, 'semibold', 11, y + 4);
      y += HEADING;
    }
    group.swatches.forEach((swatch, i) => {
      const column = i % COLUMNS;
      if (column === 0) {
        if (i > 0) y += CARD_HEIGHT;
        room(CARD_HEIGHT);
      }
      card(doc, swatch, MARGIN + column * (CARD + GUTTER), y, paint(swatch), condition);
    });
    if (group.swatches.length > 0) y += CARD_HEIGHT;
  }
  const { count } = doc.bufferedPageRange();
  for (let i = 0; i < count; i++) {
    doc.switchToPage(i);
    doc.markContent('Artifact', { type: 'Pagination' });
    write(
      doc,
      `${library.name} · inks for ${condition.name}`,
      'regular',
      7,
      MARGIN,
      PAGE[1] - 28,
      PAGE[0] - 3 * MARGIN,
    );
    write(doc, `${i + 1} / ${count}`, 'mono', 7, PAGE[0] - MARGIN - 40, PAGE[1] - 28, 40, 'right');
    doc.endMarkedContent();
  }
}

function heading(doc: Document, tag: string, text: string, font: string, size: number, y: number): void {
  marked(doc, tag, text, () => write(doc, text, font, size, MARGIN, y, PAGE[0] - 2 * MARGIN));
}

function card(
  doc: Document,
  swatch: Swatch,
  x: number,
  y: number,
  paint: string,
  condition: Condition,
): void {
  doc.addContent(`q ${paint} ${short(x, 2)} ${short(y, 2)} ${short(CARD, 2)} ${CHIP} re f Q`);
  // white would vanish on the page
  if (toLab(swatch.color, condition)[0] > PALE)
    doc.addContent(`q 0 0 0 0.25 K 0.3 w ${short(x, 2)} ${short(y, 2)} ${short(CARD, 2)} ${CHIP} re S Q`);
  const { name, code, role, kind } = swatch;
  const line = (n: number) => y + CHIP + 5 + n * 10;
  marked(doc, 'Span', name, () =>
    write(doc, name || toHex(swatch.color, condition).toUpperCase(), 'semibold', 8, x, line(0), CARD),
  );
  const words = [kind === 'process' ? '' : kind, code ?? '', role ?? ''].filter(Boolean).join(' · ');
  if (code) marked(doc, 'Code', code);
  if (role) marked(doc, 'Role', role);
  write(doc, words, 'regular', 7, x, line(1), CARD);
  write(doc, authored(swatch.color), 'mono', 6.2, x, line(2), CARD);
  const lab = notations(swatch.color, condition).find((n) => n.id === 'lab')?.text ?? '';
  write(
    doc,
    swatch.color.space === 'lab' ? toHex(swatch.color, condition).toUpperCase() : `Lab ${lab}`,
    'mono',
    6.2,
    x,
    line(3) - 1,
    CARD,
  );
}

/** Content with its exact text behind it, for readers that take text out, and for the blind. */
function marked(doc: Document, tag: string, actual: string, draw?: () => void): void {
  let units = 'FEFF';
  for (let i = 0; i < actual.length; i++)
    units += actual.charCodeAt(i).toString(16).toUpperCase().padStart(4, '0');
  doc.addContent(`/${tag} <</ActualText <${units}>>> BDC`);
  draw?.();
  doc.addContent('EMC');
}

/** One line, cut to its width; letters the font does not have become question marks. */
function write(
  doc: Document,
  text: string,
  font: string,
  size: number,
  x: number,
  y: number,
  width: number,
  align = 'left',
): void {
  if (text.trim() === '') return;
  doc.font(font).fontSize(size).fillColor([0, 0, 0, 100]);
  const has = (c: string) => doc._font.font.hasGlyphForCodePoint(c.codePointAt(0)!);
  let shown = [...text.slice(0, 200)].map((c) => (/\s/.test(c) ? ' ' : has(c) ? c : '?')).join('');
  if (doc.widthOfString(shown) > width) {
    // halve the step until the longest beginning that fits is found
    let [fits, over] = [0, shown.length];
    while (over - fits > 1) {
      const middle = (fits + over) >> 1;
      if (doc.widthOfString(`${shown.slice(0, middle)}…`) <= width) fits = middle;
      else over = middle;
    }
    shown = `${shown.slice(0, fits).trimEnd()}…`;
  }
  doc.text(shown, x, y, { width: width + 4, lineBreak: false, align });
}

const numbers = (values: number[]) => values.map((v) => short(v, 8)).join(' ');
const inRange = (v: number) => Math.min(1, Math.max(0, v));

/** A PDF name: characters outside the regular ones as `#` and two hex digits of their UTF-8 bytes. */
const pdfName = (text: string) =>
  [...new TextEncoder().encode(text.toWellFormed())]
    .map((b) =>
      b > 32 && b < 127 && !'#/%()<>[]{}'.includes(String.fromCharCode(b))
        ? String.fromCharCode(b)
        : `#${b.toString(16).padStart(2, '0')}`,
    )
    .join('');

/** Gives the operators that set a swatch's colour on the current page. */
function painter(doc: Document, condition: Condition, plates: Plates): (swatch: Swatch) => string {
  const made = new Map<string, ReturnType<Document['ref']>>();
  const inks = new Map<string, string>();
  const spaceOf = (key: string, definition: () => unknown) => {
    let ref = made.get(key);
    if (!ref) {
      ref = doc.ref(definition());
      ref.end();
      made.set(key, ref);
    }
    return ref;
  };
  const icc = () =>
    spaceOf('sRGB', () => {
      const stream = doc.ref({ N: 3, Alternate: 'DeviceRGB' });
      stream.end(srgbProfile());
      return ['ICCBased', stream];
    });
  const lab = () =>
    spaceOf('Lab', () => ['Lab', { WhitePoint: [0.9642, 1, 0.8249], Range: [-128, 127, -128, 127] }]);
  const use = (id: string, ref: ReturnType<Document['ref']>) => {
    doc.page.colorSpaces[id] = ref;
    return `/${id} cs`;
  };
  const held = (color: Color) => carried(color, pdf.traits.spaces, condition);
  /** What the whole ink would be, if its tints lay on a straight line: so that this one looks as it does here. */
  const whole = (color: Color, part: number): Color => {
    const [L, a, b] = toLab(color, condition);
    const at = (from: number, v: number, least: number, most: number) =>
      Math.min(most, Math.max(least, from + (v - from) / part));
    return { space: 'lab', components: [at(100, L, 0, 100), at(0, a, -128, 127), at(0, b, -128, 127)] };
  };
  const process = (color: Color) => {
    const { space, components } = held(color);
    if (space === 'cmyk') return `${numbers(components.map(inRange))} k`;
    if (space === 'gray') return `${numbers(components.map(inRange))} g`;
    if (space === 'lab') return `${use('Lab', lab())} ${numbers(components)} scn`;
    return `${use('sRGB', icc())} ${numbers(components)} scn`;
  };
  const separation = (swatch: Swatch) => {
    const { tint } = swatch;
    const part = tint && tint.percent > 0 ? tint.percent / 100 : 1;
    // a tint is so much of its ink, on the ink's own plate
    const solid = tint && plates.inkNamed(tint.of);
    const name = tint ? plates.named(tint.of, swatch) : plates.of(swatch);
    const color = solid ? held(solid.color) : tint ? whole(swatch.color, part) : held(swatch.color);
    const key = `${name}\n${color.space} ${color.components}`;
    const ref = spaceOf(key, () => {
      const { space, components } = color;
      const [alternate, paper, ink] =
        space === 'cmyk'
          ? ['DeviceCMYK', [0, 0, 0, 0], components.map(inRange)]
          : space === 'gray'
            ? ['DeviceGray', [1], components.map(inRange)]
            : space === 'lab'
              ? [lab(), [100, 0, 0], components]
              : [icc(), [1, 1, 1], components.map(inRange)];
      return [
        'Separation',
        pdfName(name),
        alternate,
        { FunctionType: 2, Domain: [0, 1], C0: paper, C1: ink, N: 1 },
      ];
    });
    if (!inks.has(key)) inks.set(key, `Ink${inks.size}`);
    return `${use(inks.get(key)!, ref)} ${numbers([part])} scn`;
  };
  return (swatch) => (swatch.kind === 'process' ? process(swatch.color) : separation(swatch));
}
