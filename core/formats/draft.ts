import {
  type Color,
  type ConditionSetting,
  hashOf,
  ProfileError,
  type ProfileInfo,
  readProfileHeader,
  SHIPPED_NAMES,
} from '../color/index.ts';
import type { Options } from '../options.ts';
import { type Board, boardAgain } from '../swatch/board.ts';
import { commentsFromFile, type FileComment } from '../swatch/comment-file.ts';
import { GRADIENT, type GradientData, MAX_STOPS, type Stop } from '../swatch/gradient.ts';
import { itemAgain } from '../swatch/items.ts';
import type { BookFacts, Group, Item, NewId, Swatch } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';
import { readText } from '../text/text.ts';
import { xmlText } from '../text/xml.ts';
import { type Decoded, PartlyRead, type PlainFormat } from './format.ts';

/** More swatches than any file has that was made for people. */
const MAX_SWATCHES = 150_000;
/** Longer than any name, and than what a library may hold. */
const MAX_TEXT_CHARACTERS = 100_000;
/** Of all names together: short files can name the same long thing often. */
const MAX_CHARACTERS = 64_000_000;
/** How often a decoder may look at a line, an entry or a shape, so that no file keeps it busy for ever. */
const MAX_STEPS = 400_000;
/** This many bad entries, and more than good ones, are not slips any more. */
const MAX_BAD_ENTRIES = 1000;
/** Nobody reads more of them. */
const MAX_WARNINGS = 50;

/** Where a swatch is from is known in the end; a field more by then takes longer than all the others together. */
const LATER = undefined as never;

/** A gradient as a file has it: stops with their own colors. */
export interface ReadGradient extends Omit<GradientData, 'stops'> {
  name: string;
  stops: readonly Omit<Stop, 'ref'>[];
}

/** A library while a decoder fills it, swatch by swatch in file order. */
export class Draft {
  name = '';
  note?: string;
  columns?: number;
  condition?: ConditionSetting;
  /** What the file says of itself as a book. */
  book?: BookFacts;
  /** Things beside swatches; they refer to them by their places, the first 0. */
  items: (Omit<Item, 'id' | 'refs'> & { refs?: number[] })[] = [];
  private readonly gradients: ReadGradient[] = [];
  private readonly warnings: string[] = [];
  /** SHA-256 of the profile that the file's inks are for, where it names one. */
  inks: string | null = null;
  private readonly profiles = new Map<string, Uint8Array<ArrayBuffer>>();
  /** How many swatches there are so far. */
  count = 0;
  private unsaid = 0;
  private steps = 0;
  private characters = 0;
  private readonly id: string;
  readonly loose: Group;
  private readonly groups: Group[] = [];
  private readonly byName = new Map<string, Group>();
  private open: Group;

  constructor(private readonly newId: NewId) {
    this.id = newId();
    this.loose = { id: newId(), name: '', swatches: [] };
    this.open = this.loose;
  }

  /** A limit is not a matter of one entry. */
  private full(message: string): FormatError {
    this.isFull = true;
    return new FormatError(message);
  }

  /** Counts what the decoder looks at. @throws FormatError when it is more than any sound file holds */
  step(n = 1): void {
    this.steps += n;
    if (this.steps > MAX_STEPS)
      throw this.full(
        'it holds more than any swatch file does, and was read no further. Take out what is not needed.',
      );
  }

  private text(text: string, what: string): void {
    this.characters += text.length;
    if (this.characters > MAX_CHARACTERS)
      throw this.full('its names together are longer than any swatch file is. It is damaged.');
    if (text.length > MAX_TEXT_CHARACTERS)
      throw this.full(
        `${what} “${text.slice(0, 30)}…” has ${text.length} characters; up to ${MAX_TEXT_CHARACTERS} can be kept. It is damaged, or must be shortened.`,
      );
  }

  /** Swatches that follow are of this new group, until {@link leave}; the same name again is another group. */
  enter(name: string): Group {
    this.step();
    this.text(name, 'the group');
    this.open = { id: this.newId(), name, swatches: [] };
    this.groups.push(this.open);
    return this.open;
  }

  /** Swatches that follow are in this group again, or in none. */
  leave(to: Group = this.loose): void {
    this.open = to;
  }

  /** Swatches that follow are of the first group of this name; without a name, of none. */
  into(name: string): void {
    if (name === '') this.leave();
    else if (this.byName.has(name)) this.leave(this.byName.get(name));
    else this.byName.set(name, this.enter(name));
  }
  add(swatch: Pick<Swatch, 'color'> & Partial<Omit<Swatch, 'id'>>): void {
    if (this.count >= MAX_SWATCHES)
      throw this.full(
        `it holds more than ${MAX_SWATCHES.toLocaleString('en')} colours, and was read no further. Divide it.`,
      );
    if (swatch.name) this.text(swatch.name, 'the name');
    this.count++;
    this.open.swatches.push({ id: this.newId(), name: '', kind: 'process', origin: LATER, ...swatch });
  }

  /** A gradient; its stops are tied to the swatches of the file that have their color. */
  addGradient(gradient: ReadGradient): void {
    this.step(gradient.stops.length);
    this.text(gradient.name, 'the gradient');
    if (gradient.stops.length > MAX_STOPS)
      this.warn(
        `The gradient “${gradient.name.slice(0, 80)}” has ${gradient.stops.length} stops; the first ${MAX_STOPS} were read.`,
      );
    this.gradients.push(gradient);
  }

  /** A board, which says what it shows by kind and place: `swatch 3`, `group 0`, `item 2`. @param groups of the file, in order */
  addBoard(board: Board, groups: Group[]): void {
    this.step(board.data.objects.length);
    this.text(board.name, 'the board');
    this.boards.push({ board, groups });
  }
  private readonly boards: { board: Board; groups: Group[] }[] = [];
  /** What people have written about it. */
  comments: readonly FileComment[] = [];

  private tied(ids: readonly string[]): Omit<Item, 'id'>[] {
    if (this.gradients.length === 0) return [];
    const key = (color: Color, alpha = 1) => JSON.stringify([color.space, color.components, alpha]);
    const known = new Map<string, string>();
    const swatches = [this.loose, ...this.groups].flatMap((g) => g.swatches);
    // the first of equals
    for (let i = swatches.length - 1; i >= 0; i--)
      known.set(key(swatches[i]!.color, swatches[i]!.alpha), ids[i]!);
    return this.gradients.map(({ name, stops, way, steps }) => {
      const refs: string[] = [];
      const own = stops.slice(0, MAX_STOPS).map(({ color, at, middle, alpha }): Stop => {
        const id = known.get(key(color, alpha)) ?? known.get(key(color));
        const rest = { color, at, ...(middle === undefined ? {} : { middle }) };
        if (!id) return { ...rest, ...(alpha === undefined ? {} : { alpha }) };
        const place = refs.indexOf(id);
        // a swatch that is as opaque says so itself
        const thin = alpha !== undefined && !known.has(key(color, alpha)) ? { alpha } : {};
        return { ref: place < 0 ? refs.push(id) - 1 : place, ...rest, ...thin };
      });
      const data: GradientData = { stops: own, way, ...(steps ? { steps } : {}) };
      return { kind: GRADIENT, name, refs, data };
    });
  }

  /**
   * Takes in a profile that the file brings, for colours to name. @returns what they name it by; null, and a warning, when it
   * is none or of another device
   * @param called what the file calls it
   */
  brings(bytes: Uint8Array, space: ProfileInfo['space'], called: string): string | null {
    try {
      if (readProfileHeader(bytes).space !== space)
        throw new ProfileError(`it is not for ${space.toUpperCase()}.`);
    } catch (error) {
      if (!(error instanceof ProfileError)) throw error;
      this.warn(`The profile “${called.slice(0, 80)}” in it was left out: ${error.message}`);
      return null;
    }
    const hash = hashOf(bytes);
    if (!this.profiles.has(hash)) {
      this.profiles.set(hash, new Uint8Array(bytes));
      this.warn(`Its colours are read through the profile it brings, “${called.slice(0, 80)}”.`);
    }
    return hash;
  }

  /**
   * Reads one entry of a list; one that is not sound is left out and reported, as one bad swatch is not a reason to refuse the others.
   * A file whose every entry is bad is not a file of its format, which {@link decoder} then says.
   */
  attempt(read: () => void): void {
    this.attempted++;
    const before = this.count;
    try {
      read();
    } catch (error) {
      if (!(error instanceof FormatError) || this.isFull) throw error;
      this.firstBad ??= error;
      // hardly anything of it is what it should be
      if (++this.bad > MAX_BAD_ENTRIES && this.bad > this.count) {
        this.isFull = true;
        throw this.firstBad;
      }
      if (this.count === before) this.warn(`Left out: ${error.message}`);
    }
  }
  /** How many entries have been read so, those left out included. */
  attempted = 0;
  /** Whether no entry has come yet. */
  get isEmpty(): boolean {
    return this.count === 0 && this.attempted === 0;
  }
  private firstBad: FormatError | null = null;
  private bad = 0;
  private isFull = false;

  /** @throws FormatError of the first bad entry, when there was no good one */
  private refuseAllBad(): void {
    if (this.firstBad && this.count === 0) throw this.firstBad;
  }

  warn(text: string): void {
    if (this.warnings.length < MAX_WARNINGS) this.warnings.push(text);
    else this.unsaid++;
  }

  /** Inks keep the profile the file names, wherever they go; the review says so. */
  private settleInks(): void {
    const profile = this.inks;
    if (!profile) return;
    const own = (color: Color): Color =>
      color.space === 'cmyk' && color.profile === undefined ? { ...color, profile } : color;
    let inks = 0;
    for (const { swatches } of [this.loose, ...this.groups])
      for (const swatch of swatches) {
        const color = own(swatch.color);
        if (color !== swatch.color) inks++;
        swatch.color = color;
        if (swatch.alternates) swatch.alternates = swatch.alternates.map(own);
      }
    if (inks > 0)
      this.warn(`Inks are read through ${SHIPPED_NAMES[profile] ?? 'the profile'} that the file names.`);
  }

  done(): Decoded {
    this.refuseAllBad();
    this.settleInks();
    const groups = [...this.groups];
    // a real group without a name must not be taken for the place of swatches in no group
    if (this.loose.swatches.length > 0 || groups.length === 0 || groups[0].name === '')
      groups.unshift(this.loose);
    const { id, name, note, columns, condition, book } = this;
    const ids =
      this.items.length + this.gradients.length + this.boards.length + this.comments.length > 0
        ? [this.loose, ...this.groups].flatMap((g) => g.swatches.map((s) => s.id))
        : [];
    const own = this.items.map(({ refs, ...item }) => {
      const again = itemAgain(
        { id: '', ...item, ...(refs ? { refs: refs.map(String) } : {}) },
        (at) => ids[Number(at)],
      );
      return again && { ...again, id: this.newId() };
    });
    const items: Item[] = own.flatMap((item) => item ?? []);
    const shown = [...own];
    const at = (ref: string, groups: readonly Group[]): string | undefined => {
      const [kind = '', place] = ref.split(' ');
      const n = Number(place);
      return { swatch: ids[n], group: groups[n]?.id, item: shown[n]?.id }[kind];
    };
    for (const { board, groups } of this.boards) {
      const again = boardAgain(board, (ref) => at(ref, groups));
      const made = again && { ...again, id: this.newId() };
      if (made) items.push(made);
      shown.push(made);
    }
    items.push(...commentsFromFile(this.comments, (on) => at(on, []), this.newId));
    for (const gradient of this.tied(ids)) items.push({ ...gradient, id: this.newId() });
    const warnings = this.unsaid > 0 ? [...this.warnings, `${this.unsaid} more of the kind.`] : this.warnings;
    return {
      library: {
        id,
        name,
        ...(note ? { note } : {}),
        ...(columns ? { columns } : {}),
        ...(condition ? { condition } : {}),
        ...(book ? { book } : {}),
        groups,
        ...(items.length > 0 ? { items } : {}),
      },
      warnings,
      ...(this.profiles.size > 0 ? { profiles: [...this.profiles.values()] } : {}),
    };
  }
}

/** An error with what was read before it, if anything was. */
const withSound = (error: unknown, draft: Draft): unknown =>
  error instanceof FormatError && draft.count > 0 ? new PartlyRead(error.message, draft.done()) : error;

/** Makes a format's `decode` from a function that fills a draft; what it filled before an error is kept with it. */
export function decoder(
  fill: (bytes: Uint8Array, draft: Draft, options?: Options) => void,
): PlainFormat['decode'] {
  return (bytes, newId, options) => {
    const draft = new Draft(newId);
    try {
      fill(bytes, draft, options);
    } catch (error) {
      throw withSound(error, draft);
    }
    return draft.done();
  };
}

/** {@link decoder} for what is read in its own time. */
export async function draftOf(newId: NewId, fill: (draft: Draft) => Promise<void>): Promise<Decoded> {
  const draft = new Draft(newId);
  try {
    await fill(draft);
  } catch (error) {
    throw withSound(error, draft);
  }
  return draft.done();
}

/**
 * {@link decoder} for formats that are text.
 * @param read takes the text out of the bytes, null when they are none
 */
export function textDecoder(
  fill: (text: string, draft: Draft, options?: Options) => void,
  read: (bytes: Uint8Array) => string | null = readText,
): PlainFormat['decode'] {
  return decoder((bytes, draft, options) => {
    const text = read(bytes);
    if (text === null) throw new FormatError('it is not text: binary data are in it. It is damaged.');
    fill(text.replace(/^\uFEFF/, ''), draft, options);
  });
}

/** {@link textDecoder} for formats that are XML. */
export const xmlDecoder = (fill: Parameters<typeof textDecoder>[0]) => textDecoder(fill, xmlText);
