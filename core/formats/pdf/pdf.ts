import { authored, type Condition, notations, toHex, toLab } from '../../color/index.ts';
import { optionOf } from '../../options.ts';
import { registerFonts, writeLine } from '../../pdf/letters.ts';
import { type Document, documentOf, intend, painter, SPACES } from '../../pdf/paint.ts';
import { Plates } from '../../pdf/plates.ts';
import { isPdf } from '../../pdf/sniff.ts';
import { asX4 } from '../../pdf/x4.ts';
import { allSwatches, isLoose, type Library, type Swatch, swatchLabel } from '../../swatch/model.ts';
import type { Face } from '../../text/fonts.ts';
import { short } from '../../text/text.ts';
import { decoder, draftOf } from '../draft.ts';
import type { Format } from '../format.ts';
import { readPdf } from './foreign.ts';
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
    spaces: [...SPACES],
    bits: 32,
  },

  options: [
    { id: 'x4', label: 'PDF/X-4, with the profile it is printed on', type: 'boolean', initial: false },
  ],

  // a few bytes may stand before it (ISO 32000-1, Annex H)
  recognise: (bytes) => (isPdf(bytes) ? 1 : 0),

  decode(bytes, newId, options) {
    // our own sheets say more than their separations do
    if (OWN.test(latin(bytes))) return ownSheet(bytes, newId, options);
    return draftOf(newId, (draft) => readPdf(bytes, draft));
  },

  async encode(library, services, options) {
    const { loadFont, condition } = services;
    const { default: Kit } = await import('pdfkit');
    const { doc, done } = documentOf(Kit, { size: PAGE, bufferPages: true, info: { Title: library.name } });
    await registerFonts(doc, loadFont, JSON.stringify(library));
    intend(doc, condition);
    drawSheet(doc, library, condition);
    if (!optionOf(pdf, options, 'x4')) return done();
    return asX4(done(), library.name, allSwatches(library), services);
  },
};

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
    writeLine(
      doc,
      `${library.name} · inks for ${condition.name}`,
      'regular',
      7,
      MARGIN,
      PAGE[1] - 28,
      PAGE[0] - 3 * MARGIN,
    );
    writeLine(doc, `${i + 1} / ${count}`, 'mono', 7, PAGE[0] - MARGIN - 40, PAGE[1] - 28, 40, 'right');
    doc.endMarkedContent();
  }
}

function heading(doc: Document, tag: string, text: string, font: Face, size: number, y: number): void {
  marked(doc, tag, text, () => writeLine(doc, text, font, size, MARGIN, y, PAGE[0] - 2 * MARGIN));
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
    writeLine(doc, swatchLabel(swatch, condition), 'semibold', 8, x, line(0), CARD),
  );
  const words = [kind === 'process' ? '' : kind, code ?? '', role ?? ''].filter(Boolean).join(' · ');
  if (code) marked(doc, 'Code', code);
  if (role) marked(doc, 'Role', role);
  writeLine(doc, words, 'regular', 7, x, line(1), CARD);
  writeLine(doc, authored(swatch.color), 'mono', 6.2, x, line(2), CARD);
  const lab = notations(swatch.color, condition).find((n) => n.id === 'lab')?.text ?? '';
  writeLine(
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
