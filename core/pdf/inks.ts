import type * as Pdf from '@cantoo/pdf-lib';
import { type Color, type Condition, type Lab, toLab } from '../color/index.ts';
import type { Swatch } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';
import { PdfCoverage } from './coverage.ts';
import { loadPdf, sound, soundly } from './load.ts';
import { PdfObjects } from './objects.ts';
import { PROCESS } from './plates.ts';
import { appended, refuseEncrypted, WHOLE } from './save.ts';

// The inks of a PDF, read and changed without touching anything else. Colour spaces: ISO 32000-1, 8.6; what else describes
// inks (MixingHints, SpectralData of output intents): ISO 32000-2, 8.6.6.5 and 14.11.5.

/** Reserved names: all plates, and none. */
const NO_INK = new Set(['All', 'None']);
/** Points in mm, to the hundredth. */
const toMm = (points: number) => Math.round((points * 2540) / 72) / 100;

export interface PdfPage {
  /** Of its trim, or else of its crop and media, mm. */
  width: number;
  height: number;
  unit: 'mm';
}

export interface PdfInk {
  name: string;
  kind: 'process' | 'spot' | 'technical';
  /** What stands for the solid where its ink is not: the authored color; null where its function cannot be read. */
  alternate: Color | null;
  /** The same, D50 and 2°, under the condition; null likewise. */
  lab: Lab | null;
  /** 0 transparent – 1 opaque (MixingHints, Solidities); null where it is not said. */
  solidity: number | null;
  /** A measurement travels with it (SpectralData). */
  spectral: boolean;
  /** How many colour spaces use it. */
  places: number;
}

export interface PdfFacts {
  version: string;
  /** “PDF/X-4”, where it says so. */
  conformance: string | null;
  pages: PdfPage[];
  outputIntent: { name: string; profile: boolean } | null;
  /** Fonts that are named and do not travel along. */
  missingFonts: string[];
  warnings: string[];
}

/** Names that machines look for: lines that are cut, folded or varnished, and not printed. */
const TECHNICAL =
  /^(?:cut(?:ting)?|cut ?contour|through ?cut|kiss ?cut|die(?: ?cut| ?line)?|crease|creasing|fold|perf(?:oration)?|varnish|white|braille|emboss(?:ing)?|glue|stanze|rillen)\b/i;

/** What an ink is by its name. */
export const kindOfInk = (name: string): PdfInk['kind'] =>
  PROCESS.includes(name) ? 'process' : TECHNICAL.test(name) ? 'technical' : 'spot';

/** More objects than any file of 200 MB has. */
const MAX_OBJECTS = 5_000_000;

/** A colour space with inks, and the object that has to be written again when it changes. */
interface Place {
  array: Pdf.PDFArray;
  owner: Pdf.PDFRef;
  names: (string | null)[];
}

/** A PDF whose inks are read and changed. Changes are kept until {@link save}, which writes them behind the old file. */
export class PdfInks extends PdfObjects {
  private readonly places: Place[] = [];
  /** Dictionaries whose keys or values are names of inks, by what they are. */
  private readonly attributes: { dict: Pdf.PDFDict; owner: Pdf.PDFRef }[] = [];
  private readonly changed = new Set<Pdf.PDFRef>();
  private readonly warnings: string[] = [];

  private constructor(
    lib: typeof Pdf,
    private readonly document: Pdf.PDFDocument,
    private readonly bytes: Uint8Array,
  ) {
    super(lib, document.context);
  }

  /**
   * @param breathe called from time to time with the progress; throws to cancel
   * @throws FormatError when it does not open
   */
  static async open(
    bytes: Uint8Array,
    breathe: (done: number, of: number) => Promise<void> = async () => undefined,
  ): Promise<PdfInks> {
    const lib = await import('@cantoo/pdf-lib');
    const document = await loadPdf(lib, bytes, true);
    return sound(async () => {
      const pdf = new PdfInks(lib, document, bytes);
      await pdf.look(breathe);
      return pdf;
    });
  }

  /** Finds every colour space with inks and everything that says something of inks, in one walk over all objects. */
  private async look(breathe: (done: number, of: number) => Promise<void>): Promise<void> {
    const all = this.context.enumerateIndirectObjects();
    const acts = new Set<string>();
    let walked = 0;
    for (const [i, [owner, root]] of all.entries()) {
      if (i % 500 === 0) await breathe(i, all.length);
      const open: Pdf.PDFObject[] = [root];
      for (let object = open.pop(); object; object = open.pop()) {
        if (++walked > MAX_OBJECTS)
          throw new FormatError('the PDF has more objects than can be looked through.');
        // what is referred to has its own turn
        if (object instanceof this.lib.PDFRef) continue;
        if (object instanceof this.lib.PDFArray) {
          const names = object.size() >= 4 ? this.inkNames(object) : null;
          if (names) this.places.push({ array: object, owner, names });
          open.push(...object.asArray());
        } else if (object instanceof this.lib.PDFDict || object instanceof this.lib.PDFStream) {
          const dict = object instanceof this.lib.PDFDict ? object : object.dict;
          if (INK_DICTS.some((key) => dict.has(this.lib.PDFName.of(key))))
            this.attributes.push({ dict, owner });
          const act = this.nameOf(dict.get(this.lib.PDFName.of('S')));
          if (act && ACTS[act]) acts.add(ACTS[act]);
          open.push(...dict.values());
        }
      }
    }
    for (const act of acts)
      this.warnings.push(`It has ${act}, which Papillon does not follow and leaves as it is.`);
  }

  facts(): PdfFacts {
    return soundly(() => this.readFacts());
  }

  private readFacts(): PdfFacts {
    const { catalog } = this.document;
    const intent = this.intent();
    const version = this.nameOf(catalog.get(this.lib.PDFName.of('Version')));
    const info = this.dictOf(this.context.trailerInfo.Info);
    const text = (o: Pdf.PDFObject | undefined) =>
      o instanceof this.lib.PDFString || o instanceof this.lib.PDFHexString ? o.decodeText() : null;
    const missing = new Set<string>();
    for (const [, object] of this.context.enumerateIndirectObjects()) {
      const dict = this.dictOf(object);
      if (this.nameOf(this.get(dict, 'Type')) !== 'FontDescriptor') continue;
      if (!['FontFile', 'FontFile2', 'FontFile3'].some((k) => this.get(dict, k)))
        missing.add(this.nameOf(this.get(dict, 'FontName')) ?? 'a font without a name');
    }
    const xmp = new TextDecoder().decode(this.streamBytes(catalog.get(this.lib.PDFName.of('Metadata'))));
    const conformance =
      text(this.get(info, 'GTS_PDFXVersion')) ??
      /GTS_PDFXVersion(?:>|=")([^<"]{1,40})/.exec(xmp)?.[1] ??
      null;
    return {
      version:
        version ??
        /%PDF-(\d\.\d)/.exec(new TextDecoder('latin1').decode(this.bytes.subarray(0, 1024)))?.[1] ??
        '1.0',
      conformance,
      pages: this.document.getPages().map((page) => {
        const { width, height } = this.boxOf(page);
        return { width: toMm(width), height: toMm(height), unit: 'mm' };
      }),
      outputIntent: intent && {
        name: text(this.get(intent, 'OutputConditionIdentifier')) ?? text(this.get(intent, 'Info')) ?? '',
        profile: this.get(intent, 'DestOutputProfile') !== undefined,
      },
      missingFonts: [...missing],
      warnings: [...this.warnings],
    };
  }

  /** The trim of a page, turned as it is shown. */
  private boxOf(page: Pdf.PDFPage): { width: number; height: number } {
    const { width, height } = page.getTrimBox();
    return page.getRotation().angle % 180 === 0 ? { width, height } : { width: height, height: width };
  }

  /** The output intent for printing, or the first there is. */
  private intent(): Pdf.PDFDict | null {
    const list = this.objects.list(this.document.catalog.get(this.lib.PDFName.of('OutputIntents')));
    const all = list.flatMap((o) => this.dictOf(o) ?? []);
    return all.find((d) => this.nameOf(this.get(d, 'S')) === 'GTS_PDFX') ?? all[0] ?? null;
  }

  /** The profile of the output intent; null where there is none. */
  profile(): Uint8Array | null {
    const bytes = this.streamBytes(this.get(this.intent(), 'DestOutputProfile'));
    return bytes.length > 0 ? bytes : null;
  }

  /** All inks in printing order where the file gives one; process inks first otherwise, then spots in the order of their objects. */
  inks(condition: Condition): PdfInk[] {
    return soundly(() => this.readInks(condition));
  }

  private readInks(condition: Condition): PdfInk[] {
    const found = new Map<string, PdfInk>();
    const spectral = this.dictOf(this.get(this.intent(), 'SpectralData'));
    const solidities = this.hints('Solidities');
    const put = (name: string, alternate: Color | null) => {
      const known = found.get(name);
      if (known) {
        known.places++;
        if (known.alternate || !alternate) return;
      }
      found.set(name, {
        name,
        kind: kindOfInk(name),
        alternate,
        lab: alternate && toLab(alternate, condition),
        solidity: solidities.get(name) ?? null,
        spectral: spectral !== null && this.keyOf(spectral, name) !== null,
        places: known?.places ?? 1,
      });
    };
    // a separation of its own says more of an ink than a mixture does
    for (const { array, names } of [...this.places].sort((a, b) => a.names.length - b.names.length)) {
      const tinted = this.tinted(array);
      names.forEach((name, which) => {
        if (name === null || NO_INK.has(name)) return;
        put(name, tinted?.(names.map((_, i) => (i === which ? 1 : 0))) ?? null);
      });
    }
    if (this.hasProcess())
      for (const [i, name] of PROCESS.entries()) if (!found.has(name)) put(name, processColor(i));
    const order = this.order();
    const rank = ({ name, kind }: PdfInk) => {
      const at = order.indexOf(name);
      return at >= 0 ? at : order.length + (kind === 'process' ? PROCESS.indexOf(name) : PROCESS.length);
    };
    return [...found.values()].sort((a, b) => rank(a) - rank(b));
  }

  /**
   * The part of each page that each ink covers, 0–1, by its name; text is estimated.
   *
   * @param breathe as in {@link PdfInks.open}
   * @returns with the pages what could not be counted
   */
  async coverage(
    condition: Condition,
    breathe: (done: number, of: number) => Promise<void> = async () => undefined,
  ): Promise<{ pages: Map<string, number>[]; passed: string[] }> {
    const counting = new PdfCoverage(this.lib, this.context, condition);
    const pages: Map<string, number>[] = [];
    const all = soundly(() => this.document.getPages());
    for (const [i, page] of all.entries()) {
      await breathe(i, all.length);
      pages.push(soundly(() => counting.page(page, page.getTrimBox())));
    }
    return { pages, passed: [...counting.passed] };
  }

  /** Whether anything is painted in CMYK: by an operator, or a space that says so. */
  private hasProcess(): boolean {
    for (const page of this.document.getPages()) {
      const contents = this.at(page.node.get(this.lib.PDFName.of('Contents')));
      const streams = contents instanceof this.lib.PDFArray ? contents.asArray() : [contents];
      for (const stream of streams) {
        if (PAINTS_CMYK.test(this.textOf(stream))) return true;
      }
    }
    return this.context.enumerateIndirectObjects().some(([, o]) => {
      const dict = this.dictOf(o);
      if (this.nameOf(this.get(dict, 'ColorSpace')) === 'DeviceCMYK') return true;
      // forms are painted like pages
      return this.nameOf(this.get(dict, 'Subtype')) === 'Form' && PAINTS_CMYK.test(this.textOf(o));
    });
  }

  /** Numbers by ink that the hints of any colour space or output intent say. */
  private hints(which: 'Solidities'): Map<string, number> {
    const found = new Map<string, number>();
    for (const { dict } of this.attributes) {
      const hints = this.dictOf(this.get(dict, 'MixingHints'));
      const numbers = this.dictOf(this.get(hints, which));
      for (const [key, value] of numbers?.entries() ?? []) {
        const name = this.nameOf(key);
        const number = this.objects.number(value);
        if (name !== null && number !== null) found.set(name, number);
      }
    }
    return found;
  }

  /** The order in which inks are printed (MixingHints, PrintingOrder); empty where it is not said. */
  private order(): string[] {
    let longest: string[] = [];
    for (const { dict } of this.attributes) {
      const hints = this.dictOf(this.get(dict, 'MixingHints'));
      const names = this.objects.list(this.get(hints, 'PrintingOrder')).flatMap((n) => this.nameOf(n) ?? []);
      if (names.length > longest.length) longest = names;
    }
    return longest;
  }

  /** The key of a dictionary that is this name. */
  private keyOf(dict: Pdf.PDFDict, name: string): Pdf.PDFName | null {
    for (const key of dict.keys()) if (this.nameOf(key) === name) return key;
    return null;
  }

  /** @throws FormatError when it has no spot ink of that name */
  known(name: string): void {
    const names = new Set(this.places.flatMap((p) => p.names));
    if (names.has(name)) return;
    const there = [...names].filter((n) => n !== null && !NO_INK.has(n));
    throw new FormatError(
      PROCESS.includes(name)
        ? `“${name}” is a process ink, whose name every press knows. Spot inks can be renamed.`
        : `the PDF has no ink “${name}”. Its inks are ${there.length > 0 ? there.map((n) => `“${n}”`).join(', ') : 'no spot inks'}.`,
    );
  }

  /**
   * Gives an ink another name, wherever it stands: in every colour space, in the dictionaries that describe inks, and in the metadata.
   *
   * @throws FormatError when the ink is missing, or the new name is reserved or taken
   */
  rename(from: string, to: string): void {
    this.known(from);
    if (this.places.some((p) => p.names.includes(to)) || (PROCESS.includes(to) && !PROCESS.includes(from)))
      throw new FormatError(`there is an ink “${to}” already. Merge the two, or choose another name.`);
    this.replaceName(from, to);
  }

  /** Whether two inks are mixed with each other in one colour space. */
  areMixed(one: string, other: string): boolean {
    return one !== other && this.places.some((p) => p.names.includes(one) && p.names.includes(other));
  }

  /** Makes one ink of two: what was painted in the first is painted in the second. @throws FormatError when one of them is not there */
  merge(from: string, into: string): void {
    this.known(from);
    if (!PROCESS.includes(into)) this.known(into);
    if (from === into) throw new FormatError(`“${from}” is one ink already.`);
    if (this.areMixed(from, into))
      throw new FormatError(
        `“${from}” and “${into}” are mixed with each other in one colour space, which cannot have an ink twice. Convert that part in the program it was drawn in.`,
      );
    // what stands for the ink is that of the one it becomes
    const model = this.places.find((p) => p.names.length === 1 && p.names[0] === into);
    for (const place of this.places)
      if (model && place.names.length === 1 && place.names[0] === from) {
        place.array.set(2, model.array.get(2));
        place.array.set(3, model.array.get(3));
        this.changed.add(place.owner);
      }
    this.replaceName(from, into);
  }

  /** Takes an ink out of the colour spaces that had it, in which nothing is painted any more. */
  forget(name: string): void {
    // an ink of the name None is printed nowhere (8.6.6.4), and the spaces stay what content may still choose
    this.setName(name, this.lib.PDFName.of('None'), 'None');
    for (const { dict, owner } of this.attributes) {
      const colorants = this.dictOf(this.get(dict, 'Colorants'));
      const key = colorants && this.keyOf(colorants, name);
      if (!key) continue;
      colorants.delete(key);
      this.changed.add(this.context.getObjectRef(colorants) ?? owner);
    }
  }

  private replaceName(from: string, to: string): void {
    if (to.trim() === '' || NO_INK.has(to)) throw new FormatError(`“${to}” cannot be the name of an ink.`);
    const name = this.asName(to);
    this.setName(from, name, to);
    for (const { dict, owner } of this.attributes) this.renameIn(dict, owner, from, name);
    this.renameInMetadata(from, to);
  }

  /** Another name in all colour spaces. */
  private setName(from: string, name: Pdf.PDFName, to: string): void {
    for (const place of this.places) {
      if (!place.names.includes(from)) continue;
      if (this.nameOf(place.array.get(0)) === 'Separation') place.array.set(1, name);
      else {
        const list = this.at(place.array.get(1));
        if (list instanceof this.lib.PDFArray) {
          place.names.forEach((n, i) => {
            if (n === from) list.set(i, name);
          });
          const ref = place.array.get(1);
          if (ref instanceof this.lib.PDFRef) this.changed.add(ref);
        }
      }
      place.names = place.names.map((n) => (n === from ? to : n));
      this.changed.add(place.owner);
    }
  }

  /** Renames keys and names of inks in the dictionaries that describe them. */
  private renameIn(dict: Pdf.PDFDict, owner: Pdf.PDFRef, from: string, to: Pdf.PDFName): void {
    const inside = (key: string, base: Pdf.PDFDict | null): Pdf.PDFDict | null =>
      this.dictOf(this.get(base, key));
    const touch = (base: Pdf.PDFDict, key: string) => {
      const value = base.get(this.lib.PDFName.of(key));
      this.changed.add(value instanceof this.lib.PDFRef ? value : owner);
    };
    const keys = (base: Pdf.PDFDict | null, key: string) => {
      const found = inside(key, base);
      const old = found && this.keyOf(found, from);
      if (!base || !found || !old) return;
      const value = found.get(old);
      found.delete(old);
      if (value && !found.has(to)) found.set(to, value);
      touch(base, key);
    };
    const list = (base: Pdf.PDFDict | null, key: string) => {
      const found = this.at(base?.get(this.lib.PDFName.of(key)));
      if (!base || !(found instanceof this.lib.PDFArray)) return;
      found.asArray().forEach((n, i) => {
        if (this.nameOf(n) !== from) return;
        found.set(i, to);
        touch(base, key);
      });
    };
    keys(dict, 'Colorants');
    keys(dict, 'SpectralData');
    const hints = inside('MixingHints', dict);
    keys(hints, 'Solidities');
    keys(hints, 'DotGain');
    list(hints, 'PrintingOrder');
    list(inside('Process', dict), 'Components');
    const device = dict.get(this.lib.PDFName.of('DeviceColorant'));
    if (this.nameOf(device) === from) {
      dict.set(this.lib.PDFName.of('DeviceColorant'), to);
      this.changed.add(owner);
    }
    // a halftone of type 5 has one for each ink under its name (10.6.5.6)
    if (this.objects.number(this.get(dict, 'HalftoneType')) === 5) {
      const old = this.keyOf(dict, from);
      const value = old && dict.get(old);
      if (old && value) {
        dict.delete(old);
        dict.set(to, value);
        this.changed.add(owner);
      }
    }
  }

  /** Lists of plates and swatches in XMP. */
  private renameInMetadata(from: string, to: string): void {
    const escaped = (t: string) => t.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
    const key = this.lib.PDFName.of('Metadata');
    for (const [ref, object] of this.context.enumerateIndirectObjects()) {
      const dict = this.dictOf(object);
      const target = dict?.get(key);
      if (!dict || !target) continue;
      const text = new TextDecoder().decode(this.streamBytes(target));
      const next = text.replaceAll(`>${escaped(from)}<`, `>${escaped(to)}<`);
      if (next === text) continue;
      const stream = this.context.stream(new TextEncoder().encode(next), {
        Type: 'Metadata',
        Subtype: 'XML',
      });
      if (target instanceof this.lib.PDFRef) {
        this.context.assign(target, stream);
        this.changed.add(target);
      } else {
        dict.set(key, this.context.register(stream));
        this.changed.add(ref);
      }
    }
  }

  /** Replaces an ink with a swatch: its name, and what stands for it where its ink is not. @throws FormatError as {@link rename} */
  swap(from: string, swatch: Swatch, condition: Condition): void {
    this.known(from);
    if (swatch.name !== from) this.rename(from, swatch.name);
    const lab = toLab(swatch.color, condition);
    for (const place of this.places) {
      if (place.names.length !== 1 || place.names[0] !== swatch.name) continue;
      place.array.set(
        2,
        this.context.obj(['Lab', { WhitePoint: [0.9642, 1, 0.8249], Range: [-128, 127, -128, 127] }]),
      );
      place.array.set(
        3,
        this.context.obj({ FunctionType: 2, Domain: [0, 1], C0: [100, 0, 0], C1: lab.map(round), N: 1 }),
      );
      this.changed.add(place.owner);
    }
  }

  /** Says in which order the inks are printed, first to last (MixingHints, PrintingOrder). */
  setOrder(names: readonly string[]): void {
    for (const name of names) if (!PROCESS.includes(name)) this.known(name);
    const twice = names.find((n, i) => names.indexOf(n) !== i);
    if (twice) throw new FormatError(`“${twice}” stands twice in the order.`);
    const { dict, ref } = this.needIntent();
    const hints = this.dictOf(this.get(dict, 'MixingHints')) ?? this.context.obj({});
    hints.set(this.lib.PDFName.of('PrintingOrder'), this.context.obj(names.map((n) => this.asName(n))));
    dict.set(this.lib.PDFName.of('MixingHints'), hints);
    if (!this.attributes.some((a) => a.dict === dict)) this.attributes.push({ dict, owner: ref });
    this.changed.add(ref);
  }

  /** Says what the file is printed on, with the profile of that. @param profile ICC, of a press */
  setIntent(name: string, profile: Uint8Array): void {
    const { dict, ref } = this.needIntent();
    const { PDFName, PDFHexString } = this.lib;
    const text = PDFHexString.fromText(name);
    dict.set(PDFName.of('OutputConditionIdentifier'), text);
    dict.set(PDFName.of('Info'), text);
    dict.delete(PDFName.of('RegistryName'));
    const stream = this.context.flateStream(profile, { N: 4 });
    dict.set(PDFName.of('DestOutputProfile'), this.context.register(stream));
    this.changed.add(ref);
  }

  /** The measurement that travels with an ink, as CxF; null where there is none. */
  measurement(name: string): Uint8Array | null {
    const spectral = this.dictOf(this.get(this.intent(), 'SpectralData'));
    const key = spectral && this.keyOf(spectral, name);
    const bytes = key ? this.streamBytes(spectral.get(key)) : new Uint8Array();
    return bytes.length > 0 ? bytes : null;
  }

  /** Lets a measurement travel with an ink. @param cxf CxF/X-4 */
  embed(name: string, cxf: Uint8Array): void {
    this.known(name);
    const { dict, ref } = this.needIntent();
    const key = this.lib.PDFName.of('SpectralData');
    const spectral = this.dictOf(this.get(dict, 'SpectralData')) ?? this.context.obj({});
    const old = this.keyOf(spectral, name);
    if (old) spectral.delete(old);
    spectral.set(this.asName(name), this.context.register(this.context.flateStream(cxf)));
    const held = dict.get(key);
    if (held instanceof this.lib.PDFRef) this.changed.add(held);
    else dict.set(key, spectral);
    if (!this.attributes.some((a) => a.dict === dict)) this.attributes.push({ dict, owner: ref });
    this.changed.add(ref);
  }

  /** The output intent with the object that holds it; one is made where there is none. */
  private needIntent(): { dict: Pdf.PDFDict; ref: Pdf.PDFRef } {
    const known = this.intent();
    const { catalog } = this.document;
    const root = this.context.trailerInfo.Root as Pdf.PDFRef;
    if (!known) {
      const dict = this.context.obj({ Type: 'OutputIntent', S: 'GTS_PDFX' });
      dict.set(this.lib.PDFName.of('OutputConditionIdentifier'), this.lib.PDFString.of('Custom'));
      const ref = this.context.register(dict);
      catalog.set(this.lib.PDFName.of('OutputIntents'), this.context.obj([ref]));
      this.changed.add(root);
      return { dict, ref };
    }
    const own = this.context.getObjectRef(known);
    if (own) return { dict: known, ref: own };
    // it stands inside the list, or the catalog
    const list = catalog.get(this.lib.PDFName.of('OutputIntents'));
    return { dict: known, ref: list instanceof this.lib.PDFRef ? list : root };
  }

  /** Whether there is anything to save. */
  get isChanged(): boolean {
    return this.changed.size > 0;
  }

  /**
   * The old file, byte for byte, with the changed objects behind it.
   * @param fresh a new file instead, without what was there before
   * @throws FormatError for an encrypted file
   */
  async save(fresh = false): Promise<Uint8Array<ArrayBuffer>> {
    if (fresh) {
      refuseEncrypted(this.bytes);
      return sound(async () => (await this.document.save(WHOLE)) as Uint8Array<ArrayBuffer>);
    }
    if (!this.isChanged) return this.bytes.slice() as Uint8Array<ArrayBuffer>;
    return appended(this.document, this.bytes, [...this.changed]);
  }
}

/** Operators of a content stream that paint in CMYK (8.6.8). */
const PAINTS_CMYK = /(?:^|\s)(?:-?[\d.]+\s+){4}[kK](?:\s|$)|\/DeviceCMYK\s+(?:cs|CS)\b/;

/** Where names of inks stand beside colour spaces. */
const INK_DICTS = ['Colorants', 'MixingHints', 'Process', 'SpectralData', 'DeviceColorant', 'HalftoneType'];

/** What a file may ask a reader to do (12.6.4). */
const ACTS: Record<string, string> = {
  JavaScript: 'scripts',
  Launch: 'actions that start programs',
  GoToR: 'links to other files',
  ImportData: 'actions that fetch data',
  SubmitForm: 'forms that are sent',
};

const round = (v: number) => Math.round(v * 1000) / 1000;
const processColor = (i: number): Color => ({
  space: 'cmyk',
  components: [0, 1, 2, 3].map((k) => (k === i ? 1 : 0)),
});
