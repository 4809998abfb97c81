import type { Library } from '#core/swatch/index';
import { type HoldQueries, type Piece, piecesOf } from '~/messages/pieces';
import type { Answers } from './worker-client';

/** A library that a worker holds, and another one beside it. */
export class Held {
  private library: Library | null = null;
  against: Library | null = null;

  /** @throws Error where nothing has come yet */
  get whole(): Library {
    if (!this.library) throw new Error('The library has not arrived yet. Try again.');
    return this.library;
  }

  /** How the worker answers to what it is to hold. */
  readonly answers: Answers<HoldQueries> = {
    hold: ({ begin, add }: Piece) => {
      if (begin) {
        this.library = begin.library;
        this.against = begin.against;
      }
      const group = add && (add.to === 'library' ? this.library : this.against)?.groups[add.group];
      if (group) group.swatches = group.swatches.concat(add.swatches);
      return null;
    },
    release: () => null,
  };
}

/** The page's side: sends a worker the library to hold, unless it holds it already. */
export class LibrarySender {
  private library: Library | null = null;
  private against: Library | null = null;
  private pieces = 0;

  /** @param hold @param release ask the worker so */
  constructor(
    private readonly hold: (piece: Piece) => Promise<unknown>,
    private readonly release: (piece: Pick<Piece, 'at'>) => Promise<unknown>,
  ) {}

  /** Whether these are held. */
  has(library: Library, against: Library | null): boolean {
    return this.library === library && this.against === against;
  }

  /** @param isWanted asked between pieces @returns whether all of it has arrived */
  async send(library: Library, against: Library | null, isWanted: () => boolean): Promise<boolean> {
    if (this.has(library, against)) return true;
    this.library = null;
    let pieces = 0;
    for (const piece of piecesOf(library, against)) {
      await this.hold(piece);
      pieces++;
      // what comes in only in part is known, too
      this.pieces = Math.max(this.pieces, pieces);
      if (!isWanted()) return false;
    }
    for (let at = pieces; at < this.pieces; at++) void this.release({ at });
    this.pieces = pieces;
    this.library = library;
    this.against = against;
    return true;
  }
}
