import { carried, convert } from '../color/index.ts';
import { type Document, documentOf, intend, painter } from '../formats/pdf/paint.ts';
import { Plates } from '../formats/pdf/plates.ts';
import type { Lent } from '../formats/typesetting.ts';
import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import type { Assignment } from './assign.ts';
import { flattened } from './flat.ts';
import type { Artwork, ArtworkColor } from './parts.ts';

/** Points in a millimetre, and in a pixel of CSS. */
const POINTS = { mm: 72 / 25.4, px: 72 / 96 };

/** The colour that stands for the nth paint while the drawing is laid out; no drawing has so many. */
const standIn = (n: number) => `#${(n + 1).toString(16).padStart(6, '0')}`;
const PAINT = /^paint (\d+)$/;

/**
 * A drawing as PDF in its own size: process colours as inks through the print condition, every spot and technical swatch on a plate of its exact
 * name, tints as that part of their ink's. Technical inks are printed over what lies below (common practice, no source). In gradients spot
 * inks are mixed from process inks.
 *
 * @param library where the inks of tints are looked up
 * @returns the file, and what is not as the drawing has it, in words
 */
export async function artworkPdf(
  artwork: Artwork,
  assignments: readonly Assignment<ArtworkColor>[],
  library: Library,
  title: string,
  { condition, loadFont }: Pick<Lent, 'condition' | 'loadFont'>,
): Promise<{ bytes: Uint8Array<ArrayBuffer>; told: string[] }> {
  const [{ default: Kit }, { default: layOut }] = await Promise.all([
    import('pdfkit'),
    import('svg-to-pdfkit'),
  ]);
  const told: string[] = [];
  const inks = (swatch: Swatch): Swatch => ({
    ...swatch,
    color: carried(convert(swatch.color, 'cmyk', condition), ['cmyk'], condition),
  });

  // every colour gets a stand-in, which leads back to what it is painted with
  const swatches: Swatch[] = [];
  const changes = new Map<number, string>();
  let inGradients = false;
  for (const { from, color, swatch } of assignments) {
    const plain: Swatch = { id: '', name: '', kind: 'process', color };
    const own = swatch && swatch.kind !== 'process' ? swatch : inks(swatch ?? plain);
    for (const part of from.parts) {
      // a gradient has one space for all its stops
      const mixed = part.role === 'stop' && own.kind !== 'process';
      if (mixed) inGradients = true;
      const paint = mixed ? inks({ ...plain, color: own.color }) : own;
      let n = swatches.indexOf(paint);
      if (n < 0) n = swatches.push(paint) - 1;
      changes.set(part.id, standIn(n));
    }
  }
  if (inGradients) told.push('Spot inks in gradients are mixed from process inks.');
  const flat = flattened(artwork, changes);

  const { width, height, unit } = artwork.size;
  const size: [number, number] = [width * POINTS[unit], height * POINTS[unit]];
  if (unit === 'px') told.push('The drawing states pixels alone; 96 of them were taken for an inch.');
  const plates = new Plates([
    ...swatches.filter((s) => s.kind !== 'process'),
    ...allSwatches(library).filter((s) => s.kind !== 'process'),
  ]);
  const masked = /<(?:\w+:)?mask\b/.test(flat);
  if (masked) told.push('What is seen through masks is mixed in RGB.');

  class Plated extends (Kit as unknown as new (options: Record<string, unknown>) => Document) {
    /** Set when the document is there. */
    paintOf: ((swatch: Swatch) => string) | null = null;
    private readonly spaces: Record<string, unknown> = {};

    override ref(data?: unknown): ReturnType<Document['ref']> {
      const group = (data as { Group?: { CS?: string } } | undefined)?.Group;
      // what is mixed before it is laid down is of the inks it is printed with
      if (group?.CS === 'DeviceRGB' && !masked) group.CS = 'DeviceCMYK';
      const made = super.ref(data);
      // it has resources of its own, whose spaces nobody else fills in
      if (data === undefined) {
        const end = made.end.bind(made);
        const { data: resources } = made as unknown as { data: object };
        made.end = (more) => {
          if (this.mixed.has(made)) Object.assign(resources, { ColorSpace: { ...this.spaces } });
          end(more);
        };
        this.latest = made;
      }
      if (group && this.latest) this.mixed.add(this.latest);
      return made;
    }
    private latest: ReturnType<Document['ref']> | null = null;
    /** The resources of what is mixed before it is laid down. */
    private readonly mixed = new Set<unknown>();

    private ink(color: unknown, stroke: boolean): boolean {
      const n = typeof color === 'string' ? PAINT.exec(color)?.[1] : undefined;
      if (n === undefined || !this.paintOf) return false;
      const swatch = swatches[Number(n)]!;
      const page = this.page as unknown as { colorSpaces?: Record<string, unknown> };
      page.colorSpaces ??= {};
      const operators = this.paintOf(swatch);
      Object.assign(this.spaces, page.colorSpaces);
      this.addContent(stroke ? operators.replace(/\b(?:cs|scn|k|g)\b/g, (o) => o.toUpperCase()) : operators);
      this.printOver(swatch.kind === 'technical', stroke);
      return true;
    }

    /** Whether what follows is printed over what lies below, or in its place (ISO 32000-1, 8.6.7). */
    private printOver(over: boolean, stroke: boolean): void {
      if (!swatches.some((s) => s.kind === 'technical')) return;
      const name = `Over${over ? 1 : 0}${stroke ? 'S' : 'F'}`;
      const page = this.page as unknown as { ext_gstates: Record<string, unknown> };
      let state = this.states.get(name);
      if (!state) {
        state = this.ref({
          Type: 'ExtGState',
          OPM: 1,
          [stroke ? 'OP' : 'op']: over,
          ...(stroke ? { op: over } : {}),
        });
        state.end();
        this.states.set(name, state);
      }
      page.ext_gstates[name] = state;
      this.addContent(`/${name} gs`);
    }
    private readonly states = new Map<string, ReturnType<Document['ref']>>();

    override fillColor(color: number[] | string, opacity?: number): this {
      if (!this.ink(color, false)) return super.fillColor(color, opacity);
      return opacity === undefined ? this : this.fillOpacity(opacity);
    }
    override strokeColor(color: number[] | string, opacity?: number): this {
      if (!this.ink(color, true)) return super.strokeColor(color, opacity);
      return opacity === undefined ? this : this.strokeOpacity(opacity);
    }
  }

  // opacity needs 1.4 (ISO 32000-1, 11)
  const { doc, done } = documentOf(Plated, { size, pdfVersion: '1.6', info: { Title: title } });
  const page = doc.page as unknown as { dictionary: { data: Record<string, unknown> } };
  page.dictionary.data.TrimBox = [0, 0, ...size];
  intend(doc, condition);
  doc.paintOf = painter(doc, condition, plates);
  if (artwork.parts.some((p) => p.node.name === 'text' || p.node.name === 'tspan')) {
    for (const name of ['regular', 'semibold'] as const) doc.registerFont(name, await loadFont(name));
    told.push(
      'Text is set in the font that comes with Papillon; turn it into outlines first where its own is wanted.',
    );
  }
  const byStandIn = new Map(swatches.map((_, n) => [Number.parseInt(standIn(n).slice(1), 16), n]));
  const unknown = new Set<string>();
  layOut(doc, flat, 0, 0, {
    width: size[0],
    height: size[1],
    assumePt: false,
    precision: 6,
    colorCallback(paint) {
      if (!paint || !Array.isArray(paint[0])) return paint;
      const [[r = 0, g = 0, b = 0], opacity] = paint as [number[], number];
      const n = byStandIn.get((r << 16) | (g << 8) | b);
      if (n === undefined) return paint;
      const { color, kind } = swatches[n]!;
      // gradients want numbers, which a shape takes just as well
      return kind === 'process' ? [color.components.map((v) => v * 100), opacity] : [`paint ${n}`, opacity];
    },
    fontCallback: (_family, bold) => (bold ? 'semibold' : 'regular'),
    warningCallback: (text) => unknown.add(text),
  });
  if (unknown.size > 0)
    told.push(
      `Not laid out: ${[...unknown]
        .map((t) => t.replace(/^SVGElem\w+:\s*/, ''))
        .join('; ')
        .slice(0, 300)}.`,
    );
  return { bytes: done(), told };
}
