import type { Color } from '../color/model.ts';
import { isColor } from '../color/spaces.ts';
import type { Draft, Op } from './change.ts';
import { itemOps } from './item-ops.ts';
import type { Item, Library, NewId, Swatch } from './model.ts';
import type { LibraryRows } from './rows.ts';

export const ARTWORK = 'artwork';
export const COLORWAY = 'colorway';
const FORMS = ['drawing', 'picture', 'pages'] as const;

/** The duplicate of shapes as a line around them, for a machine. */
export interface Outline {
  id: string;
  /** The keys of the parts whose shapes it goes around, together. */
  of: string[];
  /** How far outside of them, mm; negative inside. */
  offset: number;
  /** Of the line, mm. */
  width: number;
  /** Which of the item's references it is painted with. */
  ref: number;
  /** What that was last, for when it is gone. */
  color: Color;
  name: string;
}

/** What is known of a piece of artwork; its bytes lie among the assets. */
export interface ArtworkData {
  /** SHA-256 of its bytes, cleaned. */
  asset: string;
  /** Shapes that are drawn, pixels of few flat colours, or the pages of a PDF. */
  form: (typeof FORMS)[number];
  parts: number;
  /** The largest of its colours: so much can be checked without its bytes. */
  colors: { hex: string; name: string; parts: number /** Of those, areas. */; fills: number }[];
  /** All that it has. */
  count: number;
  width: number;
  height: number;
  unit: 'mm' | 'px';
  /** What pixels are worth where it states nothing else: this many to an inch, or all its width in mm. */
  worth?: { ppi: number } | { width: number };
  outlines?: Outline[];
}

/** A piece of artwork of a library. It refers to the swatches of its outlines. */
export type ArtworkItem = Item & { kind: typeof ARTWORK; refs: string[]; data: ArtworkData };

/** What becomes of a colour of an artwork, or of one of its parts. */
export interface Link {
  /** Which of the item's references it is: the swatch says the color then. */
  ref?: number;
  /** Its own, and what its swatch was last. */
  color: Color;
  /** What its swatch was called last. */
  name?: string;
  /** The key of what it follows, whatever that is: it is “dyed to match”. */
  follows?: string;
  /** Added to the L* of what it follows, −100 – 100. */
  lighter?: number;
  /** It is not an area but a line as wide as a number of mm along its shape. */
  line?: number;
}

export interface ColorwayData {
  /** The id of the artwork's item. */
  artwork: string;
  /** By `#rrggbb` of the artwork, for all parts of that colour, or by the key of one part. */
  links: Record<string, Link>;
}

/** A set of colours for a piece of artwork. Recoloured swatches recolour it; it keeps the colors of such as are deleted, and is gone with its artwork. */
export type Colorway = Item & { kind: typeof COLORWAY; refs: string[]; data: ColorwayData };

/** This many of an artwork's colours are known without it. */
export const MAX_KNOWN_COLORS = 1000;
/** More links than an artwork has colours and parts that anybody recolours one by one. */
const MAX_LINKS = 5000;
export const MAX_OUTLINE_MM = 100;

const isSound = (link: Partial<Link> | null) =>
  !!link &&
  isColor(link.color) &&
  (link.line === undefined || (link.line > 0 && link.line <= MAX_OUTLINE_MM));

/** What may come from another program or version is looked into before it is used. */
export function isColorway(item: Item): item is Colorway {
  if (item.kind !== COLORWAY || !Array.isArray(item.refs)) return false;
  const { artwork, links } = (item.data ?? {}) as Partial<ColorwayData>;
  if (typeof artwork !== 'string' || typeof links !== 'object' || links === null) return false;
  const all = Object.values(links);
  return all.length <= MAX_LINKS && all.every(isSound);
}

export function isArtwork(item: Item): item is ArtworkItem {
  if (item.kind !== ARTWORK || !Array.isArray(item.refs)) return false;
  const { asset, form, width, height, colors, outlines = [] } = (item.data ?? {}) as Partial<ArtworkData>;
  return (
    Array.isArray(colors) &&
    colors.length <= MAX_KNOWN_COLORS &&
    colors.every((c) => /^#[0-9a-f]{6}$/.test(c?.hex)) &&
    typeof asset === 'string' &&
    /^[0-9a-f]{64}$/.test(asset) &&
    FORMS.some((f) => f === form) &&
    typeof width === 'number' &&
    typeof height === 'number' &&
    Array.isArray(outlines) &&
    outlines.every((o) => o && Array.isArray(o.of) && isColor(o.color) && o.width > 0)
  );
}

export const artworksOf = ({ items = [] }: Pick<Library, 'items'>): ArtworkItem[] => items.filter(isArtwork);

/** The colourways of a piece of artwork. */
export const colorwaysOf = ({ items = [] }: Pick<Library, 'items'>, artwork: string): Colorway[] =>
  items.filter(isColorway).filter((c) => c.data.artwork === artwork);

/** What a colour is to become: one thing, as it is wished. */
export type Wish =
  | { swatch: Swatch; line?: number | undefined }
  | { color: Color; line?: number | undefined }
  | { follows: string; lighter?: number; color: Color };

/** Links with others in place of some; null takes one away. Every swatch is referred to once. */
export function withLinks(
  { refs, data }: Pick<Colorway, 'refs' | 'data'>,
  wishes: Readonly<Record<string, Wish | null>>,
): { refs: string[]; data: ColorwayData } {
  const kept: string[] = [];
  const place = (id: string) => {
    const at = kept.indexOf(id);
    return at >= 0 ? at : kept.push(id) - 1;
  };
  const links: Record<string, Link> = {};
  for (const [key, { ref, ...link }] of Object.entries(data.links))
    if (!(key in wishes)) {
      const id = ref === undefined ? undefined : refs[ref];
      links[key] = id === undefined ? link : { ...link, ref: place(id) };
    }
  for (const [key, wish] of Object.entries(wishes)) {
    if (!wish) continue;
    if ('swatch' in wish) {
      const { swatch, line } = wish;
      links[key] = {
        ref: place(swatch.id),
        color: swatch.color,
        name: swatch.name,
        ...(line ? { line } : {}),
      };
    } else if ('follows' in wish) {
      const { follows, lighter, color } = wish;
      links[key] = { color, follows, ...(lighter ? { lighter } : {}) };
    } else links[key] = { color: wish.color, ...(wish.line ? { line: wish.line } : {}) };
  }
  return { refs: kept, data: { ...data, links } };
}

/** A copy under other references: a link whose swatch does not come along keeps its color. */
export function colorwayAgain<T>(
  { refs, data }: Pick<Colorway, 'refs' | 'data'>,
  to: (id: string) => T | undefined,
): { refs: T[]; data: ColorwayData } {
  const kept: T[] = [];
  const places = refs.map((id) => {
    const there = to(id);
    return there === undefined ? undefined : kept.push(there) - 1;
  });
  const links = Object.fromEntries(
    Object.entries(data.links).map(([key, { ref, ...link }]): [string, Link] => {
      const place = ref === undefined ? undefined : places[ref];
      return [key, place === undefined ? link : { ...link, ref: place }];
    }),
  );
  return { refs: kept, data: { ...data, links } };
}

// --- edits

const put = (item: Item, fields: Partial<Item>): Op => ({ op: 'set', of: 'item', id: item.id, fields });
const drop = ({ id }: Item): Op => ({ op: 'drop', of: 'item', id });

export const addArtworks = (rows: LibraryRows, artworks: readonly ArtworkItem[]): Draft => ({
  label: artworks.length === 1 ? `add the artwork “${artworks[0]!.name}”` : `add ${artworks.length} artworks`,
  ops: itemOps(rows, artworks),
});

/** Takes a piece of artwork away, and its colourways with it. */
export const removeArtwork = ({ library }: LibraryRows, artwork: ArtworkItem): Draft => ({
  label: `take away the artwork “${artwork.name}”`,
  ops: [...colorwaysOf(library, artwork.id), artwork].map(drop),
});

export const setArtwork = (
  artwork: ArtworkItem,
  label: string,
  data: Partial<ArtworkData>,
  refs = artwork.refs,
): Draft => ({
  label: `${label} “${artwork.name}”`,
  ops: [put(artwork, { data: { ...artwork.data, ...data }, refs })],
});

/** Adds a line around shapes. */
export function addOutline(
  artwork: ArtworkItem,
  swatch: Swatch,
  { of, offset, width }: Pick<Outline, 'of' | 'offset' | 'width'>,
  newId: NewId,
): Draft {
  const at = artwork.refs.indexOf(swatch.id);
  const refs = at < 0 ? [...artwork.refs, swatch.id] : artwork.refs;
  const outline: Outline = {
    ...{ id: newId(), of, offset, width, ref: at < 0 ? refs.length - 1 : at },
    ...{ color: swatch.color, name: swatch.name },
  };
  const outlines = [...(artwork.data.outlines ?? []), outline];
  return setArtwork(artwork, `draw “${swatch.name}” around parts of`, { outlines }, refs);
}

export const removeOutline = (artwork: ArtworkItem, id: string): Draft =>
  setArtwork(artwork, 'take a line off', {
    outlines: artwork.data.outlines?.filter((o) => o.id !== id) ?? [],
  });

export const addColorways = (rows: LibraryRows, colorways: readonly Colorway[]): Draft => ({
  label:
    colorways.length === 1
      ? `add the colourway “${colorways[0]!.name}”`
      : `add ${colorways.length} colourways`,
  ops: itemOps(rows, colorways),
});

export const renameColorway = (colorway: Colorway, name: string): Draft => ({
  label: `rename the colourway “${colorway.name}”`,
  ops: [put(colorway, { name })],
});

export const removeColorway = (colorway: Colorway): Draft => ({
  label: `delete the colourway “${colorway.name}”`,
  ops: [drop(colorway)],
});

/** Sets what colours or parts become; null leaves one as it was drawn. */
export const setLinks = (
  colorway: Colorway,
  wishes: Readonly<Record<string, Wish | null>>,
  label: string,
): Draft => ({ label, ops: [put(colorway, withLinks(colorway, wishes))] });

/** The steps that keep, in colourways and outlines, the colors of swatches that are about to go. */
export function keptInArtwork(
  { items = [] }: Library,
  going: ReadonlySet<string>,
  swatchOf: (id: string) => Swatch | undefined,
): Op[] {
  const now = (refs: readonly string[], ref: number | undefined) => {
    const id = ref === undefined ? undefined : refs[ref];
    const swatch = id !== undefined && going.has(id) ? swatchOf(id) : undefined;
    return swatch ? { color: swatch.color, name: swatch.name } : {};
  };
  return items.flatMap((item): Op[] => {
    if (!item.refs?.some((id) => going.has(id))) return [];
    if (isColorway(item)) {
      const links = Object.fromEntries(
        Object.entries(item.data.links).map(([key, link]) => [key, { ...link, ...now(item.refs, link.ref) }]),
      );
      return [put(item, { data: { ...item.data, links } })];
    }
    if (!isArtwork(item)) return [];
    const outlines = item.data.outlines?.map((o) => ({ ...o, ...now(item.refs, o.ref) })) ?? [];
    return [put(item, { data: { ...item.data, outlines } })];
  });
}
