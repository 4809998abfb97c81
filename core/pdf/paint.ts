import { type Color, type Condition, carried, SHIPPED, type Space, toLab } from '../color/index.ts';
import { joined } from '../join.ts';
import type { Swatch } from '../swatch/model.ts';
import { short } from '../text/text.ts';
import { srgbProfile } from './icc.ts';
import type { Plates } from './plates.ts';

// What all PDFs of ours have in common: how they begin, what their inks are for, and how a swatch is painted.

export type Document = InstanceType<typeof import('pdfkit').default>;
/** Spaces that a PDF can paint in. */
export const SPACES: readonly Space[] = ['rgb', 'cmyk', 'lab', 'gray'];

/** A document without fonts of its own, whose bytes are there at once. */
export function documentOf<Own extends Document>(
  Kit: new (options: Record<string, unknown>) => Own,
  options: Record<string, unknown> & { info: { Title: string; Creator?: string; Producer?: string } },
): { doc: Own; done(): Uint8Array<ArrayBuffer> } {
  const chunks: Uint8Array[] = [];
  class Collected extends (Kit as new (options: Record<string, unknown>) => Document) {
    // the library hands out its chunks in order, the first while it is made; a stream would only bring them later
    override push(chunk: Uint8Array | null): boolean {
      if (chunk) chunks.push(chunk);
      return true;
    }
  }
  const doc = new Collected({
    margin: 0,
    compress: false,
    // without it, a font that every reader has of its own would be asked for
    font: null,
    lang: 'en-GB',
    ...options,
    info: { Creator: 'Papillon', Producer: 'Papillon', CreationDate: new Date(0), ...options.info },
  });
  return {
    doc: doc as unknown as Own,
    done() {
      doc.end();
      return joined(chunks);
    },
  };
}

/** Says what its inks are for: the print condition by its registered name (PDF 32000-1, 14.11.5), where it has one. */
export function intend(doc: Document, { setting, name }: Condition): void {
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
  doc._root.data.OutputIntents = [intent];
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
export function painter(doc: Document, condition: Condition, plates: Plates): (swatch: Swatch) => string {
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
  const held = (color: Color) => carried(color, SPACES, condition);
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
