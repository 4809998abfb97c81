import type * as Pdf from '@cantoo/pdf-lib';
import { type Color, type Condition, convert, type Lab, toLab } from '../color/index.ts';
import { short } from '../text/text.ts';
import { PROCESS } from './plates.ts';
import { PdfSpaces } from './spaces.ts';

// Inks as they are written: alone, mixed, in gradients and in pictures.

/** A colour as it is written into a PDF: in a device's own space, or on a plate of its own. */
export type PdfColor = { space: 'gray' | 'rgb' | 'cmyk'; components: readonly number[] } | Tint | Mixed;

/** A part of an ink, 0–1, with what stands for all of it. */
export interface Tint {
  plate: string;
  tint: number;
  lab: Lab;
}
/** Several inks together, 0–1 each, with what stands for those that are not of every press. */
export interface Mixed {
  amounts: ReadonlyMap<string, number>;
  labs: ReadonlyMap<string, Lab>;
}

/** Inks as a color of a PDF, in as few of them as it takes. */
export function colorOfInks({ amounts, labs }: Mixed): PdfColor {
  const only = [...amounts.keys()].find((name) => !PROCESS.includes(name));
  if (only === undefined) return { space: 'cmyk', components: PROCESS.map((name) => amounts.get(name) ?? 0) };
  const lab = labs.get(only);
  const isAlone = [...amounts].every(([name, amount]) => name === only || amount === 0);
  return isAlone && lab ? { plate: only, tint: amounts.get(only)!, lab } : { amounts, labs };
}

/** What becomes of the inks of pictures that have one of them. */
export interface Reinking {
  ink: string;
  map(amounts: ReadonlyMap<string, number>): ReadonlyMap<string, number>;
  labs: ReadonlyMap<string, Lab>;
}

/** Makes the color spaces that inks are written in. */
export class InkSpaces extends PdfSpaces {
  /** Spaces of inks, one of each for the whole file. */
  private readonly inks = new Map<string, Pdf.PDFObject>();
  private readonly mixtures = new Map<string, Pdf.PDFObject>();

  constructor(
    lib: typeof Pdf,
    context: Pdf.PDFContext,
    /** How process colours are separated where they are mixed with other inks. */
    protected readonly condition: Condition,
  ) {
    super(lib, context);
  }

  /** The space of an ink: the file's own where it has one of that name, so that all of it looks alike. */
  protected ink({ plate, lab }: { plate: string; lab: Lab }): Pdf.PDFObject {
    const known = this.inks.get(plate);
    if (known) return known;
    const own = this.context
      .enumerateIndirectObjects()
      .find(
        ([, o]) =>
          o instanceof this.lib.PDFArray &&
          o.size() >= 4 &&
          this.nameOf(o.get(0)) === 'Separation' &&
          this.nameOf(o.get(1)) === plate,
      );
    const ref =
      own?.[0] ??
      this.context.register(
        this.context.obj([
          'Separation',
          this.asName(plate),
          LAB,
          { FunctionType: 2, Domain: [0, 1], C0: [100, 0, 0], C1: lab.map((v) => Number(short(v, 3))), N: 1 },
        ] as never),
      );
    this.inks.set(plate, ref);
    return ref;
  }

  /** A space that the colours of a gradient have in common, and their values in it. */
  protected mixed(
    colors: readonly (PdfColor | Color)[],
    old: readonly number[][],
    shading: Pdf.PDFDict,
    changed: readonly boolean[],
  ): { space: Pdf.PDFObject; values: number[][] } {
    const { condition } = this;
    const given = this.at(shading.get(this.lib.PDFName.of('ColorSpace')));
    const names = given instanceof this.lib.PDFArray ? this.inkNames(given) : null;
    const plates = new Map<string, Lab>();
    for (const color of colors) {
      if ('plate' in color) plates.set(color.plate, color.lab);
      if ('amounts' in color)
        for (const [name, lab] of color.labs) if (color.amounts.has(name)) plates.set(name, lab);
    }
    // what stays in its inks keeps them
    if (names && changed.includes(false))
      for (const name of names)
        if (name !== null && !PROCESS.includes(name) && name !== 'None' && !plates.has(name)) {
          const alone = this.tinted(given as Pdf.PDFArray)?.(names.map((n) => (n === name ? 1 : 0)));
          if (alone) plates.set(name, toLab(alone, condition));
        }
    const inksOf = (i: number): Map<string, number> => {
      const color = colors[i]!;
      if ('plate' in color) return new Map([[color.plate, color.tint]]);
      if ('amounts' in color) return new Map(color.amounts);
      if (!changed[i] && names) return new Map(names.map((n, k) => [n ?? '', old[i]![k] ?? 0]));
      const { components } = convert(asColor(color), 'cmyk', condition);
      return new Map(PROCESS.map((p, k) => [p, Math.min(1, Math.max(0, components[k]!))]));
    };
    if (plates.size === 0 && !(names && changed.includes(false))) {
      const isInked = colors.some((c) => 'space' in c && c.space === 'cmyk');
      const target = isInked ? 'cmyk' : 'rgb';
      return {
        space: this.lib.PDFName.of(isInked ? 'DeviceCMYK' : 'DeviceRGB'),
        values: colors.map((c) => [...convert(asColor(c as Color), target, condition).components]),
      };
    }
    const amounts = colors.map((_, i) => inksOf(i));
    const all = [...PROCESS.filter((p) => amounts.some((a) => (a.get(p) ?? 0) > 0)), ...plates.keys()];
    return {
      space: this.mixture(all, plates),
      values: amounts.map((a) => all.map((name) => a.get(name) ?? 0)),
    };
  }

  /** A space in which inks are mixed; what stands for them is what they are in process inks, one laid over the other. */
  protected mixture(names: readonly string[], plates: ReadonlyMap<string, Lab>): Pdf.PDFObject {
    const { condition } = this;
    const key = names.join('\n');
    const known = this.mixtures.get(key);
    if (known) return known;
    const parts = names.map((name) => {
      const lab = plates.get(name);
      if (!lab) return PROCESS.map((p) => (p === name ? 1 : 0));
      const { components } = convert({ space: 'lab', components: [...lab] }, 'cmyk', condition);
      return components.map((v) => Math.min(1, Math.max(0, v)));
    });
    // the amounts stay on the stack below what was made of them: 1 − ∏ (1 − t a)
    const n = names.length;
    const outputs = PROCESS.map((_, k) => {
      const factors = parts.map(
        (own, i) => `${n - 1 - i + k + 1} index ${short(own[k]!, 4)} mul 1 exch sub mul`,
      );
      return `1 ${factors.join(' ')} 1 exch sub`;
    });
    const program = `{ ${outputs.join(' ')} ${n + 4} 4 roll ${'pop '.repeat(n)}}`;
    const range = (count: number) => Array.from({ length: 2 * count }, (_, i) => i % 2);
    const tint = this.context.flateStream(program, { FunctionType: 4, Domain: range(n), Range: range(4) });
    const colorants = this.context.obj({});
    for (const [name, lab] of plates) colorants.set(this.asName(name), this.ink({ plate: name, lab }));
    const space = this.lib.PDFArray.withContext(this.context);
    space.push(this.lib.PDFName.of('DeviceN'));
    space.push(this.context.obj(names.map((name) => this.asName(name))));
    space.push(this.lib.PDFName.of('DeviceCMYK'));
    space.push(this.context.register(tint));
    const attributes = this.context.obj({});
    attributes.set(this.lib.PDFName.of('Colorants'), colorants);
    space.push(attributes);
    const made = this.context.register(space);
    this.mixtures.set(key, made);
    return made;
  }

  /** The pixels of a picture with a byte for each ink; none where they are packed in other ways. */
  protected plainPixels(picture: Pdf.PDFRawStream): Uint8Array {
    const filter = this.get(picture.dict, 'Filter');
    const filters = [filter, ...this.objects.list(filter)].map((f) => this.nameOf(f) ?? '');
    const bits = this.objects.number(this.get(picture.dict, 'BitsPerComponent'));
    const isPlain =
      bits === 8 &&
      this.numbers(this.get(picture.dict, 'Decode')).every((v, i) => v === i % 2) &&
      !filters.some((f) => OTHER_PICTURES.has(f));
    return isPlain ? this.streamBytes(picture) : new Uint8Array();
  }

  /** Amounts of inks, a byte each, as amounts of those they become. */
  protected reinkedBytes(
    bytes: Uint8Array,
    names: readonly string[],
    map: Reinking['map'],
  ): { next: string[]; made: Uint8Array } {
    // all inks that any of its values may become
    const full = map(new Map(names.map((n) => [n, 1])));
    const next = [...PROCESS.filter((p) => full.has(p)), ...full.keys()];
    const wanted = [...new Set(next)].filter((n) => n !== 'None');
    const count = Math.floor(bytes.length / names.length);
    const made = new Uint8Array(count * wanted.length);
    const seen = new Map<string, number[]>();
    for (let i = 0; i < count; i++) {
      const own = bytes.subarray(i * names.length, (i + 1) * names.length);
      const key = own.join();
      let values = seen.get(key);
      if (!values) {
        const becomes = map(new Map(names.map((n, k) => [n, own[k]! / 255])));
        values = wanted.map((n) => Math.round(255 * (becomes.get(n) ?? 0)));
        seen.set(key, values);
      }
      made.set(values, i * wanted.length);
    }
    return { next: wanted, made };
  }

  /** The space of one ink or several. */
  protected spaceOf(names: readonly string[], labs: ReadonlyMap<string, Lab>): Pdf.PDFObject {
    const [only = ''] = names;
    const lab = labs.get(only);
    return names.length === 1 && lab ? this.ink({ plate: only, lab }) : this.mixture(names, labs);
  }
}

const LAB = ['Lab', { WhitePoint: [0.9642, 1, 0.8249], Range: [-128, 127, -128, 127] }];
/** Pictures whose pixels are packed in ways that are not undone here. */
const OTHER_PICTURES = new Set(['DCTDecode', 'JPXDecode', 'JBIG2Decode', 'CCITTFaxDecode']);
const asColor = ({ space, components }: { space: Color['space']; components: readonly number[] }): Color => ({
  space,
  components: [...components],
});
