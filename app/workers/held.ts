import type { Library } from '#core/swatch/index';
import { type HoldQueries, type Piece, piecesOf } from '~/messages/pieces';
import type { Answers, WorkerClient } from './worker-client';

/** A library that a worker holds, and another one beside it. */
export class Held {
  private library: Library | null = null;
  against: Library | null = null;

  /** @throws Error where nothing has come yet */
  get whole(): Library {
    if (!this.library) throw new Error('There is no library here yet.');
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

/** The page's side: brings a worker what it is to hold, where it does not hold it yet. */
export class Bringer {
  private library: Library | null = null;
  private against: Library | null = null;
  private pieces = 0;

  constructor(private readonly ask: WorkerClient<HoldQueries>['ask']) {}

  /** Whether these are held. */
  has(library: Library, against: Library | null): boolean {
    return this.library === library && this.against === against;
  }

  /** @param isWanted asked between pieces @returns whether all of it is there */
  async bring(library: Library, against: Library | null, isWanted: () => boolean): Promise<boolean> {
    if (this.has(library, against)) return true;
    this.library = null;
    let pieces = 0;
    for (const piece of piecesOf(library, against)) {
      await this.ask('hold', piece);
      pieces++;
      // what comes in only in part is known, too
      this.pieces = Math.max(this.pieces, pieces);
      if (!isWanted()) return false;
    }
    for (let at = pieces; at < this.pieces; at++) void this.ask('release', { at });
    this.pieces = pieces;
    this.library = library;
    this.against = against;
    return true;
  }
}
