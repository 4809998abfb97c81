import { createHash } from 'node:crypto';
import {
  artworkPdf,
  factsOf,
  knownOf,
  madeOf,
  ordersOf,
  pagesFacts,
  readArtwork,
  rowsIn,
} from '../../core/artwork/index.ts';
import { PdfArtwork } from '../../core/pdf/artwork.ts';
import type { Services } from '../../core/services.ts';
import {
  ARTWORK,
  type ArtworkItem,
  allSwatches,
  artworksOf,
  COLORWAY,
  type Colorway,
  colorwaysOf,
  type Item,
  type Library,
  type NewId,
  type Outline,
  type Swatch,
  type Wish,
  withLinks,
} from '../../core/swatch/index.ts';
import { deckPlate } from './deck-plate.ts';
import { scarf } from './scarf.ts';
import { timetable } from './timetable.ts';

/** A colour of a work, and the swatch it becomes by name; `follows` for one that follows another. */
type Links = Record<string, string | { follows: string; lighter?: number } | { line: string; width: number }>;

interface Work {
  name: string;
  svg: string;
  colorways: [name: string, Links][];
  /** A line around parts, by their ids. */
  around?: { parts: string[]; swatch: string; offset: number };
}

const WORKS: Work[] = [
  {
    name: 'crew-scarf.svg',
    svg: scarf(),
    around: { parts: ['cloth'], swatch: 'Cutting', offset: 4 },
    colorways: [
      [
        'Sand and navy',
        {
          '#d8cfae': 'First light',
          '#7c9e9f': 'Hull navy',
          '#2c4c80': 'Hull navy',
          '#c8102e': 'Boot-top red',
          '#f3ede0': 'Deckhouse',
          '#ffffff': 'Paper',
          '#d7a63c': 'Line gold',
          '#7b9d9d': { follows: '#7c9e9f' },
          '#5d8086': { follows: '#7c9e9f', lighter: 14 },
          '#a9bfb6': 'Sea fog',
        },
      ],
      [
        'Night',
        {
          '#d8cfae': 'Night water',
          '#7c9e9f': 'Boot-top red',
          '#2c4c80': 'Boot-top red',
          '#c8102e': 'Line gold',
          '#f3ede0': 'First light',
          '#ffffff': 'First light',
          '#d7a63c': 'Deckhouse',
          '#7b9d9d': { follows: '#7c9e9f' },
          '#5d8086': { follows: '#7c9e9f', lighter: 12 },
          '#a9bfb6': 'Grey teal',
        },
      ],
      [
        'Kelp',
        {
          '#d8cfae': 'Sea-green enamel',
          '#7c9e9f': 'Line gold',
          '#2c4c80': 'Hull navy',
          '#c8102e': 'Boot-top red',
          '#f3ede0': 'Deckhouse',
          '#ffffff': 'Paper',
          '#d7a63c': 'First light',
          '#7b9d9d': { follows: '#7c9e9f' },
          '#5d8086': { follows: '#7c9e9f', lighter: -14 },
          '#a9bfb6': 'Winter pier',
        },
      ],
    ],
  },
  {
    name: 'deck-plate.svg',
    svg: deckPlate(),
    around: { parts: ['ground'], swatch: 'Cutting', offset: 0.5 },
    colorways: [
      [
        'For the cutter',
        {
          '#bfbfbf': 'White',
          '#f2c14a': 'Summer only',
          '#b8252c': 'Boot-top red',
          '#1c2733': 'Ink',
          '#7a5bd0': { line: 'Creasing', width: 0.35 },
          '#ef6a18': { line: 'Cutting', width: 0.25 },
          '#f7f4ec': 'Deckhouse',
        },
      ],
    ],
  },
  {
    name: 'winter-timetable.svg',
    svg: timetable(),
    colorways: [
      ['As the map has it', { '#b3262b': 'North route', '#14304a': 'South route', '#2f7d6b': 'Night boat' }],
    ],
  },
];

interface WorkFile {
  name: string;
  mime: string;
  hash: string;
  bytes: Uint8Array;
}
const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** The works of the sample scenario as items of a library that has their swatches, and their files by SHA-256. */
export function sampleWorks(library: Library, newId: NewId): { items: Item[]; files: WorkFile[] } {
  const byName = new Map(allSwatches(library).map((s) => [s.name, s]));
  const swatch = (name: string): Swatch => {
    const found = byName.get(name);
    if (!found) throw new Error(`The sample library has no swatch “${name}”.`);
    return found;
  };
  const files: WorkFile[] = [];
  const items = WORKS.flatMap(({ name, svg, around, colorways }): Item[] => {
    const read = readArtwork(svg);
    const bytes = new TextEncoder().encode(read.text);
    const hash = hashOf(bytes);
    files.push({ name, mime: 'image/svg+xml', hash, bytes });
    const ink = around && swatch(around.swatch);
    const outline: Outline | undefined = around &&
      ink && {
        ...{ id: newId(), ref: 0, color: ink.color, name: ink.name, offset: around.offset, width: 0.25 },
        of: read.parts.filter((p) => around.parts.includes(p.name)).map((p) => p.key),
      };
    const artwork: ArtworkItem = {
      ...{ id: newId(), kind: ARTWORK, name },
      refs: ink ? [ink.id] : [],
      data: { ...knownOf(factsOf(read), hash), ...(outline ? { outlines: [outline] } : {}) },
    };
    const ways = colorways.map(([called, links]): Colorway => {
      const wishes = Object.fromEntries(
        Object.entries(links).map(([hex, to]): [string, Wish] => {
          if (typeof to === 'string') return [hex, { swatch: swatch(to) }];
          if ('line' in to) return [hex, { swatch: swatch(to.line), line: to.width }];
          const lead = links[to.follows];
          return [hex, { ...to, color: swatch(String(lead)).color }];
        }),
      );
      return {
        ...{ id: newId(), kind: COLORWAY, name: called },
        ...withLinks({ refs: [], data: { artwork: artwork.id, links: {} } }, wishes),
      };
    });
    return [artwork, ...ways];
  });
  return { items, files };
}

/** The scarf and the deck plate as a printer gets them: PDFs in their first colourways, with the inks of the library. */
export async function samplePdfs(
  library: Library,
  services: Services,
  newId: NewId,
): Promise<{ items: Item[]; files: WorkFile[] }> {
  const swatches = new Map(allSwatches(library).map((s) => [s.id, s]));
  const items: Item[] = [];
  const files: WorkFile[] = [];
  for (const item of artworksOf(library).slice(0, 2)) {
    const { svg } = WORKS.find((w) => w.name === item.name)!;
    const read = readArtwork(svg);
    const { colors } = factsOf(read);
    const [way = null] = colorwaysOf(library, item.id);
    const rows = rowsIn(colors, way, (id) => swatches.get(id), services.condition);
    const name = item.name.replace('.svg', '.pdf');
    const { bytes } = await artworkPdf([{ ...madeOf(read, ordersOf(rows)), name }], library, name, services);
    const hash = hashOf(bytes);
    const facts = pagesFacts(await PdfArtwork.open(bytes, services.condition));
    files.push({ name, mime: 'application/octet-stream', hash, bytes });
    items.push({ id: newId(), kind: ARTWORK, name, refs: [], data: knownOf(facts, hash) });
  }
  return { items, files };
}
