import type { Library, Swatch } from '#core/swatch/index';

/** A piece of what a worker is to hold. It travels in pieces, so that the page is never held up by it. */
export interface Piece {
  /** Its place in the row of pieces. */
  at: number;
  /** The first brings both without their swatches, and takes the place of what was there. */
  begin?: { library: Library; against: Library | null };
  /** The others bring swatches to the end of a group, told by its place. */
  add?: { to: 'library' | 'against'; group: number; swatches: Swatch[] };
}

/** What a worker that holds a library is asked beside its work. */
export type HoldQueries = {
  hold: { ask: Piece; answer: null };
  /** A piece is of no use any more; only whoever would bring a new worker up to date has to know. */
  release: { ask: Pick<Piece, 'at'>; answer: null };
};

const AT_ONCE = 1000;

/** A library, and another one beside it, in pieces. */
export function* piecesOf(library: Library, against: Library | null): Generator<Piece> {
  const bare = (l: Library): Library => ({ ...l, groups: l.groups.map((g) => ({ ...g, swatches: [] })) });
  let at = 0;
  yield { at: at++, begin: { library: bare(library), against: against && bare(against) } };
  for (const [to, from] of [
    ['library', library],
    ['against', against],
  ] as const)
    for (const [group, { swatches }] of (from?.groups ?? []).entries())
      for (let i = 0; i < swatches.length; i += AT_ONCE)
        yield { at: at++, add: { to, group, swatches: swatches.slice(i, i + AT_ONCE) } };
}
