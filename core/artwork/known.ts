import { type Condition, fromRgb8 } from '../color/index.ts';
import { type ArtworkItem, artworksOf, type Colorway, colorwaysOf } from '../swatch/colorway.ts';
import { allSwatches, type Library } from '../swatch/model.ts';
import { type ColorFacts, type Row, rowsIn } from './colorway.ts';

/** The colours of an artwork as a library knows them without its bytes: single parts are not told apart. */
export function knownColors({ data: { colors } }: ArtworkItem): ColorFacts[] {
  return colors.map(({ hex, name, parts, fills }, i) => {
    const n = Number.parseInt(hex.slice(1), 16);
    return {
      hex,
      color: fromRgb8(n >> 16, (n >> 8) & 255, n & 255),
      share: 0,
      names: name ? [name] : [],
      parts: Array.from({ length: Math.min(parts, 1) }, () => ({
        ...{ id: i, key: hex, name, layer: '', share: 0 },
        role: fills > 0 ? ('fill' as const) : ('stroke' as const),
      })),
    };
  });
}

/** An artwork in one of its colourways; null where it has none. */
export interface KnownWay {
  artwork: ArtworkItem;
  colorway: Colorway | null;
  rows: Row[];
}

/** All artwork of a library in all its colourways, as far as that is known without the bytes. */
export function knownWays(library: Library, condition: Condition): KnownWay[] {
  const artworks = artworksOf(library);
  if (artworks.length === 0) return [];
  const swatches = new Map(allSwatches(library).map((s) => [s.id, s]));
  const swatchOf = (id: string) => swatches.get(id);
  return artworks.flatMap((artwork) => {
    const colors = knownColors(artwork);
    const ways = colorwaysOf(library, artwork.id);
    return (ways.length > 0 ? ways : [null]).map((colorway) => ({
      artwork,
      colorway,
      rows: rowsIn(colors, colorway, swatchOf, condition),
    }));
  });
}

/** What a work in a colourway is called. */
export const wayName = ({ artwork, colorway }: Pick<KnownWay, 'artwork' | 'colorway'>): string =>
  colorway ? `${artwork.name}, ${colorway.name}` : artwork.name;
