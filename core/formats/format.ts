import type { Space } from '../color/index.ts';
import type { Kind, Library, NewId } from '../swatch/model.ts';

/** What a format can hold. Papillon shows these; what really changes is found by writing and reading back. */
export interface Traits {
  read: boolean;
  write: boolean;
  names: boolean;
  groups: boolean;
  kinds: Kind[];
  /** Spaces whose numbers are carried; other colours are converted to the first of them. */
  spaces: Space[];
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
}

/** A file format as a declaration. Nothing outside its folder knows its bytes. */
export interface Format {
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
  /** How surely the bytes are of this format: 0 no, 1 certainly. Never looks at a file's name. */
  recognise(bytes: Uint8Array): number;
  /** @throws FormatError and nothing else. */
  decode(bytes: Uint8Array, newId: NewId): Decoded;
  /** Swatches are written in library order; those over {@link Traits.most} are left out. */
  encode(library: Library): Uint8Array<ArrayBuffer>;
}

/** A file that is not what it should be. The message says what is wrong, where, and what to do if anything helps. */
export class FormatError extends Error {
  override name = 'FormatError';
}
