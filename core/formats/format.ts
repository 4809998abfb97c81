import type { Space } from '../color/index.ts';
import type { OptionDeclaration, Options } from '../options.ts';
import type { Services } from '../services.ts';
import type { Kind, Library, NewId } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';

/** What a format can hold. Papillon shows these; what really changes is found by writing and reading back. */
export interface Traits {
  read: boolean;
  write: boolean;
  names: boolean;
  groups: boolean;
  kinds: Kind[];
  /** Spaces whose numbers are carried; other colours are converted to the first of them. */
  spaces: Space[];
  /** All swatches of a file share one space: the one they have in common, else the first of {@link spaces}. */
  oneSpace?: true;
  /** Words have colours, too, which {@link Format.decode} takes only when asked. */
  text?: true;
  /** It holds gradients, and swatches only as what those lead through. */
  gradientsOnly?: true;
  /** It says how materials take the light. */
  surfaces?: true;
  /** Precision of one channel. */
  bits: number;
  /** The most swatches one file can hold. */
  most?: number;
}

export interface Decoded {
  /** As read; the name is empty when the format has none. */
  library: Library;
  /** Oddities that were read over, for the user to know. */
  warnings: string[];
  /** ICC profiles that came with it, which its colours name by their hash. */
  profiles?: Uint8Array<ArrayBuffer>[];
}

/** A file that is damaged after its beginning, for those who want what was read before the damage all the same. */
export class PartlyRead<Sound extends Decoded = Decoded> extends FormatError {
  constructor(
    message: string,
    readonly sound: Sound,
  ) {
    super(message);
  }
}

type Bytes = Uint8Array<ArrayBuffer>;

/** What is to be known of a file format without reading or writing one. */
export interface FormatFacts {
  /** Short, lower case, the same everywhere. */
  id: string;
  /** The common short name. */
  name: string;
  /** One line on what it is. */
  about: string;
  /** Usual file endings without the dot, the preferred first. Used for writing only. */
  endings: [string, ...string[]];
  mime: string;
  traits: Traits;
  /** What all its files have in common, where that tells why one was not recognised. */
  clue?: string;
  /**
   * It writes words that only Papillon understands; {@link Format.decode} with `asOthers` reads a file as somebody does who passes
   * over them.
   */
  ownWords?: true;
  /** What can be chosen on writing; every option has a sound initial value. */
  options?: OptionDeclaration[];
}

/** @throws FormatError for an unknown format */
export function withId<F extends FormatFacts>(formats: readonly F[], id: string): F {
  const format = formats.find((f) => f.id === id);
  if (!format)
    throw new FormatError(`unknown format “${id}”; choose one of ${formats.map((f) => f.id).join(', ')}.`);
  return format;
}

/** A file format as a declaration. Nothing outside its folder knows its bytes. */
export interface Format extends FormatFacts {
  /** How surely the bytes are of this format: 0 no, 1 certainly. Never looks at a file's name. */
  recognise(bytes: Uint8Array): number;
  /**
   * @param options `text`: take the colours of text too, where a drawing has some; `asOthers`: see {@link Format.ownWords}
   * @throws FormatError and nothing else.
   */
  decode(bytes: Uint8Array, newId: NewId, options?: Options): Decoded | Promise<Decoded>;
  /**
   * Swatches are written in library order; those over {@link Traits.most} are left out.
   * @param services the print condition under which colours become others, and type for formats that set some
   */
  encode(library: Library, services: Services, options?: Options): Bytes | Promise<Bytes>;
}

/** A format that sets no type, and needs nothing loaded to be read. */
export interface PlainFormat extends Format {
  decode(bytes: Uint8Array, newId: NewId, options?: Options): Decoded;
  encode(library: Library, services: Pick<Services, 'condition' | 'now'>, options?: Options): Bytes;
}
