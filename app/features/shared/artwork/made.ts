import {
  type ArtworkFacts,
  type ArtworkSize,
  linesAround,
  ordersOf,
  type Row,
  trueSize,
} from '#core/artwork/index';
import type { Condition } from '#core/color/index';
import type { ArtworkItem, Swatch } from '#core/swatch/index';
import type { Made } from '~/messages/artwork-messages';

/** What an artwork is drawn with in a colourway. */
export function madeIn(
  artwork: ArtworkItem,
  facts: ArtworkFacts,
  rows: readonly Row[],
  swatchOf: (id: string) => Swatch | undefined,
  condition: Condition,
): Made {
  const outlines = linesAround(artwork, swatchOf, condition);
  const { page } = facts;
  return {
    ...{ orders: ordersOf(rows), outlines, size: sizeOf(artwork, facts) },
    ...(page === undefined ? {} : { page }),
  };
}

/** The size that goes out: what it states, or what its pixels were said to be worth. */
export const sizeOf = (artwork: ArtworkItem, facts: ArtworkFacts): ArtworkSize =>
  trueSize(facts.size, artwork.data.worth);
